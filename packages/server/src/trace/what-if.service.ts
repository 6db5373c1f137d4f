import { Injectable } from '@nestjs/common';
import type { Edit } from '@deep-ledger/core';
import { DraftEvaluator } from '../drafts/draft-evaluator.js';
import { toEvaluation, toSuggestedFixes } from '../drafts/draft.mapper.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { WhatIfAnswerDto } from './trace.dto.js';

/** Tells the effect of edits, and keeps nothing of them. */
@Injectable()
export class WhatIfService {
  constructor(private readonly evaluator: DraftEvaluator) {}

  async answer(
    entity: WorkspaceEntity,
    first: Snapshot,
    edits: readonly Edit[],
    wantsSuggestedFixes: boolean,
  ): Promise<WhatIfAnswerDto> {
    const evaluated = await this.evaluator.evaluate(entity, first, edits);
    const { evaluation, snapshot } = evaluated;
    return {
      gained: evaluation.kind === 'answered' ? [...evaluation.gained] : [],
      lost: evaluation.kind === 'answered' ? [...evaluation.lost] : [],
      commit: snapshot.head.commit,
      evaluation: toEvaluation(evaluated),
      problems: evaluation.kind === 'inapplicable' ? [...evaluation.problems] : null,
      suggestedFixes: wantsSuggestedFixes
        ? (await this.evaluator.suggestedFixes(entity, evaluated, edits)).map(toSuggestedFixes)
        : [],
      bytes: evaluation.kind === 'answered' ? evaluation.bytes : 0,
    };
  }
}
