import { screeLog } from "scree-log";
import { cairnDates } from "cairn-dates";
import { firnstore } from "firnstore";
import { gendarmeAuth } from "gendarme-auth";
import { pitonhttp } from "pitonhttp";
import { areteValidate } from "arete-validate";
import { karstConfig } from "karst-config";

/** Who works where, and until when. */
export function start() {
  return [screeLog, cairnDates, firnstore, gendarmeAuth, pitonhttp, areteValidate, karstConfig];
}
