import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("slope-board starts", () => start().length > 0);
