import { randomUUID } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { InjectDataSource, InjectRepository } from '@nestjs/typeorm';
import {
  IsNull,
  MoreThan,
  Not,
  type DataSource,
  type EntityManager,
  type Repository,
} from 'typeorm';
import { Clock } from '../clock.js';
import { Problem } from '../problems/problem.js';
import { AccountEntity, OneTimeLinkEntity } from './account.entity.js';
import type { ChangeAccountDto, NewAccountDto } from './team.dto.js';
import { hashPassword, isPassword } from './passwords.js';
import { hashOf, newSecret } from './secrets.js';
import { SessionsService } from './sessions.service.js';

const LINK_MS = 7 * 86_400_000;

/** People, their passwords, and the links by which passwords are chosen. */
@Injectable()
export class AccountsService {
  constructor(
    @InjectRepository(AccountEntity) private readonly accounts: Repository<AccountEntity>,
    @InjectRepository(OneTimeLinkEntity) private readonly links: Repository<OneTimeLinkEntity>,
    @InjectDataSource() private readonly database: DataSource,
    private readonly sessions: SessionsService,
    private readonly clock: Clock,
  ) {}

  list(): Promise<AccountEntity[]> {
    return this.accounts.find({ order: { shownName: 'ASC' } });
  }

  /** Is nobody there yet who could sign in? */
  async isEmpty(): Promise<boolean> {
    return !(await this.accounts.existsBy({ password: Not(IsNull()) }));
  }

  /** The account of a name and its password; null: not these two. */
  async signedIn(name: string, password: string): Promise<AccountEntity | null> {
    const account = await this.accounts.findOneBy({ name: name.trim().toLowerCase() });
    const isRight = await isPassword(account?.password ?? null, password);
    return isRight && account?.isActive === true ? account : null;
  }

  /** @returns the account, and the secret of the link by which the person chooses a password */
  async invite(body: NewAccountDto): Promise<{ account: AccountEntity; secret: string }> {
    const account = await this.create(this.accounts.manager, body, null);
    return { account, secret: await this.link(account.id) };
  }

  /** For an account with a password from the start, as in a demonstration. */
  async add(body: NewAccountDto, password: string): Promise<AccountEntity> {
    return this.create(this.accounts.manager, body, await hashPassword(password));
  }

  /**
   * A new link for somebody; links before it no longer count. For the first keeper every server that starts
   * makes one, and all count until one is used.
   */
  async link(accountId: string | null): Promise<string> {
    const secret = newSecret();
    if (accountId !== null) await this.links.delete({ accountId });
    await this.links.insert({ hash: hashOf(secret), accountId, createdAt: this.clock.now() });
    return secret;
  }

  /** Whose link it is; null in the account: the first keeper's. @throws Problem LINK_UNKNOWN */
  async linked(secret: string): Promise<{ account: AccountEntity | null }> {
    const link = await this.links.findOneBy(this.counting(secret));
    if (link === null) throw unknownLink();
    return {
      account:
        link.accountId === null ? null : await this.accounts.findOneBy({ id: link.accountId }),
    };
  }

  /**
   * Chooses a password by a link, which is then used up.
   * @param first who the first keeper is; only for that link
   * @throws Problem LINK_UNKNOWN, NAME_TAKEN
   */
  async useLink(
    secret: string,
    password: string,
    first: Omit<NewAccountDto, 'role'> | null,
  ): Promise<AccountEntity> {
    const hash = await hashPassword(password);
    const account = await this.database.transaction(async (manager) => {
      const link = await manager.findOne(OneTimeLinkEntity, {
        where: this.counting(secret),
        lock: { mode: 'pessimistic_write' },
      });
      if (link === null) throw unknownLink();
      await manager.delete(OneTimeLinkEntity, { hash: link.hash });
      if (link.accountId !== null) {
        await manager.update(AccountEntity, { id: link.accountId }, { password: hash });
        return manager.findOneByOrFail(AccountEntity, { id: link.accountId });
      }
      if (first === null)
        throw new Problem(
          'FIRST_KEEPER_UNNAMED',
          422,
          'Who is the first keeper?',
          'Send a name, the name to show and an e-mail address along with the password.',
        );
      await manager.delete(OneTimeLinkEntity, { accountId: IsNull() });
      return this.create(manager, { ...first, role: 'keeper' }, hash);
    });
    await this.sessions.endAllOf(account.id);
    return account;
  }

  /** @throws Problem ACCOUNT_UNKNOWN, LAST_KEEPER */
  async change(id: string, body: ChangeAccountDto): Promise<AccountEntity> {
    const changed = await this.database.transaction(async (manager) => {
      // One after another, so that two keepers cannot both cease to be the last but one.
      const all = await manager.find(AccountEntity, { lock: { mode: 'pessimistic_write' } });
      const account = all.find((one) => one.id === id);
      if (account === undefined) throw unknownAccount();
      Object.assign(account, definedOf(body));
      const isKept = all.some((one) => one.role === 'keeper' && one.isActive);
      if (!isKept)
        throw new Problem(
          'LAST_KEEPER',
          409,
          'Nobody would be left',
          `${account.shownName} is the last keeper. Make somebody else a keeper first.`,
        );
      return manager.save(account);
    });
    if (!changed.isActive) await this.sessions.endAllOf(id);
    return changed;
  }

  /** @throws Problem PASSWORD_WRONG */
  async changePassword(id: string, session: string, now: string, next: string): Promise<void> {
    const account = await this.accounts.findOneByOrFail({ id });
    if (!(await isPassword(account.password, now)))
      throw new Problem(
        'PASSWORD_WRONG',
        422,
        'That is not your password',
        'The present password is another. Nothing was changed.',
      );
    await this.accounts.update({ id }, { password: await hashPassword(next) });
    await this.sessions.endAllOf(id, session);
  }

  /** @throws Problem ACCOUNT_UNKNOWN */
  async byId(id: string): Promise<AccountEntity> {
    const account = await this.accounts.findOneBy({ id });
    if (account === null) throw unknownAccount();
    return account;
  }

  private async create(
    manager: EntityManager,
    { name, shownName, email, role }: NewAccountDto,
    password: string | null,
  ): Promise<AccountEntity> {
    if (await manager.existsBy(AccountEntity, { name }))
      throw new Problem(
        'NAME_TAKEN',
        409,
        'The name is taken',
        `Somebody signs in as ${name} already. Choose another name.`,
      );
    return manager.save(
      manager.create(AccountEntity, {
        id: randomUUID(),
        name,
        shownName,
        email,
        role,
        password,
        isActive: true,
        createdAt: this.clock.now(),
      }),
    );
  }

  private counting(secret: string) {
    const since = new Date(this.clock.now().getTime() - LINK_MS);
    return { hash: hashOf(secret), createdAt: MoreThan(since) };
  }
}

function definedOf(body: ChangeAccountDto): Partial<AccountEntity> {
  return Object.fromEntries(Object.entries(body).filter(([, value]) => value !== undefined));
}

function unknownLink(): Problem {
  return new Problem(
    'LINK_UNKNOWN',
    403,
    'This link has expired',
    'It was used, replaced, or is older than seven days. Ask a keeper for another.',
  );
}

function unknownAccount(): Problem {
  return new Problem('ACCOUNT_UNKNOWN', 404, 'No such account', 'There is no such account.');
}
