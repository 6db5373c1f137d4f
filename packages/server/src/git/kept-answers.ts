import { LRUCache } from 'lru-cache';

/** Answers of git that are kept. The largest, of two thousand commits, has half a megabyte. */
const MOST_KEPT = 300;

/** Answers of git that are asked for again and again, under keys under which they never change. */
export class KeptAnswers {
  private readonly kept = new LRUCache<string, Promise<unknown>>({ max: MOST_KEPT });

  /** What was answered under this key, or what the work answers now; failures are not kept. */
  once<T>(id: string, key: readonly unknown[], work: () => Promise<T>): Promise<T> {
    const whole = JSON.stringify([id, ...key]);
    const known = this.kept.get(whole) as Promise<T> | undefined;
    if (known !== undefined) return known;
    const asked = work();
    this.kept.set(whole, asked);
    asked.catch(() => this.kept.delete(whole));
    return asked;
  }
}
