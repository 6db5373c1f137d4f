import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("fare-rules starts", () => start().length > 0);
