import type { Links } from '../links/index.js';
import type { AnsweredRequirement, Copy, Resolution } from '../resolve/index.js';
import { requireVersion, type Version } from '../version/index.js';

/** No copy. */
export const NO_COPY = -1;

/** The copies of a lockfile, numbered as they stand in it, with what answers their requirements. */
export class LockedCopies {
  readonly copies: readonly Copy[];
  readonly versions: readonly Version[];
  /** Requirements of copy i: starts[i] up to, not including, starts[i + 1]. */
  readonly starts: Uint32Array;
  /** The copy that answers each requirement; NO_COPY: skipped, or there is none. */
  readonly answers: Int32Array;
  private readonly byName = new Map<string, number[]>();

  /** O(copies + requirements). */
  constructor({ copies }: Resolution) {
    this.copies = copies;
    this.versions = versionsOf(copies);
    this.starts = new Uint32Array(copies.length + 1);
    copies.forEach(({ name, requirements }, i) => {
      this.starts[i + 1] = this.starts[i]! + requirements.length;
      const same = this.byName.get(name);
      if (same === undefined) this.byName.set(name, [i]);
      else same.push(i);
    });
    this.answers = new Int32Array(this.starts[copies.length]!);
    let at = 0;
    for (const { requirements } of copies)
      for (const requirement of requirements) this.answers[at++] = this.answerTo(requirement);
  }

  named(name: string): readonly number[] {
    return this.byName.get(name) ?? [];
  }

  /** NO_COPY: skipped, answered by a project, or by a version of which there is no copy. */
  answerTo({ name, answer }: AnsweredRequirement): number {
    return answer.kind === 'copy' ? this.at(name, answer.version) : NO_COPY;
  }

  at(name: string, version: string): number {
    const same = this.byName.get(name);
    if (same !== undefined)
      for (const copy of same) if (this.copies[copy]!.version === version) return copy;
    return NO_COPY;
  }

  /** The copies that each copy's requirements lead to, those without an answer left out. */
  links(): Links {
    const starts = new Uint32Array(this.starts.length);
    const targets = new Uint32Array(this.answers.length);
    let end = 0;
    for (let copy = 0; copy < this.copies.length; copy++) {
      for (let at = this.starts[copy]!; at < this.starts[copy + 1]!; at++)
        if (this.answers[at] !== NO_COPY) targets[end++] = this.answers[at]!;
      starts[copy + 1] = end;
    }
    return { starts, targets: targets.subarray(0, end) };
  }

  /** Copies that no chain from these reaches; a cycle of copies does not keep itself. */
  unreached(roots: Iterable<number>): readonly Copy[] {
    const { starts, answers } = this;
    const isReached = new Uint8Array(this.copies.length);
    const open = [...roots];
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      if (next === NO_COPY || isReached[next] === 1) continue;
      isReached[next] = 1;
      for (let at = starts[next]!; at < starts[next + 1]!; at++) open.push(answers[at]!);
    }
    return this.copies.filter((_, i) => isReached[i] === 0);
  }
}

/** Few texts stand for the versions of many copies, so each is read once. */
function versionsOf(copies: readonly Copy[]): readonly Version[] {
  const known = new Map<string, Version>();
  return copies.map(({ version }) => {
    let read = known.get(version);
    if (read === undefined) known.set(version, (read = requireVersion(version)));
    return read;
  });
}
