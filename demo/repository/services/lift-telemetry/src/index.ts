import { screeLog } from "scree-log";
import { tarnJson } from "tarn-json";
import { seracQueue } from "serac-queue";
import { kamesMetrics } from "kames-metrics";
import { ogiveTrace } from "ogive-trace";
import { firnstore } from "firnstore";
import { karstConfig } from "karst-config";
import { cairnDates } from "cairn-dates";
import { liftProtocol } from "lift-protocol";

/** Speed, wind and load of every cable. */
export function start() {
  return [screeLog, tarnJson, seracQueue, kamesMetrics, ogiveTrace, firnstore, karstConfig, cairnDates, liftProtocol];
}
