import { Controller, Get, Param, Query } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { GitFiles } from '../git/git-files.js';
import { GitHistory } from '../git/git-history.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Problem } from '../problems/problem.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { FilePartDto, FileQuery } from './file.dto.js';

/** Before and after the line that is asked for. */
const LINES_AROUND = 200;

@ApiTags('files')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class FileController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly history: GitHistory,
    private readonly files: GitFiles,
  ) {}

  @Get('file')
  @ApiOperation({ operationId: 'readFile', summary: 'Part of a file as it stood at a commit' })
  @ApiOkResponse({ type: FilePartDto })
  async read(
    @Param('slug') slug: string,
    @Query() { path, at, line = 1 }: FileQuery,
  ): Promise<FilePartDto> {
    const entity = await this.workspaces.bySlug(slug);
    const { head } = await this.snapshots.read(entity);
    const { commit, subject } =
      at === undefined ? head : await this.history.commitOf(entity.id, at);
    const text = await this.files.readFile(entity.id, commit, path);
    if (text === null)
      throw new Problem(
        'FILE_UNKNOWN',
        404,
        'No such file',
        `There is no file ${path} at ${commit.slice(0, 7)}.`,
      );
    if (text.includes('\0'))
      throw new Problem('FILE_NOT_TEXT', 422, 'Not a text', `${path} is no text.`);
    const all = text.split('\n');
    if (all.at(-1) === '') all.pop();
    const first = Math.max(0, Math.min(line, all.length) - 1 - LINES_AROUND);
    const lines = all.slice(first, first + 2 * LINES_AROUND + 1);
    return { commit, subject, path, firstLine: first + 1, lines, totalLines: all.length };
  }
}
