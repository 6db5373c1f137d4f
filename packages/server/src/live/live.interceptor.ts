import {
  Injectable,
  type CallHandler,
  type ExecutionContext,
  type NestInterceptor,
} from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { InjectRepository } from '@nestjs/typeorm';
import type { Request } from 'express';
import { tap, type Observable } from 'rxjs';
import type { Repository } from 'typeorm';
import { asksOnly } from '../team/asks-only.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { LiveService } from './live.service.js';

/** Tells of every change that went well: the part of the route behind the workspace says what it touches. */
@Injectable()
export class LiveInterceptor implements NestInterceptor {
  constructor(
    private readonly reflector: Reflector,
    private readonly live: LiveService,
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
  ) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const request = context.switchToHttp().getRequest<Request>();
    const { slug } = request.params;
    if (asksOnly(context, this.reflector) || typeof slug !== 'string') return next.handle();
    const { path } = request.route as { readonly path: string };
    const [, rest = ''] = path.split('/:slug');
    const parts = rest.split('/').filter((part) => part !== '' && !part.startsWith(':'));
    // A post moves the branch, which is more than a draft.
    const topic = parts.at(-1) === 'post' ? 'post' : (parts[0] ?? 'workspace');
    return next.handle().pipe(tap({ complete: () => void this.tell(slug, topic) }));
  }

  private async tell(slug: string, topic: string): Promise<void> {
    const entity = await this.workspaces.findOneBy({ slug }).catch(() => null);
    if (entity !== null) await this.live.tell(entity.id, topic);
  }
}
