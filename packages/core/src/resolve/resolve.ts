import type { PackageRecords } from '../registry/index.js';
import { Engine, type Question, type ResolveOutcome } from './engine.js';
import type { Watch } from './choose/settlement.js';

export interface ResolveInput extends Question {
  /** Records of all packages that can be reached; what is not there is asked for. */
  readonly records: PackageRecords;
}

/**
 * Answers all requirements of a workspace from nothing. A pure function of its input: no order in it
 * changes the result. For a row of questions over the same records, keep an `Engine`.
 */
export function resolve({ records, ...question }: ResolveInput, watch?: Watch): ResolveOutcome {
  return new Engine(records).resolve(question, watch);
}
