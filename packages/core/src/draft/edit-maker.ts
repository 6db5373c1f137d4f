import type { Edit } from '../edit/index.js';
import type { Workspace } from '../workspace/index.js';
import type { DraftBase } from './draft-base.js';
import { makeEdits, type MadeEdits } from './evaluate-draft.js';

/** So many stands on the way are kept at most: each holds the paths of all files. */
const MOST_STANDS = 64;

/** What came of the first steps. */
interface Stand {
  readonly steps: number;
  readonly made: MadeEdits;
}

/** Makes edits step by step, again and again: what it is asked for goes on from where the last began in the same way. */
export class EditMaker {
  private last: readonly (readonly Edit[])[] = [];
  /** On the way of the last, in their order. */
  private stands: Stand[] = [];

  constructor(
    private readonly base: Pick<DraftBase, 'files' | 'reading'>,
    private readonly workspace: Workspace,
  ) {}

  /**
   * @param steps the edits of each; those that are the same as the last time have to be the same objects
   * @returns what making them one after another gives. Cost: the steps after those that are the same, and at most one
   * in `MOST_STANDS` of all
   */
  make(steps: readonly (readonly Edit[])[]): MadeEdits {
    const differs = steps.findIndex((step, i) => step !== this.last[i]);
    const same = differs < 0 ? steps.length : differs;
    this.stands = this.stands.filter((stand) => stand.steps <= same);
    const start = this.stands.at(-1);
    const every = Math.ceil(steps.length / MOST_STANDS);
    let made: MadeEdits = start?.made ?? { ...this.base, problems: [] };
    for (let i = start?.steps ?? 0; i < steps.length; i++) {
      const next = makeEdits(made, this.workspace, steps[i]!);
      made = { ...next, problems: [...made.problems, ...next.problems] };
      if ((i + 1) % every === 0) this.stands.push({ steps: i + 1, made });
    }
    this.last = steps;
    return made;
  }
}
