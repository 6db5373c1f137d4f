import { screeLog } from "scree-log";
import { firnstore } from "firnstore";
import { cairnDates } from "cairn-dates";
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
import { fareRules } from "fare-rules";
import { uiKit } from "ui-kit";

/** The ticket desk. */
export function start() {
  return [screeLog, firnstore, cairnDates, pitonhttp, areteValidate, gendarmeAuth, moraineCore, moraineForms, moraineGrid, glacisRouter, tarnJson, penitentePdf, yodelmarkText, fareRules, uiKit];
}
