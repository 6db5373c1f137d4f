import {
  Injectable,
  type CallHandler,
  type ExecutionContext,
  type NestInterceptor,
} from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import type { Request, Response } from 'express';
import { from, lastValueFrom, type Observable } from 'rxjs';
import { endsWithin } from '../ends-within.js';
import { asksOnly } from '../team/asks-only.js';
import { notingAwaited, type AwaitedWork } from './awaited-work.js';
import { toJob } from './jobs.mapper.js';
import { JobsService } from './jobs.service.js';
import { patienceOf } from './preference.js';

/** How often it is seen whether a job has begun that a request waits for. */
const LOOK_MS = 250;

/**
 * Answers a question that waits for a job with 202 and the job's address, once the caller has waited as long as it wanted
 * to. The same question is answered at once when the job is done. Only for callers that prefer this.
 */
@Injectable()
export class LaterAnswers implements NestInterceptor {
  constructor(
    private readonly reflector: Reflector,
    private readonly jobs: JobsService,
  ) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const http = context.switchToHttp();
    const request = http.getRequest<Request>();
    const patience = patienceOf(request.get('prefer'));
    const isStream = request.accepts(['json', 'text/event-stream']) === 'text/event-stream';
    if (patience === null || isStream || !asksOnly(context, this.reflector)) return next.handle();
    const awaited: AwaitedWork[] = [];
    const answer = notingAwaited(awaited, () =>
      lastValueFrom(next.handle(), { defaultValue: undefined }),
    );
    return from(this.orJob(answer, awaited, patience, http.getResponse<Response>()));
  }

  private async orJob(
    answer: Promise<unknown>,
    awaited: readonly AwaitedWork[],
    patience: number,
    response: Response,
  ): Promise<unknown> {
    // Nobody may wait for it in the end; whoever asks again learns what went wrong.
    const settled = answer.catch(() => undefined);
    for (let ms = patience; !(await endsWithin(settled, ms)); ms = LOOK_MS) {
      const job = await this.jobs.underWay(awaited);
      if (job === null || response.headersSent) continue;
      const { slug } = response.req.params as { readonly slug: string };
      response
        .status(202)
        .location(`/api/workspaces/${encodeURIComponent(slug)}/jobs/${job.id}`)
        .set('preference-applied', 'respond-async');
      return toJob(job);
    }
    return answer;
  }
}
