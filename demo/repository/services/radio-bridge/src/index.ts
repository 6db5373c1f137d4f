import { screeLog } from "scree-log";
import { cairnDates } from "cairn-dates";
import { seracQueue } from "serac-queue";
import { moulinQueue } from "moulin-queue";
import { ropelineRpc } from "ropeline-rpc";
import { verglasTls } from "verglas-tls";
import { tarnJson } from "tarn-json";
import { liftProtocol } from "lift-protocol";

/** Between the radios of the patrol and the desk. */
export function start() {
  return [screeLog, cairnDates, seracQueue, moulinQueue, ropelineRpc, verglasTls, tarnJson, liftProtocol];
}
