import pLimit, { type LimitFunction } from 'p-limit';

/** Does one thing after another for each name. What nobody waits for takes no memory. */
export class Turns {
  private readonly limits = new Map<string, LimitFunction>();

  async take<T>(name: string, work: () => Promise<T>): Promise<T> {
    const limit = this.limits.get(name) ?? pLimit(1);
    this.limits.set(name, limit);
    try {
      return await limit(work);
    } finally {
      if (limit.activeCount + limit.pendingCount === 0) this.limits.delete(name);
    }
  }
}
