import { screeLog } from "scree-log";
import { cairnDates } from "cairn-dates";
import { moraineCore } from "moraine-core";
import { moraineGrid } from "moraine-grid";
import { moraineCharts } from "moraine-charts";
import { gendarmeAuth } from "gendarme-auth";
import { seracQueue } from "serac-queue";
import { pitonhttp } from "pitonhttp";
import { tarnJson } from "tarn-json";
import { drumlinMaps } from "drumlin-maps";
import { liftProtocol } from "lift-protocol";
import { pisteModel } from "piste-model";
import { uiKit } from "ui-kit";

/** Where rescue calls come in. */
export function start() {
  return [screeLog, cairnDates, moraineCore, moraineGrid, moraineCharts, gendarmeAuth, seracQueue, pitonhttp, tarnJson, drumlinMaps, liftProtocol, pisteModel, uiKit];
}
