import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { MoreThan, type Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { AccountEntity, SessionEntity } from './account.entity.js';
import type { AccountActor } from './actor.js';
import { hashOf, newSecret } from './secrets.js';

export const SESSION_DAYS = 14;
const DAY_MS = 86_400_000;
/** Unused for so long, a session ends. */
const IDLE_MS = 3 * DAY_MS;
/** How exactly it is known when a session was used last. */
const SEEN_MS = 60_000;

/** Browsers that are signed in. */
@Injectable()
export class SessionsService {
  constructor(
    @InjectRepository(SessionEntity) private readonly sessions: Repository<SessionEntity>,
    @InjectRepository(AccountEntity) private readonly accounts: Repository<AccountEntity>,
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
    const session = await this.sessions.findOneBy({
      hash: hashOf(secret),
      createdAt: MoreThan(new Date(now.getTime() - SESSION_DAYS * DAY_MS)),
      seenAt: MoreThan(new Date(now.getTime() - IDLE_MS)),
    });
    if (session === null) return null;
    const account = await this.accounts.findOneBy({ id: session.accountId, isActive: true });
    if (account === null) return null;
    if (now.getTime() - session.seenAt.getTime() > SEEN_MS)
      await this.sessions.update({ hash: session.hash }, { seenAt: now });
    return {
      kind: 'account',
      id: account.id,
      name: account.shownName,
      email: account.email,
      role: account.role,
      session: session.hash,
    };
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
