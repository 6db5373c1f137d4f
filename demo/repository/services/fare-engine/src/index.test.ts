import { talusTest } from "talus-test";
import { testBench } from "test-bench";
import { start } from "./index.js";

talusTest("fare-engine starts", () => start().length > 0, testBench);
