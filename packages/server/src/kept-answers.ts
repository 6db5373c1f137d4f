import { createHash } from 'node:crypto';
import type { Response } from 'express';
import { LRUCache } from 'lru-cache';

interface KeptAnswer {
  readonly body: Buffer;
  readonly etag: string;
}

const MOST_KEPT = 200;
const MOST_BYTES = 64 << 20;

/**
 * Answers as they are sent, kept for as long as what they were made from is. Making JSON of a whole alignment for
 * each of many readers would be most of a server's work. A reader who has the same already is told so.
 */
export class KeptAnswers {
  private readonly kept = new WeakMap<object, LRUCache<string, KeptAnswer>>();

  /** @param owner that the answer hangs on, such as a snapshot's base */
  send(response: Response, owner: object, key: string, make: () => object): void {
    const { body, etag } = this.answer(owner, key, make);
    response.set({
      etag,
      'cache-control': 'private, no-cache',
      'content-type': 'application/json; charset=utf-8',
    });
    if (response.req.fresh) response.status(304).end();
    else response.end(body);
  }

  private answer(owner: object, key: string, make: () => object): KeptAnswer {
    const answers =
      this.kept.get(owner) ??
      new LRUCache<string, KeptAnswer>({
        max: MOST_KEPT,
        maxSize: MOST_BYTES,
        sizeCalculation: ({ body }) => body.length + 1,
      });
    this.kept.set(owner, answers);
    const known = answers.get(key);
    if (known !== undefined) return known;
    const body = Buffer.from(JSON.stringify(make()));
    const etag = `"${createHash('sha256').update(body).digest('base64url')}"`;
    answers.set(key, { body, etag });
    return { body, etag };
  }
}
