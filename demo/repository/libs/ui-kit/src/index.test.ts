import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("ui-kit starts", () => start().length > 0);
