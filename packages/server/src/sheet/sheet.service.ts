import { Injectable } from '@nestjs/common';
import {
  AnswerIndex,
  candidatesFor,
  editsWithout,
  requirementsByPackage,
  sheetRow,
  standRequirements,
  type Edit,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { BenchDto, SheetDto } from './sheet.dto.js';
import { toBenchRequirement, toCandidate, toRow } from './sheet.mapper.js';

@Injectable()
export class SheetService {
  sheet({ head, rows }: Snapshot): SheetDto {
    return { commit: head.commit, rows: rows.map(toRow) };
  }

  /**
   * One package at its bench. Candidates are costed on top of the edits in hand, those about this
   * package left aside.
   * @throws Problem PACKAGE_UNKNOWN
   */
  bench(snapshot: Snapshot, name: string, edits: readonly Edit[]): BenchDto {
    const { workspace, records, lock, today, files, head } = snapshot;
    const requirements = workspace === null ? undefined : requirementsByPackage(workspace).get(name);
    if (workspace === null || requirements === undefined) {
      throw new Problem('PACKAGE_UNKNOWN', 404, 'Not required here', `No project of this workspace requires ${name}.`);
    }
    const answers = new AnswerIndex(lock?.resolution ?? null);
    const standing = standRequirements(workspace, requirements, answers, today);
    const record = records.get(name) ?? null;
    const row = sheetRow(workspace, name, record, standing, answers);
    const onRail = new Set(row.releases.map(({ version }) => version));
    const releases = (record?.releases ?? []).filter(({ text }) => onRail.has(text));
    const others = editsWithout(edits, name);
    return {
      commit: head.commit,
      row: toRow(row),
      requirements: standing.map((one) => toBenchRequirement(snapshot, releases, one)),
      candidates: candidatesFor({ files, records, today }, others, workspace, row, standing).map(toCandidate),
    };
  }
}
