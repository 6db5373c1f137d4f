import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("lift-telemetry starts", () => start().length > 0);
