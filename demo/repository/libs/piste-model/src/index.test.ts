import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("piste-model starts", () => start().length > 0);
