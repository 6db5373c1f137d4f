import {
  type AdoptedOutcome,
  type CauseFixes,
  describeEdit,
  draftMessage,
  type Edit,
  type FileChange,
  fileDiff,
  leftOutWords,
  type OpenTerms,
  type UnmetPeer,
} from '@deep-ledger/core';
import { accountOf, type Actor } from '../team/actor.js';
import { toExplainedChange } from '../lock/lock-change.mapper.js';
import type { Evaluated, SettledEvaluation } from './draft-evaluator.js';
import type {
  AdoptedDto,
  DraftDto,
  DraftSummaryDto,
  EntryDto,
  EvaluationDto,
  FileDiffDto,
  OpenTermsDto,
  UnmetPeerDto,
  SuggestedFixesDto,
} from './draft.dto.js';
import { editsOf, type DraftEntity, type DraftEntry } from './draft.entity.js';
import type { EditDto } from './edit.dto.js';

/** @param reader who asks */
export function toDraftSummary(draft: DraftEntity, reader: Actor): DraftSummaryDto {
  const { id, name, author, updatedAt } = draft;
  return {
    id,
    name,
    author,
    isMine: isOf(draft, reader),
    edits: editsOf(draft).length,
    updatedAt: updatedAt.toISOString(),
  };
}

/** The people who had a part in it, in order: first the one who began it. */
function isOf({ contributors }: DraftEntity, reader: Actor): boolean {
  return contributors[0] === accountOf(reader);
}

export function toDraft(
  entity: DraftEntity,
  { snapshot, evaluation, endOfAnswer, findings }: Evaluated,
  steps: { readonly canUndo: boolean; readonly canRedo: boolean },
  reader: Actor,
): DraftDto {
  const base = snapshot.head.commit;
  const { workspace } = snapshot.base;
  const problems = problemsByEntry(entity, evaluation);
  const counting = entity.entries.filter(({ isOut }) => !isOut);
  const ending = endOfAnswer === null ? null : counting[endOfAnswer];
  return {
    id: entity.id,
    name: entity.name,
    author: entity.author,
    isMine: isOf(entity, reader),
    revision: entity.revision,
    ...steps,
    base,
    carriedFrom: entity.baseCommit === base ? null : entity.baseCommit,
    updatedAt: entity.updatedAt.toISOString(),
    edits: entity.entries.map(({ edit, isOut }, i) => ({
      edit: toEdit(edit),
      isOut,
      words: describeEdit(workspace, edit),
      problem: problems[i] ?? null,
      leftOut: leftOutWords(workspace, edit),
      endsAnswer: entity.entries[i] === ending,
    })),
    evaluation: toEvaluation({ evaluation, findings }),
    message: draftMessage(
      workspace,
      editsOf(entity),
      entity.name,
      snapshot.base.unwritten.size > 0,
    ),
  };
}

/** Only edits that count were evaluated; the others have no problem. */
function problemsByEntry(
  { entries }: DraftEntity,
  evaluation: SettledEvaluation,
): readonly (string | null)[] {
  const messages = evaluation.kind === 'inapplicable' ? evaluation.problems : [];
  const counting = entries.filter(({ isOut }) => !isOut);
  return entries.map((entry) => messages[counting.indexOf(entry)] ?? null);
}

/** An edit as it was sent. Of a reversal only the commit counts: the rest is worked out from the repository. */
export function editFrom(edit: EditDto): Edit {
  switch (edit.kind) {
    case 'take-back':
      return { kind: edit.kind, commit: edit.commit, title: '', units: [], answers: [] };
    case 'accept-terms':
      return { kind: edit.kind, id: edit.id, title: edit.title, url: edit.url, by: '', on: '' };
    default:
      return edit;
  }
}

export function entriesFrom(entries: readonly EntryDto[]): readonly DraftEntry[] {
  return entries.map(({ edit, isOut }) => ({ edit: editFrom(edit), isOut }));
}

/** The same edit with lists that can be written to, as the classes of the interface have them. */
export function toEdit(edit: Edit): EditDto {
  return structuredClone(edit) as EditDto;
}

export function toSuggestedFixes({ about, ways }: CauseFixes): SuggestedFixesDto {
  return {
    about: [...about],
    ways: ways.map(({ sentence, edits }) => ({ sentence, edits: edits.map(toEdit) })),
  };
}

export function toEvaluation({
  evaluation,
  findings,
}: Pick<Evaluated, 'evaluation' | 'findings'>): EvaluationDto {
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
        explanations: evaluation.explanations.map((sentences) => [...sentences]),
      };
    case 'answered': {
      const { outOfLine, copies, change, rows, refusedLicences, ...rest } = evaluation.consequences;
      return {
        ...none,
        files: evaluation.changes.map(toFileDiff),
        consequences: {
          ...rest,
          findings: {
            left: findings?.left ?? 0,
            cleared: (findings?.cleared ?? []).map(({ id, says }) => ({ id, says })),
            raised: (findings?.raised ?? []).map(({ id, says }) => ({ id, says })),
          },
          outOfLineBefore: outOfLine[0],
          outOfLineAfter: outOfLine[1],
          copiesBefore: copies[0],
          copiesAfter: copies[1],
          change: toExplainedChange(change),
          projects: [...rest.projects],
          levelled: [...rest.levelled],
          unlevelled: [...rest.unlevelled],
          peersMet: rest.peersMet.map(toPeer),
          peersBroken: rest.peersBroken.map(toPeer),
          refusedLicencesBefore: refusedLicences[0],
          refusedLicences: [...refusedLicences[1]],
          disputed: rest.disputed.map((one) => ({ ...one })),
          ownRanges: [...rest.ownRanges],
          openTerms: rest.openTerms.map(toOpenTerms),
          otherRegistries: [...rest.otherRegistries],
          rows: [...rows],
          adopted: toAdopted(rest.adopted),
        },
      };
    }
  }
}

export function toOpenTerms({ copies, earlier, ...terms }: OpenTerms): OpenTermsDto {
  return {
    ...terms,
    copies: [...copies],
    earlier: earlier === null ? null : { title: earlier.title, by: earlier.by, on: earlier.on },
  };
}

function toAdopted(adopted: AdoptedOutcome | null): AdoptedDto | null {
  if (adopted === null) return null;
  return {
    kept: adopted.kept,
    changed: adopted.changed.map(({ to, ...one }) => ({ ...one, to: [...to] })),
  };
}

function toPeer({ copy, name, range, provider, version }: UnmetPeer): UnmetPeerDto {
  return { copy, name, range, provider, version };
}

export function toFileDiff({ path, before, after }: FileChange): FileDiffDto {
  const diff = fileDiff(path, before, after);
  return { ...diff, hunks: diff.hunks.map((lines) => ({ lines: [...lines] })) };
}
