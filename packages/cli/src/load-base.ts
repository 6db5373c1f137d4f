import {
  draftBase,
  loadPackages,
  readWorkspace,
  requiredPackages,
  type DraftBase,
} from '@deep-ledger/core';
import type { Output } from './output.js';
import { registrySource, type RegistryOptions } from './registry-source.js';
import { readWorkTree } from './work-tree.js';

export interface BaseOptions extends RegistryOptions {
  /** Folder of the work tree. */
  readonly in: string;
  /** YYYY-MM-DD: the last day whose releases count. */
  readonly asOf: string;
}

/** A work tree with the documents of all that it requires. Nothing is asked where it cannot be read. */
export async function loadBase(options: BaseOptions, output: Output): Promise<DraftBase> {
  const files = await readWorkTree(options.in, output.complain);
  const reading = readWorkspace(files);
  const { workspace } = reading;
  const records =
    workspace === null
      ? new Map()
      : await loadPackages(
          requiredPackages(workspace),
          await registrySource(options, workspace, output.complain),
        );
  return draftBase(files, records, options.asOf, reading);
}
