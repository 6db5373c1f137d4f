import { Injectable } from '@nestjs/common';
import {
  levelEdits,
  levelInUse,
  parseVersion,
  versionProblemMessage,
  type Edit,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import type { Snapshot } from '../workspaces/snapshot.js';

/** Edits that level packages. */
@Injectable()
export class LevelService {
  /** @throws Problem VERSION_INVALID, RELEASE_UNKNOWN */
  at(
    { base: { workspace, records, today } }: Snapshot,
    name: string,
    version: string,
  ): readonly Edit[] {
    const parsed = parseVersion(version);
    if (!parsed.ok)
      throw new Problem(
        'VERSION_INVALID',
        422,
        'Not a version',
        `"${version}": ${versionProblemMessage(parsed.problem)}.`,
      );
    if (workspace === null || !records.get(name)?.releases.some(({ text }) => text === version)) {
      throw new Problem(
        'RELEASE_UNKNOWN',
        422,
        'No such release',
        `The registry has no release ${name} ${version}.`,
      );
    }
    return levelEdits(workspace, name, version, today);
  }

  /**
   * Levels packages at what is agreed, or, where nothing is, at the newest version in use.
   * @throws Problem PACKAGE_UNKNOWN, NOTHING_TO_LEVEL
   */
  inUse({ base }: Snapshot, packages: readonly string[]): readonly Edit[] {
    const { workspace, rows, today } = base;
    const edits = packages.flatMap((name): readonly Edit[] => {
      const row = rows.find((one) => one.name === name && one.usedBy > 0);
      if (workspace === null || row === undefined) {
        throw new Problem(
          'PACKAGE_UNKNOWN',
          404,
          'Not required here',
          `No project of this workspace requires ${name}.`,
        );
      }
      return levelInUse(workspace, row, today);
    });
    if (edits.length > 0) return edits;
    throw new Problem(
      'NOTHING_TO_LEVEL',
      422,
      'Nothing to level',
      'None of these packages is out of line.',
    );
  }
}
