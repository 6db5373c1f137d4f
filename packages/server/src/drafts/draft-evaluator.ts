import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import {
  evaluateDraft,
  findRelaxations,
  relaxationEdits,
  termsOf,
  type DraftBase,
  type Edit,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { SettledEvaluation } from './draft.mapper.js';

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
  /** For a draft without an answer: how many edits from the first on still have one; null: that was not looked for. */
  readonly answeredEdits: number | null;
}

/** Works out what drafts come to. */
@Injectable()
export class DraftEvaluator {
  private readonly kept = new WeakMap<DraftBase, LRUCache<string, SettledEvaluation>>();

  constructor(private readonly snapshots: SnapshotService) {}

  /**
   * The outcome of edits at the head of the branch.
   * @throws Problem REGISTRY_INCOMPLETE if packages cannot be read that it needs
   */
  async evaluate(
    entity: WorkspaceEntity,
    snapshot: Snapshot,
    edits: readonly Edit[],
  ): Promise<Evaluated> {
    const now = await this.withPackages(entity, snapshot, edits);
    const { unknown, messages } = now.registry;
    if (unknown.length > 0) throw incomplete(unknown, messages.join(' '));
    const evaluation = this.settled(now.base, edits);
    const isLookedFor = evaluation.kind === 'unanswered' && edits.length <= MOST_LOOKED_AT;
    return {
      snapshot: now,
      evaluation,
      answeredEdits: isLookedFor ? answeredEdits(now.base, edits) : null,
    };
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

  private settled(base: DraftBase, edits: readonly Edit[]): SettledEvaluation {
    const known = this.kept.get(base) ?? new LRUCache<string, SettledEvaluation>({ max: 8 });
    this.kept.set(base, known);
    const key = JSON.stringify(edits);
    const found = known.get(key);
    if (found !== undefined) return found;
    const evaluation = evaluateDraft(base, edits);
    if (evaluation.kind === 'ask') throw incomplete(evaluation.names, '');
    known.set(key, evaluation);
    return evaluation;
  }

  /** Loads what edits name and the workspace has not needed so far. */
  private async withPackages(
    entity: WorkspaceEntity,
    snapshot: Snapshot,
    edits: readonly Edit[],
  ): Promise<Snapshot> {
    const { records, workspace } = snapshot.base;
    const ours = new Set(workspace?.projects.map(({ name }) => name));
    const named = edits.flatMap((edit) => {
      if (edit.kind === 'add-requirement' && edit.range === 'workspace') return [];
      return edit.kind === 'add-requirement' || edit.kind === 'everywhere' ? [edit.package] : [];
    });
    const missing = named.filter((name) => !records.has(name) && !ours.has(name));
    return missing.length === 0 ? snapshot : this.snapshots.withPackages(entity, missing);
  }
}

/** The edits up to the first that leaves the draft without an answer, be it answered again by a later one. */
function answeredEdits(base: DraftBase, edits: readonly Edit[]): number {
  const end = edits.findIndex(
    (_, i) => evaluateDraft(base, edits.slice(0, i + 1)).kind === 'unanswered',
  );
  return end < 0 ? edits.length : end;
}

function incomplete(names: readonly string[], messages: string): Problem {
  return new Problem(
    'REGISTRY_INCOMPLETE',
    503,
    'The registry could not be read',
    `Nothing can be resolved while ${names.join(', ')} cannot be read from the registry. ${messages}`.trim(),
  );
}
