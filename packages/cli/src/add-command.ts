import {
  type DraftBase,
  type Edit,
  type RequirementKind,
  loadPackages,
  nearestWord,
  releaseTermsOf,
  ReleaseTerms,
  type PackageRecords,
} from '@deep-ledger/core';
import { carryOut, type CarryOutOptions } from './carry-out.js';
import { EXIT } from './exit-codes.js';
import { loadBase } from './load-base.js';
import { namedProjects } from './named-projects.js';
import type { Output } from './output.js';
import { registrySource } from './registry-source.js';
import { splitWanted } from './split-wanted.js';

export interface AddOptions extends CarryOutOptions {
  /** Names or folders of projects. */
  readonly to: readonly string[];
  readonly kind: RequirementKind;
  /** Agree on the range for the whole workspace. */
  readonly shared?: true;
}

export interface RemoveOptions extends CarryOutOptions {
  /** Names or folders of projects. */
  readonly from: readonly string[];
}

/** Adds packages to projects. @param wanted `NAME` or `NAME@RANGE` @returns the exit code */
export async function addCommand(
  wanted: readonly string[],
  options: AddOptions,
  output: Output,
): Promise<number> {
  output.progress('reading manifests and registry');
  const base = await loadBase(options, output);
  const { workspace } = base;
  if (workspace === null) return carryOut(base, [], options, output);
  const projects = namedProjects(base.workspace!.projects, options.to, output);
  if (projects === null) return EXIT.unreadable;
  const names = wanted.map((one) => splitWanted(one).name);
  const records = await loadPackages(
    names,
    await registrySource(options, workspace, output.complain),
  );
  output.progress(null);
  const edits: Edit[] = [];
  for (const one of wanted) {
    const { name, range } = splitWanted(one);
    const agreed = workspace.agreements.has(name);
    const own = range ?? (agreed ? 'shared' : caretOf(base, records, name));
    if (own === null) {
      output.complain(`${whyNoRelease(base, records, name)} Nothing was written.`);
      return EXIT.unreadable;
    }
    const isShared = options.shared === true && own !== 'shared';
    if (isShared) edits.push({ kind: 'set-shared', package: name, range: own });
    const written = isShared ? 'shared' : own;
    edits.push({
      kind: 'add-requirement',
      package: name,
      range: written,
      as: options.kind,
      projects,
    });
  }
  return carryOut(base, edits, options, output);
}

/** Takes packages out of projects. @returns the exit code */
export async function removeCommand(
  names: readonly string[],
  options: RemoveOptions,
  output: Output,
): Promise<number> {
  output.progress('reading manifests and registry');
  const base = await loadBase(options, output);
  output.progress(null);
  if (base.workspace === null) return carryOut(base, [], options, output);
  const projects = namedProjects(base.workspace!.projects, options.from, output);
  if (projects === null) return EXIT.unreadable;
  const edits = names.map((name): Edit => ({
    kind: 'remove-requirement',
    package: name,
    projects,
  }));
  return carryOut(base, edits, options, output);
}

/** The range around the newest release that the workspace lets in; null: there is none. */
function caretOf(
  { workspace, today }: DraftBase,
  records: PackageRecords,
  name: string,
): string | null {
  const terms = new ReleaseTerms(releaseTermsOf(workspace!), today);
  const release = records
    .get(name)
    ?.releases.findLast(
      (one) =>
        one.version.prerelease.length === 0 && one.deprecated === null && terms.letsIn(name, one),
    );
  return release === undefined ? null : `^${release.text}`;
}

function whyNoRelease(
  { records: known }: DraftBase,
  records: PackageRecords,
  name: string,
): string {
  const record = records.get(name);
  if (record !== null && record !== undefined)
    return `${name} has ${record.releases.length} releases, and the workspace lets none of them in.`;
  const near = nearestWord(name, [...known.keys()]);
  return `The registry has no package ${name}.${near === null ? '' : ` Did you mean ${near}?`}`;
}
