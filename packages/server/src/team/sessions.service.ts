import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { SessionEntity } from './account.entity.js';
import type { AccountActor } from './actor.js';
import { hashOf, newSecret } from './secrets.js';

export const SESSION_DAYS = 14;
const DAY_MS = 86_400_000;
/** Unused for so long, a session ends. */
const IDLE_MS = 3 * DAY_MS;
/** How exactly it is known when a session was used last. */
const SEEN_MS = 60_000;

interface FoundSession extends Pick<AccountActor, 'id' | 'name' | 'email' | 'role'> {
  readonly seenAt: Date;
}

/** Browsers that are signed in. */
@Injectable()
export class SessionsService {
  constructor(
    @InjectRepository(SessionEntity) private readonly sessions: Repository<SessionEntity>,
    private readonly clock: Clock,
  ) {}

  /** @returns the secret for the cookie */
  async begin(accountId: string): Promise<string> {
    const secret = newSecret();
    const now = this.clock.now();
    await this.sessions.insert({ hash: hashOf(secret), accountId, createdAt: now, seenAt: now });
    return secret;
  }

  /** Who is signed in with a secret; null: nobody, or no longer. */
  async actor(secret: string): Promise<AccountActor | null> {
    const now = this.clock.now();
    // Asked with every request: one question, as plain as can be.
    const hash = hashOf(secret);
    const [found] = (await this.sessions.query(
      `SELECT "account"."id", "shown_name" AS "name", "email", "role", "seen_at" AS "seenAt"
       FROM "session" JOIN "account" ON "account"."id" = "session"."account_id"
       WHERE "hash" = $1 AND "is_active" AND "session"."created_at" > $2 AND "seen_at" > $3`,
      [hash, new Date(now.getTime() - SESSION_DAYS * DAY_MS), new Date(now.getTime() - IDLE_MS)],
    )) as readonly FoundSession[];
    if (found === undefined) return null;
    const { seenAt, ...account } = found;
    if (now.getTime() - seenAt.getTime() > SEEN_MS)
      await this.sessions.update({ hash }, { seenAt: now });
    return { kind: 'account', ...account, session: hash };
  }

  async end(hash: string): Promise<void> {
    await this.sessions.delete({ hash });
  }

  /** @param except a session that goes on */
  async endAllOf(accountId: string, except: string | null = null): Promise<void> {
    const all = this.sessions.createQueryBuilder().delete().where({ accountId });
    if (except !== null) all.andWhere('hash <> :except', { except });
    await all.execute();
  }
}
