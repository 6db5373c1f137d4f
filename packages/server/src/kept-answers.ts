import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { Response } from 'express';
import { LRUCache } from 'lru-cache';

interface KeptAnswer {
  readonly body: Buffer;
  readonly etag: string;
  /** Packed with the first reader that takes it so; null: too short to be worth it. */
  packed: Promise<Buffer> | null;
}

const zip = promisify(gzip);
/** Shorter answers are sent as they are. */
const LEAST_PACKED = 1024;

const MOST_KEPT = 200;
const MOST_BYTES = 64 << 20;

/**
 * Answers as they are sent, kept for as long as what they were made from is. Making JSON of a whole alignment for
 * each of many readers would be most of a server's work. A reader who has the same already is told so.
 */
export class KeptAnswers {
  private readonly kept = new WeakMap<object, LRUCache<string, KeptAnswer>>();

  /** @param owner that the answer depends on, such as a snapshot's base */
  async send(response: Response, owner: object, key: string, make: () => object): Promise<void> {
    const answer = this.answer(owner, key, make);
    const { body, etag } = answer;
    response.vary('accept-encoding').set({
      etag,
      'cache-control': 'private, no-cache',
      'content-type': 'application/json; charset=utf-8',
    });
    if (response.req.fresh) {
      response.status(304).end();
      return;
    }
    const isPacked =
      body.length >= LEAST_PACKED && response.req.acceptsEncodings(['gzip', 'identity']) === 'gzip';
    if (!isPacked) {
      response.end(body);
      return;
    }
    answer.packed ??= zip(body);
    const packed = await answer.packed;
    response.set({ 'content-encoding': 'gzip', 'content-length': String(packed.length) });
    response.end(packed);
  }

  private answer(owner: object, key: string, make: () => object): KeptAnswer {
    const answers =
      this.kept.get(owner) ??
      new LRUCache<string, KeptAnswer>({
        max: MOST_KEPT,
        maxSize: MOST_BYTES,
        // A packed answer takes a fraction of it.
        sizeCalculation: ({ body }) => body.length + 1,
      });
    this.kept.set(owner, answers);
    const known = answers.get(key);
    if (known !== undefined) return known;
    const body = Buffer.from(JSON.stringify(make()));
    const etag = `"${createHash('sha256').update(body).digest('base64url')}"`;
    const answer: KeptAnswer = { body, etag, packed: null };
    answers.set(key, answer);
    return answer;
  }
}
