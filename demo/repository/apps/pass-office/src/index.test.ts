import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("pass-office starts", () => start().length > 0);
