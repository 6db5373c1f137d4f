import { screeLog } from "scree-log";
import { firnstore } from "firnstore";
import { areteValidate } from "arete-validate";
import { gendarmeAuth } from "gendarme-auth";
import { pitonhttp } from "pitonhttp";
import { neveCache } from "neve-cache";
import { bivouacBoot } from "bivouac-boot";
import { karstConfig } from "karst-config";
import { seracQueue } from "serac-queue";
import { liftProtocol } from "lift-protocol";
import { fareRules } from "fare-rules";

/** Fast reading of passes, where the machine has it. */
export const native = await import("neve-native").catch(() => null);

/** Opens the gates, or does not. */
export function start() {
  return [screeLog, firnstore, areteValidate, gendarmeAuth, pitonhttp, neveCache, bivouacBoot, karstConfig, seracQueue, liftProtocol, fareRules];
}
