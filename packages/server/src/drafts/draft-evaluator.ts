import { Injectable } from '@nestjs/common';
import {
  type CauseFixes,
  type DraftAnswer,
  type DraftOutcome,
  type Edit,
  type FileChange,
  type FindingsChange,
  LOCK_FILE,
} from '@deep-ledger/core';
import { AnswersService } from '../answers/answers.service.js';
import { endsWithin } from '../ends-within.js';
import { unawaited } from '../jobs/awaited-work.js';
import { registryIncomplete } from '../registry/registry.service.js';
import { KnownService } from '../scan/known.service.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { SeenLockfiles } from './seen-lockfiles.js';

const PATIENCE_MS = 2000;

/** An evaluation that can be shown: everything the registry was asked for is there. */
export type SettledEvaluation = DraftOutcome<FileChange>;

/** An evaluation, and the snapshot that it was made on: packages that edits name may have been loaded for it. */
export interface Evaluated {
  readonly snapshot: Snapshot;
  readonly evaluation: SettledEvaluation;
  /** Index of the edit that leaves the draft without an answer; null: none does, or that was not looked for. */
  readonly endOfAnswer: number | null;
  /** Findings that it clears and raises; null: it has no answer. */
  readonly findings: FindingsChange | null;
}

/** The result of a draft in short, by which it is checked that people decide on what they saw. */
export interface DraftStand {
  readonly head: string;
  /** Of the lockfile that it leads to; null: it has no answer. */
  readonly sum: string | null;
}

export function standOf({ snapshot, evaluation }: Evaluated): DraftStand {
  const sum = evaluation.kind === 'answered' ? evaluation.consequences.sum : null;
  return { head: snapshot.head.commit, sum };
}

/** Evaluates drafts. */
@Injectable()
export class DraftEvaluator {
  constructor(
    private readonly snapshots: SnapshotService,
    private readonly known: KnownService,
    private readonly answers: AnswersService,
    private readonly seen: SeenLockfiles,
  ) {}

  /**
   * The outcome of edits at the head of the branch. Packages that they name and the workspace has not needed so
   * far are loaded first.
   * @throws Problem REGISTRY_INCOMPLETE if packages cannot be read that it needs
   */
  async evaluate(
    entity: WorkspaceEntity,
    snapshot: Snapshot,
    edits: readonly Edit[],
  ): Promise<Evaluated> {
    const first = await this.answer(entity, snapshot, edits);
    if (first.kind === 'settled') return this.noted(evaluated(snapshot, first));
    const extended = await this.snapshots.withPackages(entity, first.names);
    const second = await this.answer(entity, extended, edits);
    if (second.kind === 'ask') throw registryIncomplete({ unknown: second.names, messages: [] });
    return this.noted(evaluated(extended, second));
  }

  private noted(found: Evaluated): Evaluated {
    const { evaluation } = found;
    if (evaluation.kind !== 'answered') return found;
    const lock = evaluation.changes.find(({ path }) => path === LOCK_FILE);
    if (lock !== undefined) this.seen.note(evaluation.consequences.sum, lock.after);
    return found;
  }

  /** For each cause that leaves a draft without an answer, the changes that would give one. Resolves many times. */
  suggestedFixes(
    entity: WorkspaceEntity,
    { snapshot, evaluation }: Evaluated,
    edits: readonly Edit[],
  ): Promise<readonly CauseFixes[]> {
    if (evaluation.kind !== 'unanswered') return Promise.resolve([]);
    return this.answers.ask<'suggested-fixes'>(entity, snapshot, {
      kind: 'suggested-fixes',
      edits,
    });
  }

  private async answer(
    entity: WorkspaceEntity,
    snapshot: Snapshot,
    edits: readonly Edit[],
  ): Promise<DraftAnswer> {
    const { base, registry } = snapshot;
    if (registry.unknown.length > 0) throw registryIncomplete(registry);
    const question = { kind: 'draft', edits } as const;
    if (!this.answers.isLong(base, question)) await this.patiently(entity, snapshot);
    return this.answers.ask<'draft'>(entity, snapshot, question);
  }

  /** Waits for the scan of source, but not for long: meanwhile a draft is evaluated without it. */
  private async patiently(entity: WorkspaceEntity, snapshot: Snapshot): Promise<void> {
    await endsWithin(
      unawaited(() => this.known.of(entity, snapshot)).catch(() => undefined),
      PATIENCE_MS,
    );
  }
}

function evaluated(
  snapshot: Snapshot,
  { outcome, endOfAnswer, findings }: Extract<DraftAnswer, { kind: 'settled' }>,
): Evaluated {
  const { files, unwritten } = snapshot.base;
  const evaluation: SettledEvaluation =
    outcome.kind === 'inapplicable'
      ? outcome
      : {
          ...outcome,
          changes: outcome.changes.map(({ path, after }) => ({
            path,
            before: unwritten.has(path) ? null : (files.get(path) ?? null),
            after,
          })),
        };
  return { snapshot, evaluation, endOfAnswer, findings };
}
