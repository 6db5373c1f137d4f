import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Inject,
  Post,
  Put,
  Req,
  Res,
} from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { ApiProblems } from '../problems/api-problems.js';
import { Problem } from '../problems/problem.js';
import { SETTINGS, type Settings } from '../settings.js';
import type { AccountEntity } from './account.entity.js';
import { AccountsService } from './accounts.service.js';
import { CurrentAccount, type AccountActor } from './actor.js';
import { AuditService } from './audit.service.js';
import { Needs } from './capability.js';
import { csrfOf } from './secrets.js';
import { SESSION_COOKIE, sessionCookie } from './session-cookie.js';
import { SessionsService } from './sessions.service.js';
import { SignInLimits } from './sign-in-limits.js';
import {
  ChangePasswordDto,
  LinkDto,
  LookAtLinkDto,
  SessionDto,
  SignInDto,
  UseLinkDto,
} from './team.dto.js';
import { toAccount } from './team.mapper.js';

@ApiTags('session')
@ApiProblems()
@Controller()
export class SessionController {
  constructor(
    private readonly accounts: AccountsService,
    private readonly sessions: SessionsService,
    private readonly limits: SignInLimits,
    private readonly audit: AuditService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  @Get('session')
  @Needs('anyone')
  @ApiOperation({ operationId: 'readSession', summary: 'Who is signed in' })
  @ApiOkResponse({ type: SessionDto })
  async read(@Req() request: Request): Promise<SessionDto> {
    const secret = (request.cookies as Readonly<Record<string, unknown>>)[SESSION_COOKIE];
    const actor = typeof secret === 'string' ? await this.sessions.actor(secret) : null;
    if (typeof secret === 'string' && actor !== null)
      return signedIn(await this.accounts.byId(actor.id), secret);
    return { account: null, csrf: null, isEmpty: await this.accounts.isEmpty() };
  }

  @Post('session')
  @HttpCode(200)
  @Needs('anyone')
  @ApiOperation({ operationId: 'signIn', summary: 'Sign in; the session is a cookie' })
  @ApiOkResponse({ type: SessionDto })
  async signIn(
    @Body() { name, password }: SignInDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SessionDto> {
    const wanted = name.trim().toLowerCase();
    await this.limits.attempt(wanted, request.ip ?? '');
    const account = await this.accounts.signedIn(wanted, password);
    if (account === null) {
      await this.audit.record(event('nobody', wanted, 'signInFailed'));
      throw new Problem(
        'SIGN_IN_FAILED',
        401,
        'Not signed in',
        'Name and password do not belong together.',
      );
    }
    await this.limits.forget(wanted, request.ip ?? '');
    return this.begin(account, 'signIn', response);
  }

  @Delete('session')
  @HttpCode(204)
  @Needs('self')
  @ApiOperation({ operationId: 'signOut', summary: 'Sign out' })
  @ApiNoContentResponse()
  async signOut(
    @CurrentAccount() actor: AccountActor,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    await this.sessions.end(actor.session);
    response.clearCookie(SESSION_COOKIE, { ...sessionCookie(this.settings), maxAge: 0 });
  }

  @Put('session/password')
  @HttpCode(204)
  @Needs('self')
  @ApiOperation({
    operationId: 'changePassword',
    summary: 'Change the password; other sessions of the account end',
  })
  @ApiNoContentResponse()
  async changePassword(
    @CurrentAccount() { id, session }: AccountActor,
    @Body() { now, password }: ChangePasswordDto,
    @Req() request: Request,
  ): Promise<void> {
    // Before anything is hashed: hashing is what an attempt costs the server.
    const name = `password ${id}`;
    await this.limits.attempt(name, request.ip ?? '');
    await this.accounts.changePassword(id, session, now, password);
    await this.limits.forget(name, request.ip ?? '');
  }

  @Post('one-time-link')
  @HttpCode(200)
  @Needs('anyone')
  @ApiOperation({ operationId: 'lookAtLink', summary: 'Whose one-time link it is' })
  @ApiOkResponse({ type: LinkDto })
  async lookAtLink(@Body() { secret }: LookAtLinkDto, @Req() request: Request): Promise<LinkDto> {
    const { account } = await this.linked(secret, request);
    return { name: account?.name ?? null };
  }

  @Post('one-time-link/password')
  @HttpCode(200)
  @Needs('anyone')
  @ApiOperation({
    operationId: 'useLink',
    summary: 'Choose a password by a one-time link, and be signed in',
  })
  @ApiOkResponse({ type: SessionDto })
  async useLink(
    @Body() { secret, password, name, shownName, email }: UseLinkDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<SessionDto> {
    // Before the password is hashed: anybody can send one.
    await this.linked(secret, request);
    const isNamed = name !== undefined && shownName !== undefined && email !== undefined;
    const first = isNamed ? { name, shownName, email } : null;
    const account = await this.accounts.useLink(secret, password, first);
    return this.begin(account, 'useLink', response);
  }

  /** Whose link it is. @throws Problem LINK_UNKNOWN, TOO_MANY_ATTEMPTS */
  private async linked(
    secret: string,
    { ip = '' }: Request,
  ): Promise<{ account: AccountEntity | null }> {
    await this.limits.attempt(LINKS, ip);
    const found = await this.accounts.linked(secret);
    await this.limits.forget(LINKS, ip);
    return found;
  }

  private async begin(
    account: AccountEntity,
    action: string,
    response: Response,
  ): Promise<SessionDto> {
    const secret = await this.sessions.begin(account.id);
    response.cookie(SESSION_COOKIE, secret, sessionCookie(this.settings));
    await this.audit.record(event('account', account.shownName, action));
    return signedIn(account, secret);
  }
}

/** What attempts at one-time links are counted under. */
const LINKS = 'one-time link';

function signedIn(account: AccountEntity, secret: string): SessionDto {
  return { account: toAccount(account), csrf: csrfOf(secret), isEmpty: false };
}

function event(actorKind: 'account' | 'nobody', actor: string, action: string) {
  return { actorKind, actor, action, workspace: null, subject: null };
}
