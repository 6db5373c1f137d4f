import { screeLog } from "scree-log";
import { cairnDates } from "cairn-dates";
import { moraineCore } from "moraine-core";
import { moraineForms } from "moraine-forms";
import { areteValidate } from "arete-validate";
import { pitonhttp } from "pitonhttp";
import { yodelmarkText } from "yodelmark-text";
import { fareRules } from "fare-rules";
import { uiKit } from "ui-kit";

/** The pass machine. Its image is old and changes once a year. */
export function start() {
  return [screeLog, cairnDates, moraineCore, moraineForms, areteValidate, pitonhttp, yodelmarkText, fareRules, uiKit];
}
