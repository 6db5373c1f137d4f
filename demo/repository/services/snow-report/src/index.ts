import { screeLog } from "scree-log";
import { cairnDates } from "cairn-dates";
import { pitonhttp } from "pitonhttp";
import { firnstore } from "firnstore";
import { neveCache } from "neve-cache";
import { karstConfig } from "karst-config";
import { snowlineUnits } from "snowline-units";
import { tarnJson } from "tarn-json";
import { pisteModel } from "piste-model";

/** Depth, layers and what the night brought. */
export function start() {
  return [screeLog, cairnDates, pitonhttp, firnstore, neveCache, karstConfig, snowlineUnits, tarnJson, pisteModel];
}
