import { areteValidate } from "arete-validate";
import { nunatakIds } from "nunatak-ids";
import { tarnJson } from "tarn-json";
import { liftProtocol } from "lift-protocol";

/** Slopes, lifts and what lies between. */
export function start() {
  return [areteValidate, nunatakIds, tarnJson, liftProtocol];
}
