import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("radio-bridge starts", () => start().length > 0);
