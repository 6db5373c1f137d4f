import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("snow-report starts", () => start().length > 0);
