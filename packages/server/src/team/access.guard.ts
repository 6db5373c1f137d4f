import { Injectable, type CanActivate, type ExecutionContext } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { InjectRepository } from '@nestjs/typeorm';
import type { Repository } from 'typeorm';
import { Problem } from '../problems/problem.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { Actor, GuardedRequest } from './actor.js';
import { CAPABILITY, mayAsRole, mayAsToken, type Capability } from './capability.js';
import { isSame, csrfOf } from './secrets.js';
import { SAFE_METHODS } from './safe-methods.js';
import { SESSION_COOKIE } from './session-cookie.js';
import { SessionsService } from './sessions.service.js';
import { TokensService } from './tokens.service.js';

export const CSRF_HEADER = 'x-csrf-token';

/** Lets a request pass if whoever asks may do what the route says it needs. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    private readonly sessions: SessionsService,
    private readonly tokens: TokensService,
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const request = context.switchToHttp().getRequest<GuardedRequest>();
    const capability = this.reflector.getAllAndOverride<Capability | undefined>(CAPABILITY, [
      context.getHandler(),
      context.getClass(),
    ]);
    if (capability === undefined) throw refused('This route says nothing of who may use it.');
    if (capability === 'anyone') return true;
    const actor = await this.actorOf(request);
    const may =
      actor.kind === 'account'
        ? mayAsRole(actor.role, capability)
        : mayAsToken(actor.scopes, capability) && (await this.isAtHome(actor, request));
    if (!may) throw refused(whyNot(actor, capability));
    request.actor = actor;
    return true;
  }

  private async actorOf(request: GuardedRequest): Promise<Actor> {
    const { authorization } = request.headers;
    if (authorization !== undefined) {
      const secret = /^Bearer ([\w-]{1,200})$/.exec(authorization)?.[1];
      const actor = secret === undefined ? null : await this.tokens.actor(secret);
      if (actor === null)
        throw unauthorised('The token is unknown, was revoked, or its last day is over.');
      return actor;
    }
    const secret = (request.cookies as Readonly<Record<string, unknown>>)[SESSION_COOKIE];
    const actor = typeof secret === 'string' ? await this.sessions.actor(secret) : null;
    if (typeof secret !== 'string' || actor === null)
      throw unauthorised('Sign in first; a session ends after some days.');
    if (!SAFE_METHODS.has(request.method)) {
      const sent = request.headers[CSRF_HEADER];
      if (typeof sent !== 'string' || !isSame(sent, csrfOf(secret)))
        throw new Problem(
          'CSRF_MISSING',
          403,
          'Not from this page',
          `A change needs the header ${CSRF_HEADER} with the value that belongs to the session.`,
        );
    }
    return actor;
  }

  /** Does a route speak of the workspace that a token is for? */
  private async isAtHome(
    { workspaceId }: Extract<Actor, { kind: 'token' }>,
    { params }: GuardedRequest,
  ): Promise<boolean> {
    const { slug } = params;
    return typeof slug === 'string' && this.workspaces.existsBy({ id: workspaceId, slug });
  }
}

function whyNot(actor: Actor, capability: Capability): string {
  if (actor.kind === 'token')
    return `The token ${actor.name} may not do this, or not in this workspace.`;
  const needed = capability === 'draft' || capability === 'report' ? 'an editor' : 'a keeper';
  return `${actor.name} is signed in as ${actor.role}; this takes ${needed}.`;
}

function refused(detail: string): Problem {
  return new Problem('NOT_ALLOWED', 403, 'Not allowed', detail);
}

function unauthorised(detail: string): Problem {
  return new Problem('NOT_SIGNED_IN', 401, 'Not signed in', detail);
}
