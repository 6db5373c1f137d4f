import { Injectable } from '@nestjs/common';
import {
  ReleaseTerms,
  releaseTermsOf,
  AnswerIndex,
  copyDemands,
  projectSums,
  requirementsOn,
  alignmentRow,
  standRequirements,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type {
  AlignmentDto,
  AlignmentQuery,
  NamesDto,
  PackagePanelDto,
  Scope,
} from './alignment.dto.js';
import { toPanelDemand, toPanelRequirement, toRow } from './alignment.mapper.js';

/** How many projects must require a package of a scope. */
const LEAST_USED: Readonly<Record<Scope, number>> = { shared: 2, direct: 1, all: 0 };

@Injectable()
export class AlignmentService {
  /** The packages of a scope; without cells it is a fraction of the size. */
  rows(snapshot: Snapshot, { scope, cells }: AlignmentQuery): AlignmentDto {
    const { head, base } = snapshot;
    const indices = projectIndices(snapshot);
    const hasCells = cells === 'true';
    const shown = base.rows.filter(({ usedBy }) => usedBy >= LEAST_USED[scope]);
    return {
      commit: head.commit,
      scope,
      hasCells,
      packages: base.rows.length,
      projects: (base.workspace?.projects ?? []).map(({ folder, name }) => ({ folder, name })),
      rows: shown.map((row) => toRow(hasCells ? row : { ...row, cells: [] }, indices)),
    };
  }

  /** What packages and projects are called, and how each stands in a word: for lists to choose from. */
  names({ head, base: { workspace, rows } }: Snapshot): NamesDto {
    return {
      commit: head.commit,
      projects: workspace === null ? [] : projectSums(workspace, rows).map((sum) => ({ ...sum })),
      packages: rows.map(({ name, summary, agreed, off }) => ({ name, summary, agreed, off })),
    };
  }

  /**
   * One package in its panel: all that is asked of it.
   * @throws Problem PACKAGE_UNKNOWN
   */
  packagePanel(snapshot: Snapshot, name: string): PackagePanelDto {
    const { base, head } = snapshot;
    const { workspace, records, lock, today } = base;
    const answers = new AnswerIndex(lock?.resolution ?? null, name);
    const requirements = workspace === null ? [] : requirementsOn(workspace, name);
    if (workspace === null || (requirements.length === 0 && answers.copiesOf(name).length === 0)) {
      throw new Problem(
        'PACKAGE_UNKNOWN',
        404,
        'Not required here',
        `Neither a project of this workspace nor a copy in its lockfile requires ${name}.`,
      );
    }
    const standing = standRequirements(workspace, requirements, answers, today);
    const record = records.get(name) ?? null;
    const terms = new ReleaseTerms(releaseTermsOf(workspace), today);
    const row = alignmentRow(workspace, name, record, standing, answers, terms);
    const onRail = new Set(row.releases.map(({ version }) => version));
    const releases = (record?.releases ?? []).filter(({ text }) => onRail.has(text));
    return {
      commit: head.commit,
      modelKey: [head.commit, today, snapshot.registry.fingerprint, records.size].join(' '),
      row: toRow(row, projectIndices(snapshot)),
      requirements: standing.map((one) => toPanelRequirement(base, releases, one)),
      demands: copyDemands(lock?.resolution ?? null, name).map((demand) =>
        toPanelDemand(demand, releases, workspace.policy, name),
      ),
    };
  }
}

function projectIndices({ base: { workspace } }: Snapshot): ReadonlyMap<string, number> {
  return new Map((workspace?.projects ?? []).map(({ folder }, i) => [folder, i]));
}
