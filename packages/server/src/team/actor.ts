import { createParamDecorator, type ExecutionContext } from '@nestjs/common';
import type { Request } from 'express';
import { Problem } from '../problems/problem.js';
import type { Role, Scope } from './capability.js';

/** Who asks. */
export type Actor =
  | {
      readonly kind: 'account';
      readonly id: string;
      /** As it is shown and written into commits. */
      readonly name: string;
      readonly email: string;
      readonly role: Role;
      /** The hash of the session's secret. */
      readonly session: string;
    }
  | {
      readonly kind: 'token';
      readonly id: string;
      readonly name: string;
      readonly scopes: readonly Scope[];
      readonly workspaceId: string;
      /** The account that made it: what the token does, that person had a part in. */
      readonly makerId: string;
    };

export type AccountActor = Extract<Actor, { kind: 'account' }>;

/** The account that has a part in what somebody does. */
export function accountOf(actor: Actor): string {
  return actor.kind === 'account' ? actor.id : actor.makerId;
}

/** The person who asks. @throws Problem NOT_ALLOWED for a token */
export function personOf(actor: Actor): AccountActor {
  if (actor.kind === 'account') return actor;
  throw new Problem('NOT_ALLOWED', 403, 'Not allowed', 'Approval is a person’s, not a token’s.');
}

/** Whose a commit is. A token has no address of its own; `.invalid` never belongs to anyone (RFC 2606). */
export function authorOf(actor: Actor): { readonly name: string; readonly email: string } {
  return actor.kind === 'account'
    ? { name: actor.name, email: actor.email }
    : { name: actor.name, email: `${actor.id}@token.invalid` };
}

/** A request that the guard has looked at. */
export interface GuardedRequest extends Request {
  actor?: Actor;
}

/** Who asks, behind a route that does not answer anyone. */
export const CurrentActor = createParamDecorator((_: unknown, context: ExecutionContext): Actor => {
  const { actor } = context.switchToHttp().getRequest<GuardedRequest>();
  if (actor === undefined) throw new Error('a route that answers anyone asked for its actor');
  return actor;
});

/** The person who asks, behind a route that answers accounts alone. */
export const CurrentAccount = createParamDecorator(
  (_: unknown, context: ExecutionContext): AccountActor => {
    const { actor } = context.switchToHttp().getRequest<GuardedRequest>();
    if (actor?.kind !== 'account') throw new Error('a route for accounts was answered to another');
    return actor;
  },
);
