import { Injectable } from '@nestjs/common';
import {
  editsWithoutLevel,
  levelEdits,
  levelInUse,
  levelUp,
  makeEdits,
  parseVersion,
  releasesAhead,
  ReleaseTerms,
  releaseTermsOf,
  versionProblemMessage,
  type DraftBase,
  type Edit,
  type Release,
  type Workspace,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import type { Snapshot } from '../workspaces/snapshot.js';

/** Edits that level packages. */
@Injectable()
export class LevelService {
  /**
   * @param edits of the draft that it is for; they are made first, such as an exception
   * @throws Problem VERSION_INVALID, RELEASE_UNKNOWN
   */
  at({ base }: Snapshot, edits: readonly Edit[], name: string, version: string): readonly Edit[] {
    const parsed = parseVersion(version);
    if (!parsed.ok)
      throw new Problem(
        'VERSION_INVALID',
        422,
        'Not a version',
        `"${version}": ${versionProblemMessage(parsed.problem)}.`,
      );
    const workspace = withEdits(base, editsWithoutLevel(edits, name));
    const releases = base.records.get(name)?.releases ?? [];
    if (workspace === null || !releases.some(({ text }) => text === version)) {
      throw new Problem(
        'RELEASE_UNKNOWN',
        422,
        'No such release',
        `The registry has no release ${name} ${version}.`,
      );
    }
    return levelEdits(workspace, name, version, base.today);
  }

  /**
   * Levels packages at what is agreed, or, where nothing is, at the newest version in use; or moves them up to the newest
   * release for which no project takes a major step.
   * @throws Problem PACKAGE_UNKNOWN, NOTHING_TO_LEVEL
   */
  many(
    { base }: Snapshot,
    before: readonly Edit[],
    packages: readonly string[],
    to: 'in-use' | 'newest',
  ): readonly Edit[] {
    const { rows, records, today } = base;
    const workspace = withEdits(base, before);
    if (workspace === null) throw unknownPackage(packages[0]!);
    const terms = new ReleaseTerms(releaseTermsOf(workspace), today);
    const edits = packages.flatMap((name): readonly Edit[] => {
      const row = rows.find((one) => one.name === name && one.usedBy > 0);
      if (row === undefined) throw unknownPackage(name);
      const ahead = (version: string): readonly Release[] =>
        releasesAhead(records.get(name) ?? null, version, terms);
      return to === 'newest'
        ? levelUp(workspace, row, ahead, today)
        : levelInUse(workspace, row, today);
    });
    if (edits.length > 0) return edits;
    throw new Problem(
      'NOTHING_TO_LEVEL',
      422,
      'Nothing to level',
      to === 'newest'
        ? 'No package among these has a newer release without a major step.'
        : 'None of these packages is out of line.',
    );
  }
}

function unknownPackage(name: string): Problem {
  return new Problem(
    'PACKAGE_UNKNOWN',
    404,
    'Not required here',
    `No project of this workspace requires ${name}.`,
  );
}

function withEdits(base: DraftBase, edits: readonly Edit[]): Workspace | null {
  return base.workspace === null ? null : makeEdits(base, base.workspace, edits).reading.workspace;
}
