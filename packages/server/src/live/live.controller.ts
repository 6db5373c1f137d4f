import { Controller, Param, Sse, type MessageEvent } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiProduces, ApiTags } from '@nestjs/swagger';
import { interval, map, merge, startWith, type Observable } from 'rxjs';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { LiveService } from './live.service.js';

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
  ) {}

  @Sse()
  @ApiOperation({
    operationId: 'listen',
    summary: 'What happens in a workspace, as server-sent events: each names what it touches',
  })
  @ApiProduces('text/event-stream')
  @ApiOkResponse({ schema: { type: 'string' } })
  async listen(@Param('slug') slug: string): Promise<Observable<MessageEvent>> {
    const { id } = await this.workspaces.bySlug(slug);
    return merge(
      this.live.of(id).pipe(map(({ topic }) => ({ data: { topic } }))),
      interval(BEAT_MS).pipe(
        startWith(0),
        map(() => ({ type: 'beat', data: '' })),
      ),
    );
  }
}
