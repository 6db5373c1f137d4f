import { screeLog } from "scree-log";
import { cairnDates } from "cairn-dates";
import { firnstore } from "firnstore";
import { seracQueue } from "serac-queue";
import { kamesMetrics } from "kames-metrics";
import { windslabWorker } from "windslab-worker";
import { avalungGauge } from "avalung-gauge";
import { tarnJson } from "tarn-json";
import { pisteModel } from "piste-model";

/** Reads the slopes and warns. */
export function start() {
  return [screeLog, cairnDates, firnstore, seracQueue, kamesMetrics, windslabWorker, avalungGauge, tarnJson, pisteModel];
}
