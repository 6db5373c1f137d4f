import type { ExecutionContext } from '@nestjs/common';
import type { Reflector } from '@nestjs/core';
import type { Request } from 'express';
import { CAPABILITY, type Capability } from './capability.js';
import { SAFE_METHODS } from './safe-methods.js';

/** Does a request change nothing? Some questions are asked by POST because they are long. */
export function asksOnly(context: ExecutionContext, reflector: Reflector): boolean {
  const { method } = context.switchToHttp().getRequest<Request>();
  const capability = reflector.getAllAndOverride<Capability>(CAPABILITY, [
    context.getHandler(),
    context.getClass(),
  ]);
  return SAFE_METHODS.has(method) || capability === 'read';
}
