import type { AccountEntity } from './account.entity.js';
import type { AuditEntity } from './audit.entity.js';
import type { AccountDto, AuditEntryDto, TokenDto } from './team.dto.js';
import type { TokenEntity } from './token.entity.js';

export function toAccount(account: AccountEntity): AccountDto {
  const { id, name, shownName, email, role, isActive, password, createdAt } = account;
  return {
    id,
    name,
    shownName,
    email,
    role,
    isActive,
    isInvited: password === null,
    createdAt: createdAt.toISOString(),
  };
}

/** @param today YYYY-MM-DD */
export function toToken(token: TokenEntity, today: string): TokenDto {
  const { id, name, scopes, lastDay, madeBy, createdAt, usedAt } = token;
  return {
    id,
    name,
    scopes,
    lastDay,
    isOver: lastDay < today,
    madeBy,
    createdAt: createdAt.toISOString(),
    usedAt: usedAt?.toISOString() ?? null,
  };
}

export function toAuditEntry(entry: AuditEntity): AuditEntryDto {
  return { ...entry, at: entry.at.toISOString() };
}
