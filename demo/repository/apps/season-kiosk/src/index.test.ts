import { talusTest } from "talus-test";
import { start } from "./index.js";

talusTest("season-kiosk starts", () => start().length > 0);
