import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("season-web starts", () => start().length > 0);
