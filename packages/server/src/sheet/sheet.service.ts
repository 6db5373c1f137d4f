import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import {
  AnswerIndex,
  candidatesFor,
  copyDemands,
  editsWithout,
  policyOf,
  requirementsByPackage,
  sheetRow,
  standRequirements,
  type DraftBase,
  type Edit,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { BenchDto, SheetDto } from './sheet.dto.js';
import { toBenchDemand, toBenchRequirement, toCandidate, toRow } from './sheet.mapper.js';

@Injectable()
export class SheetService {
  /** Benches of a base, by package and edits. They go with the base, which is new whenever anything was read anew. */
  private readonly benches = new WeakMap<DraftBase, LRUCache<string, BenchDto>>();

  sheet({ head, base }: Snapshot): SheetDto {
    return { commit: head.commit, rows: base.rows.map(toRow) };
  }

  /**
   * One package at its bench. Candidates are costed on top of the edits in hand, those about this
   * package left aside.
   * @throws Problem PACKAGE_UNKNOWN
   */
  bench(snapshot: Snapshot, name: string, edits: readonly Edit[]): BenchDto {
    const others = editsWithout(edits, name);
    const benches = this.benches.get(snapshot.base) ?? new LRUCache<string, BenchDto>({ max: 100 });
    this.benches.set(snapshot.base, benches);
    const key = JSON.stringify([name, others]);
    const bench = benches.get(key) ?? this.costed(snapshot, name, others);
    benches.set(key, bench);
    return bench;
  }

  private costed(snapshot: Snapshot, name: string, others: readonly Edit[]): BenchDto {
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
