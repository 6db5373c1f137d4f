import { screeLog } from "scree-log";
import { cairnDates } from "cairn-dates";
import { moraineCore } from "moraine-core";
import { moraineForms } from "moraine-forms";
import { glacisRouter } from "glacis-router";
import { glacisState } from "glacis-state";
import { areteValidate } from "arete-validate";
import { pitonhttp } from "pitonhttp";
import { yodelmarkText } from "yodelmark-text";
import { whiteoutMask } from "whiteout-mask";
import { fareRules } from "fare-rules";
import { uiKit } from "ui-kit";

/** Passes and prices for guests at home. */
export function start() {
  return [screeLog, cairnDates, moraineCore, moraineForms, glacisRouter, glacisState, areteValidate, pitonhttp, yodelmarkText, whiteoutMask, fareRules, uiKit];
}
