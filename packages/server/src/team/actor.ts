import { createParamDecorator, type ExecutionContext } from '@nestjs/common';
import type { Request } from 'express';
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
    };

export type AccountActor = Extract<Actor, { kind: 'account' }>;

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
