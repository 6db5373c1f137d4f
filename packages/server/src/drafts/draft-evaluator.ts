import { setTimeout } from 'node:timers/promises';
import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import {
  endOfAnswer,
  evaluateDraft,
  findAll,
  findingsAfter,
  findingsChange,
  standOfBase,
  findRelaxations,
  relaxationEdits,
  termsOf,
  type DraftBase,
  type Edit,
  type Evaluation,
  type Finding,
  type FindingsChange,
  type Known,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import { KnownService } from '../scan/known.service.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { SettledEvaluation } from './draft.mapper.js';

const PATIENCE_MS = 2000;

/** Drafts longer than this are not searched for the edit that ends their answer. */
const MOST_LOOKED_AT = 30;

/** What requirements without an answer could be helped by. */
export interface WaysOut {
  /** The requirements, as the first sentence of their explanation names them. */
  readonly about: readonly string[];
  readonly ways: readonly { readonly sentence: string; readonly edits: readonly Edit[] }[];
}

/** An evaluation, and the snapshot that it was made on: packages that edits name may have been loaded for it. */
export interface Evaluated {
  readonly snapshot: Snapshot;
  readonly evaluation: SettledEvaluation;
  /** Index of the edit that leaves the draft without an answer; null: none does, or that was not looked for. */
  readonly endOfAnswer: number | null;
  /** Findings that it clears and raises; null: it has no answer. */
  readonly findings: FindingsChange | null;
}

type Settled = Omit<Evaluated, 'snapshot'> & { readonly kind: 'settled' };
type Outcome = Settled | Extract<Evaluation, { kind: 'ask' }>;

/** Works out what drafts come to. */
@Injectable()
export class DraftEvaluator {
  private readonly kept = new WeakMap<DraftBase, LRUCache<string, Settled>>();

  private readonly before = new WeakMap<
    DraftBase,
    { known: Known; findings: readonly Finding[] }
  >();

  constructor(
    private readonly snapshots: SnapshotService,
    private readonly known: KnownService,
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
    await this.patiently(entity, snapshot);
    const first = this.outcome(snapshot, edits);
    if (first.kind !== 'ask') return { snapshot, ...first };
    const extended = await this.snapshots.withPackages(entity, first.names);
    await this.patiently(entity, extended);
    const second = this.outcome(extended, edits);
    if (second.kind === 'ask') throw incomplete(second.names, '');
    return { snapshot: extended, ...second };
  }

  /** For each cause that leaves a draft without an answer, the changes that would give one. Resolves many times. */
  waysOut(
    { snapshot: { base }, evaluation }: Evaluated,
    edits: readonly Edit[],
  ): readonly WaysOut[] {
    if (evaluation.kind !== 'unanswered') return [];
    const { workspace, unanswered } = evaluation;
    const question = { ...termsOf(base, edits), workspace };
    return findRelaxations(base.engine, question, unanswered).map((relaxations, i) => ({
      about: unanswered[i]!.sentences.slice(0, 1),
      ways: relaxations.map((relaxation) => ({
        sentence: relaxation.sentence,
        edits: relaxationEdits(workspace, relaxation),
      })),
    }));
  }

  /** Waits for the scan of source, but not for long: a draft of a large workspace is evaluated without it. */
  private async patiently(entity: WorkspaceEntity, snapshot: Snapshot): Promise<void> {
    const waiting = new AbortController();
    await Promise.race([
      this.known.of(entity, snapshot),
      setTimeout(PATIENCE_MS, undefined, { signal: waiting.signal }).catch(() => undefined),
    ]);
    waiting.abort();
  }

  private findings(base: DraftBase, evaluation: Evaluation): FindingsChange | null {
    const known = this.known.atHand(base);
    const kept = this.before.get(base);
    const before =
      kept?.known === known ? kept : { known, findings: findAll(standOfBase(base, known)) };
    this.before.set(base, before);
    const after = findingsAfter(base, evaluation, known);
    return after === null ? null : findingsChange(before.findings, after);
  }

  private outcome({ base, registry }: Snapshot, edits: readonly Edit[]): Outcome {
    if (registry.unknown.length > 0)
      throw incomplete(registry.unknown, registry.messages.join(' '));
    const known = this.kept.get(base) ?? new LRUCache<string, Settled>({ max: 8 });
    this.kept.set(base, known);
    const key = JSON.stringify([this.known.atHand(base).use !== null, edits]);
    const found = known.get(key);
    if (found !== undefined) return found;
    const evaluation = evaluateDraft(base, edits);
    if (evaluation.kind === 'ask') return evaluation;
    const isLookedFor = evaluation.kind === 'unanswered' && edits.length <= MOST_LOOKED_AT;
    const settled: Settled = {
      kind: 'settled',
      evaluation,
      endOfAnswer: isLookedFor ? endOfAnswer(base, edits) : null,
      findings: this.findings(base, evaluation),
    };
    known.set(key, settled);
    return settled;
  }
}

function incomplete(names: readonly string[], messages: string): Problem {
  return new Problem(
    'REGISTRY_INCOMPLETE',
    503,
    'The registry could not be read',
    `Nothing can be resolved while ${names.join(', ')} cannot be read from the registry. ${messages}`.trim(),
  );
}
