import { screeLog } from "scree-log";
import { firnstore } from "firnstore";
import { pitonhttp } from "pitonhttp";
import { areteValidate } from "arete-validate";
import { gendarmeAuth } from "gendarme-auth";
import { moraineCore } from "moraine-core";
import { moraineForms } from "moraine-forms";
import { moraineGrid } from "moraine-grid";
import { glacisRouter } from "glacis-router";
import { tarnJson } from "tarn-json";
import { penitentePdf } from "penitente-pdf";
import { yodelmarkText } from "yodelmark-text";
import { snowlineUnits } from "snowline-units/metric";
import { fareRules } from "fare-rules";
import { uiKit } from "ui-kit";

/** The ticket desk. */
export function start() {
  return [screeLog, firnstore, pitonhttp, areteValidate, gendarmeAuth, moraineCore, moraineForms, moraineGrid, glacisRouter, tarnJson, penitentePdf, yodelmarkText, snowlineUnits, fareRules, uiKit];
}
