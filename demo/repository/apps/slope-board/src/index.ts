import { screeLog } from "scree-log";
import { cairnDates } from "cairn-dates";
import { moraineCore } from "moraine-core";
import { moraineGrid } from "moraine-grid";
import { moraineCharts } from "moraine-charts";
import { pitonhttp } from "pitonhttp";
import { snowlineUnits } from "snowline-units";
import { pisteModel } from "piste-model";
import { uiKit } from "ui-kit";

/** The big display at the valley station. */
export function start() {
  return [screeLog, cairnDates, moraineCore, moraineGrid, moraineCharts, pitonhttp, snowlineUnits, pisteModel, uiKit];
}
