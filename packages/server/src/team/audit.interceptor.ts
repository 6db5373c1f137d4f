import {
  Injectable,
  type CallHandler,
  type ExecutionContext,
  type NestInterceptor,
} from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { concatMap, from, map, type Observable } from 'rxjs';
import type { GuardedRequest } from './actor.js';
import { AuditService } from './audit.service.js';
import { CAPABILITY, type Capability } from './capability.js';
import { SAFE_METHODS } from './safe-methods.js';

/** Routes that prepare, write or decide; looking and reporting leave no record. */
const RECORDED: readonly Capability[] = ['self', 'draft', 'post', 'keep'];

/** Records everything that changes something and went well. Bodies are left out: they may hold secrets. */
@Injectable()
export class AuditInterceptor implements NestInterceptor {
  constructor(
    private readonly reflector: Reflector,
    private readonly audit: AuditService,
  ) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const request = context.switchToHttp().getRequest<GuardedRequest>();
    const { actor, method, params } = request;
    const capability = this.reflector.getAllAndOverride<Capability | undefined>(CAPABILITY, [
      context.getHandler(),
      context.getClass(),
    ]);
    const isRecorded = capability !== undefined && RECORDED.includes(capability);
    if (actor === undefined || SAFE_METHODS.has(method) || !isRecorded) return next.handle();
    const { slug, ...subjects } = params as Readonly<Record<string, string>>;
    const entry = {
      actorKind: actor.kind,
      actor: actor.name,
      action: operationOf(context),
      workspace: slug ?? null,
      subject: Object.values(subjects).join(' ') || null,
    };
    return next
      .handle()
      .pipe(concatMap((answer: unknown) => from(this.audit.record(entry)).pipe(map(() => answer))));
  }
}

/** The operation's name in the interface's description. */
function operationOf(context: ExecutionContext): string {
  const described = Reflect.getMetadata('swagger/apiOperation', context.getHandler()) as
    | { readonly operationId?: string }
    | undefined;
  return described?.operationId ?? context.getHandler().name;
}
