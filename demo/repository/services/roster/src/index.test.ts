import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("roster starts", () => start().length > 0);
