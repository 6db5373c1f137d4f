import type { Entry, SearchModel } from './search-model.js';

/**
 * Supplies that an answer asked for on the way and nothing asks for in the end. What they bring in would still keep
 * other demands out, so the next search leaves them aside. One that is asked for again without them counts from then
 * on: each is set aside once at most, so this ends.
 */
export class IdleSupplies {
  private readonly idle = new Set<Entry>();
  private readonly counted = new Set<Entry>();

  constructor(private readonly model: SearchModel) {}

  /** What the next search leaves aside. */
  get entries(): ReadonlySet<Entry> {
    return this.idle;
  }

  /**
   * @param asked what the answer just found asks for
   * @returns whether that is what the search went by
   */
  compare(asked: ReadonlySet<Entry>): boolean {
    const missing = [...this.idle].filter((one) => asked.has(one));
    for (const one of missing) {
      this.idle.delete(one);
      this.counted.add(one);
    }
    const needless = this.model.optional.filter(
      (one) =>
        one.name.kind === 'supply' &&
        this.model.isActive(one) &&
        !asked.has(one) &&
        !this.idle.has(one) &&
        !this.counted.has(one),
    );
    for (const one of needless) this.idle.add(one);
    return missing.length === 0 && needless.length === 0;
  }
}
