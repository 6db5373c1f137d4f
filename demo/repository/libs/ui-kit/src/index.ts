import { moraineCore } from "moraine-core";
import { moraineForms } from "moraine-forms";
import { glacisState } from "glacis-state";
import { sastrugiCss } from "sastrugi-css";

/** Buttons, fields and tables of all screens. */
export function start() {
  return [moraineCore, moraineForms, glacisState, sastrugiCss];
}
