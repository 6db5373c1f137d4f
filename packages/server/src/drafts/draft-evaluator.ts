import { setTimeout } from 'node:timers/promises';
import { Injectable } from '@nestjs/common';
import type { Edit, FileChange, FindingsChange } from '@deep-ledger/core';
import { AnswersService } from '../answers/answers.service.js';
import type { DraftAnswer, DraftOutcome, SuggestedFixes } from '../answers/question.js';
import { registryIncomplete } from '../registry/registry.service.js';
import { KnownService } from '../scan/known.service.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';

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

/** Evaluates drafts. */
@Injectable()
export class DraftEvaluator {
  constructor(
    private readonly snapshots: SnapshotService,
    private readonly known: KnownService,
    private readonly answers: AnswersService,
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
    if (first.kind === 'settled') return evaluated(snapshot, first);
    const extended = await this.snapshots.withPackages(entity, first.names);
    const second = await this.answer(entity, extended, edits);
    if (second.kind === 'ask') throw registryIncomplete({ unknown: second.names, messages: [] });
    return evaluated(extended, second);
  }

  /** For each cause that leaves a draft without an answer, the changes that would give one. Resolves many times. */
  suggestedFixes(
    entity: WorkspaceEntity,
    { snapshot, evaluation }: Evaluated,
    edits: readonly Edit[],
  ): Promise<readonly SuggestedFixes[]> {
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
    const waiting = new AbortController();
    await Promise.race([
      this.known.of(entity, snapshot).catch(() => undefined),
      setTimeout(PATIENCE_MS, undefined, { signal: waiting.signal }).catch(() => undefined),
    ]);
    waiting.abort();
  }
}

function evaluated(
  snapshot: Snapshot,
  { outcome, endOfAnswer, findings }: Extract<DraftAnswer, { kind: 'settled' }>,
): Evaluated {
  const { files } = snapshot.base;
  const evaluation: SettledEvaluation =
    outcome.kind === 'inapplicable'
      ? outcome
      : {
          ...outcome,
          changes: outcome.changes.map(({ path, after }) => ({
            path,
            before: files.get(path) ?? null,
            after,
          })),
        };
  return { snapshot, evaluation, endOfAnswer, findings };
}
