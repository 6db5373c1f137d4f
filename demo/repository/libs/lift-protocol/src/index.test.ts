import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("lift-protocol starts", () => start().length > 0);
