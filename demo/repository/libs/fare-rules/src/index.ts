import { cairnDates } from "cairn-dates";
import { areteValidate } from "arete-validate";

/** Ages, seasons, groups and their prices. */
export function start() {
  return [cairnDates, areteValidate];
}
