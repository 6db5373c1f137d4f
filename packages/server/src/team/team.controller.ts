import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Patch,
  Post,
  Query,
} from '@nestjs/common';
import {
  ApiCreatedResponse,
  ApiNoContentResponse,
  ApiOkResponse,
  ApiOperation,
  ApiTags,
} from '@nestjs/swagger';
import { Clock } from '../clock.js';
import { ApiProblems } from '../problems/api-problems.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { AccountsService } from './accounts.service.js';
import { CurrentAccount, type AccountActor } from './actor.js';
import { AuditService } from './audit.service.js';
import { Needs } from './capability.js';
import {
  AccountDto,
  AuditDto,
  AuditQuery,
  ChangeAccountDto,
  InvitedDto,
  MadeTokenDto,
  NewAccountDto,
  NewTokenDto,
  TokenDto,
} from './team.dto.js';
import { toAccount, toAuditEntry, toToken } from './team.mapper.js';
import { TokensService } from './tokens.service.js';

@ApiTags('team')
@ApiProblems()
@Controller()
export class TeamController {
  constructor(
    private readonly accounts: AccountsService,
    private readonly tokens: TokensService,
    private readonly audit: AuditService,
    private readonly workspaces: WorkspaceService,
    private readonly clock: Clock,
  ) {}

  @Get('accounts')
  @Needs('self')
  @ApiOperation({ operationId: 'listAccounts', summary: 'The people of the team' })
  @ApiOkResponse({ type: [AccountDto] })
  async list(): Promise<AccountDto[]> {
    return (await this.accounts.list()).map(toAccount);
  }

  @Post('accounts')
  @Needs('keep')
  @ApiOperation({
    operationId: 'invite',
    summary: 'Add somebody, who chooses a password by a link that is told once',
  })
  @ApiCreatedResponse({ type: InvitedDto })
  async invite(@Body() body: NewAccountDto): Promise<InvitedDto> {
    const { account, secret } = await this.accounts.invite(body);
    return { account: toAccount(account), secret };
  }

  @Patch('accounts/:account')
  @Needs('keep')
  @ApiOperation({
    operationId: 'changeAccount',
    summary: "Change somebody's role, or disable their account; a disabled account's sessions end",
  })
  @ApiOkResponse({ type: AccountDto })
  async change(
    @Param('account', ParseUUIDPipe) id: string,
    @Body() body: ChangeAccountDto,
  ): Promise<AccountDto> {
    return toAccount(await this.accounts.change(id, body));
  }

  @Post('accounts/:account/link')
  @Needs('keep')
  @ApiOperation({
    operationId: 'linkAccount',
    summary: 'A new link by which somebody chooses a password',
  })
  @ApiCreatedResponse({ type: InvitedDto })
  async link(@Param('account', ParseUUIDPipe) id: string): Promise<InvitedDto> {
    const account = await this.accounts.byId(id);
    return { account: toAccount(account), secret: await this.accounts.link(id) };
  }

  @Get('workspaces/:slug/tokens')
  @Needs('keep')
  @ApiOperation({ operationId: 'listTokens', summary: 'Tokens of machines, without secrets' })
  @ApiOkResponse({ type: [TokenDto] })
  async listTokens(@Param('slug') slug: string): Promise<TokenDto[]> {
    const tokens = await this.tokens.list(await this.workspaces.bySlug(slug));
    return tokens.map((one) => toToken(one, this.clock.today()));
  }

  @Post('workspaces/:slug/tokens')
  @Needs('keep')
  @ApiOperation({ operationId: 'makeToken', summary: 'Make a token; its secret is told once' })
  @ApiCreatedResponse({ type: MadeTokenDto })
  async makeToken(
    @Param('slug') slug: string,
    @Body() body: NewTokenDto,
    @CurrentAccount() actor: AccountActor,
  ): Promise<MadeTokenDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const { token, secret } = await this.tokens.make(workspace, body, actor);
    return { token: toToken(token, this.clock.today()), secret };
  }

  @Delete('workspaces/:slug/tokens/:token')
  @HttpCode(204)
  @Needs('keep')
  @ApiOperation({ operationId: 'revokeToken', summary: 'Revoke a token, at once' })
  @ApiNoContentResponse()
  async revokeToken(
    @Param('slug') slug: string,
    @Param('token', ParseUUIDPipe) id: string,
  ): Promise<void> {
    await this.tokens.revoke(await this.workspaces.bySlug(slug), id);
  }

  @Get('audit')
  @Needs('keep')
  @ApiOperation({ operationId: 'readAudit', summary: 'Who did what, newest first' })
  @ApiOkResponse({ type: AuditDto })
  async readAudit(@Query() filter: AuditQuery): Promise<AuditDto> {
    const { entries, hasMore } = await this.audit.list(filter);
    return { entries: entries.map(toAuditEntry), hasMore };
  }
}
