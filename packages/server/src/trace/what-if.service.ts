import { Injectable } from '@nestjs/common';
import type { Edit } from '@deep-ledger/core';
import { DraftEvaluator } from '../drafts/draft-evaluator.js';
import { toEvaluation, toWaysOut } from '../drafts/draft.mapper.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { WhatIfAnswerDto } from './trace.dto.js';

/** Tells what edits would come to, and keeps nothing of them. */
@Injectable()
export class WhatIfService {
  constructor(private readonly evaluator: DraftEvaluator) {}

  async answer(
    entity: WorkspaceEntity,
    first: Snapshot,
    edits: readonly Edit[],
    wantsWaysOut: boolean,
  ): Promise<WhatIfAnswerDto> {
    const evaluated = await this.evaluator.evaluate(entity, first, edits);
    const { evaluation, snapshot } = evaluated;
    return {
      gained: evaluation.kind === 'answered' ? [...evaluation.gained] : [],
      lost: evaluation.kind === 'answered' ? [...evaluation.lost] : [],
      commit: snapshot.head.commit,
      evaluation: toEvaluation(evaluated),
      problems: evaluation.kind === 'inapplicable' ? [...evaluation.problems] : null,
      waysOut: wantsWaysOut
        ? (await this.evaluator.waysOut(entity, evaluated, edits)).map(toWaysOut)
        : [],
      bytes: evaluation.kind === 'answered' ? evaluation.bytes : 0,
    };
  }
}
