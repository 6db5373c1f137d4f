import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("dispatch-desk starts", () => start().length > 0);
