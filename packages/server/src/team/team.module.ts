import { Module } from '@nestjs/common';
import { APP_GUARD, APP_INTERCEPTOR } from '@nestjs/core';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { AccessGuard } from './access.guard.js';
import { AccountEntity, OneTimeLinkEntity, SessionEntity } from './account.entity.js';
import { AccountsService } from './accounts.service.js';
import { AuditEntity } from './audit.entity.js';
import { AuditInterceptor } from './audit.interceptor.js';
import { AuditService } from './audit.service.js';
import { Presence } from './presence.js';
import { SessionController } from './session.controller.js';
import { SessionsService } from './sessions.service.js';
import { SignInLimits } from './sign-in-limits.js';
import { TeamController } from './team.controller.js';
import { TokenEntity } from './token.entity.js';
import { TokensService } from './tokens.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([
      AccountEntity,
      SessionEntity,
      OneTimeLinkEntity,
      TokenEntity,
      AuditEntity,
      WorkspaceEntity,
    ]),
    WorkspacesModule,
  ],
  controllers: [SessionController, TeamController],
  providers: [
    AccountsService,
    SessionsService,
    TokensService,
    AuditService,
    SignInLimits,
    Presence,
    Clock,
    { provide: APP_GUARD, useClass: AccessGuard },
    { provide: APP_INTERCEPTOR, useClass: AuditInterceptor },
  ],
  exports: [AccountsService, Presence],
})
export class TeamModule {}
