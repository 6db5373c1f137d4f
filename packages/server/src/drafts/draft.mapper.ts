import {
  describeEdit,
  draftMessage,
  fileDiff,
  type Edit,
  type Evaluation,
  type FileChange,
} from '@deep-ledger/core';
import { toChange } from '../sheet/sheet.mapper.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type {
  DraftDto,
  DraftEditDto,
  DraftSummaryDto,
  EvaluationDto,
  FileDiffDto,
} from './draft.dto.js';
import type { DraftEntity } from './draft.entity.js';

/** An evaluation that can be shown: everything the registry was asked for is there. */
export type SettledEvaluation = Exclude<Evaluation, { kind: 'ask' }>;

export function toDraftSummary({ id, name, edits, updatedAt }: DraftEntity): DraftSummaryDto {
  return { id, name, edits: edits.length, updatedAt: updatedAt.toISOString() };
}

export function toDraft(
  entity: DraftEntity,
  snapshot: Snapshot,
  evaluation: SettledEvaluation,
): DraftDto {
  const base = snapshot.head.commit;
  const problems = evaluation.kind === 'inapplicable' ? evaluation.problems : [];
  return {
    id: entity.id,
    name: entity.name,
    base,
    carriedFrom: entity.baseCommit === base ? null : entity.baseCommit,
    updatedAt: entity.updatedAt.toISOString(),
    edits: entity.edits.map((edit, i) => toDraftEdit(snapshot, edit, problems[i]?.message ?? null)),
    evaluation: toEvaluation(evaluation),
    message: draftMessage(snapshot.base.workspace, entity.edits),
  };
}

function toDraftEdit(
  { base: { workspace } }: Snapshot,
  edit: Edit,
  problem: string | null,
): DraftEditDto {
  const shown = edit.kind === 'take-shared' ? { ...edit, projects: [...edit.projects] } : edit;
  return { edit: shown, words: describeEdit(workspace, edit), problem };
}

function toEvaluation(evaluation: SettledEvaluation): EvaluationDto {
  const none: EvaluationDto = {
    kind: evaluation.kind,
    consequences: null,
    files: [],
    explanations: [],
    problems: [],
  };
  switch (evaluation.kind) {
    case 'inapplicable':
      return none;
    case 'unreadable':
      return {
        ...none,
        files: evaluation.changes.map(toFileDiff),
        problems: [...evaluation.problems],
      };
    case 'unanswered':
      return {
        ...none,
        files: evaluation.changes.map(toFileDiff),
        explanations: evaluation.explanations.map((list) => [...list]),
      };
    case 'answered': {
      const { outOfLine, copies, change, manifests, rows, sum, lockBefore } =
        evaluation.consequences;
      return {
        ...none,
        files: evaluation.changes.map(toFileDiff),
        consequences: {
          outOfLineBefore: outOfLine[0],
          outOfLineAfter: outOfLine[1],
          copiesBefore: copies[0],
          copiesAfter: copies[1],
          change: toChange(change),
          manifests,
          rows: [...rows],
          sum,
          lockBefore,
        },
      };
    }
  }
}

function toFileDiff({ path, before, after }: FileChange): FileDiffDto {
  const diff = fileDiff(path, before, after);
  return { ...diff, hunks: diff.hunks.map((lines) => ({ lines: [...lines] })) };
}
