import { Controller, Param, Sse, type MessageEvent } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiProduces, ApiTags } from '@nestjs/swagger';
import {
  filter,
  interval,
  map,
  merge,
  startWith,
  switchMap,
  takeUntil,
  type Observable,
} from 'rxjs';
import { ApiProblems } from '../problems/api-problems.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { Presence } from '../team/presence.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { LiveService } from './live.service.js';

/** This often it is looked whether whoever listens still may. */
const LOOK_MS = 5_000;
/** So that proxies do not take a quiet stream for a dead one. */
const BEAT_MS = 20_000;

@ApiTags('live')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/events')
export class LiveController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly live: LiveService,
    private readonly presence: Presence,
  ) {}

  @Sse()
  @ApiOperation({
    operationId: 'listen',
    summary: 'What happens in a workspace, as server-sent events: each names what it touches',
  })
  @ApiProduces('text/event-stream')
  @ApiOkResponse({ schema: { type: 'string' } })
  async listen(
    @Param('slug') slug: string,
    @CurrentActor() actor: Actor,
  ): Promise<Observable<MessageEvent>> {
    const { id } = await this.workspaces.bySlug(slug);
    const events = this.live.of(id).pipe(map(({ topic, job }) => ({ data: { topic, job } })));
    const beats = interval(BEAT_MS).pipe(
      startWith(0),
      map(() => ({ type: 'beat', data: '' })),
    );
    const isGone = interval(LOOK_MS).pipe(
      // While the database is away nobody is sent away.
      switchMap(() => this.presence.isStillThere(actor).catch(() => true)),
      filter((isThere) => !isThere),
    );
    return merge(events, beats).pipe(takeUntil(merge(isGone, this.live.over)));
  }
}
