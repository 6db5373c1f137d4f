import { tarnJson } from "tarn-json";
import { areteValidate } from "arete-validate";
import { graupelBuffer } from "graupel-buffer";
import { pisteModel } from "piste-model";

/** What lifts and desks say to each other. */
export function start() {
  return [tarnJson, areteValidate, graupelBuffer, pisteModel];
}
