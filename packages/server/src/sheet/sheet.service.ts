import { Injectable } from '@nestjs/common';
import {
  AnswerIndex,
  candidatesFor,
  copyDemands,
  editsWithout,
  policyOf,
  requirementsByPackage,
  sheetRow,
  standRequirements,
  type Edit,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { BenchDto, SheetDto } from './sheet.dto.js';
import { toBenchDemand, toBenchRequirement, toCandidate, toRow } from './sheet.mapper.js';

@Injectable()
export class SheetService {
  sheet({ head, base }: Snapshot): SheetDto {
    return { commit: head.commit, rows: base.rows.map(toRow) };
  }

  /**
   * One package at its bench. Candidates are costed on top of the edits in hand, those about this
   * package left aside.
   * @throws Problem PACKAGE_UNKNOWN
   */
  bench(snapshot: Snapshot, name: string, edits: readonly Edit[]): BenchDto {
    const { base, head } = snapshot;
    const { workspace, records, lock, today } = base;
    const requirements =
      workspace === null ? undefined : requirementsByPackage(workspace).get(name);
    if (workspace === null || requirements === undefined) {
      throw new Problem(
        'PACKAGE_UNKNOWN',
        404,
        'Not required here',
        `No project of this workspace requires ${name}.`,
      );
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
      requirements: standing.map((one) => toBenchRequirement(base, releases, one)),
      demands: copyDemands(lock?.resolution ?? null, name).map((demand) =>
        toBenchDemand(demand, releases, policyOf(workspace.policy, name).prereleases),
      ),
      candidates: candidatesFor(base, others, workspace, row, standing).map(toCandidate),
    };
  }
}
