import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("avalanche-watch starts", () => start().length > 0);
