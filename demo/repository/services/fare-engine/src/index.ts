import { screeLog } from "scree-log";
import { firnstore } from "firnstore";
import { areteValidate } from "arete-validate";
import { cairnDates } from "cairn-dates";
import { tarnJson } from "tarn-json";
import { karstConfig } from "karst-config";
import { nunatakIds } from "nunatak-ids";
import { fareRules } from "fare-rules";

/** What a day on the mountain costs. */
export function start() {
  return [screeLog, firnstore, areteValidate, cairnDates, tarnJson, karstConfig, nunatakIds, fareRules];
}
