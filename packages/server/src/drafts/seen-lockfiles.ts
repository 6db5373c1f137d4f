import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';

const MOST_BYTES = 64 << 20;

/** Lockfiles that drafts led to and that this server has shown, by their sum: so that it can say what changed since. */
@Injectable()
export class SeenLockfiles {
  private readonly texts = new LRUCache<string, string>({
    maxSize: MOST_BYTES,
    // A text has two bytes a character at most.
    sizeCalculation: (text) => 2 * text.length + 1,
  });

  note(sum: string, text: string): void {
    this.texts.set(sum, text);
  }

  /** Null: it is not kept any more, or another server has shown it. */
  textOf(sum: string): string | null {
    return this.texts.get(sum) ?? null;
  }
}
