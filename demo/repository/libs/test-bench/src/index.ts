import { talusTest } from "talus-test";
import { screeLog } from "scree-log";
import { randkluftRand } from "randkluft-rand";
import { crevasseDiff } from "crevasse-diff";

/** Test data and a small mountain to try things on. */
export function start() {
  return [talusTest, screeLog, randkluftRand, crevasseDiff];
}
