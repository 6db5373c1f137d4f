import { randomUUID } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { IsNull, type Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { Problem } from '../problems/problem.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { AccountActor, Actor } from './actor.js';
import { AccountEntity } from './account.entity.js';
import { hashOf, newSecret } from './secrets.js';
import type { NewTokenDto } from './team.dto.js';
import { TokenEntity } from './token.entity.js';

/** How exactly it is known when a token was used last. */
const USED_MS = 60_000;

/** Access tokens of machines. */
@Injectable()
export class TokensService {
  constructor(
    @InjectRepository(TokenEntity) private readonly tokens: Repository<TokenEntity>,
    @InjectRepository(AccountEntity) private readonly accounts: Repository<AccountEntity>,
    private readonly clock: Clock,
  ) {}

  /** Those that were not revoked, oldest first. */
  list({ id }: WorkspaceEntity): Promise<TokenEntity[]> {
    return this.tokens.find({
      where: { workspaceId: id, revokedAt: IsNull() },
      order: { createdAt: 'ASC' },
    });
  }

  /** @returns the token, and its secret, which cannot be read again */
  async make(
    workspace: WorkspaceEntity,
    { name, scopes, lastDay }: NewTokenDto,
    by: AccountActor,
  ): Promise<{ token: TokenEntity; secret: string }> {
    const secret = newSecret();
    const token = await this.tokens.save(
      this.tokens.create({
        id: randomUUID(),
        workspaceId: workspace.id,
        name,
        hash: hashOf(secret),
        scopes: [...scopes],
        lastDay,
        madeBy: by.name,
        makerId: by.id,
        createdAt: this.clock.now(),
        usedAt: null,
        revokedAt: null,
      }),
    );
    return { token, secret };
  }

  /** @throws Problem TOKEN_UNKNOWN */
  async revoke({ id: workspaceId }: WorkspaceEntity, id: string): Promise<TokenEntity> {
    const token = await this.tokens.findOneBy({ id, workspaceId, revokedAt: IsNull() });
    if (token === null)
      throw new Problem('TOKEN_UNKNOWN', 404, 'No such token', 'It is not there, or was revoked.');
    token.revokedAt = this.clock.now();
    return this.tokens.save(token);
  }

  /** Whom a secret stands for; null: nobody, or no longer. A token ends with the account that made it. */
  async actor(secret: string): Promise<Actor | null> {
    const token = await this.tokens.findOneBy({ hash: hashOf(secret), revokedAt: IsNull() });
    if (token === null || token.lastDay < this.clock.today()) return null;
    const { id, name, scopes, workspaceId, usedAt, makerId } = token;
    const isMakerActive =
      makerId !== null && (await this.accounts.existsBy({ id: makerId, isActive: true }));
    if (!isMakerActive) return null;
    const now = this.clock.now();
    if (usedAt === null || now.getTime() - usedAt.getTime() > USED_MS)
      await this.tokens.update({ id }, { usedAt: now });
    return { kind: 'token', id, name, scopes, workspaceId, makerId };
  }
}
