import { applyDecorators, SetMetadata } from '@nestjs/common';
import { ApiExtension } from '@nestjs/swagger';

/** What an account may do; each includes those before it. */
export const ROLES = ['reader', 'editor', 'keeper'] as const;
export type Role = (typeof ROLES)[number];

/** What a machine's token may do. */
export const SCOPES = ['read', 'draft', 'report', 'fetch'] as const;
export type Scope = (typeof SCOPES)[number];

/**
 * What a route asks for. `anyone`: nothing; `self`: a signed-in person, for what is theirs alone; `read`: to
 * look; `fetch`: to get archives; `report`: to report machines; `draft`: to prepare; `post`: to write into the repository;
 * `keep`: to decide who may do what, and which workspaces there are.
 */
export const CAPABILITIES = [
  'anyone',
  'self',
  'read',
  'fetch',
  'report',
  'draft',
  'post',
  'keep',
] as const;
export type Capability = (typeof CAPABILITIES)[number];

const OF_ROLE: Readonly<Record<Role, readonly Capability[]>> = {
  reader: ['anyone', 'self', 'read', 'fetch'],
  editor: ['anyone', 'self', 'read', 'fetch', 'report', 'draft'],
  keeper: CAPABILITIES,
};

const OF_SCOPE: Readonly<Record<Scope, readonly Capability[]>> = {
  read: ['anyone', 'read'],
  draft: ['anyone', 'read', 'draft'],
  report: ['anyone', 'report'],
  fetch: ['anyone', 'fetch'],
};

export function mayAsRole(role: Role, capability: Capability): boolean {
  return OF_ROLE[role].includes(capability);
}

export function mayAsToken(scopes: readonly Scope[], capability: Capability): boolean {
  return scopes.some((scope) => OF_SCOPE[scope].includes(capability));
}

export const CAPABILITY = 'capability';

/** Says what a route, or every route of a controller, asks for. A route without it is answered to nobody. */
export function Needs(capability: Capability): ClassDecorator & MethodDecorator {
  return applyDecorators(
    SetMetadata(CAPABILITY, capability),
    ApiExtension('x-capability', capability),
  );
}
