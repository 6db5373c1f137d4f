import { Controller, Get, Param, Query } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import {
  behindNewest,
  placeOf,
  projectAlignment,
  ReleaseTerms,
  releaseTermsOf,
  type DraftBase,
  type ProjectLine,
} from '@deep-ledger/core';
import { ApiProblems } from '../problems/api-problems.js';
import { Problem } from '../problems/problem.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { ProjectDto, ProjectRequirementDto, ProjectQuery } from './project.dto.js';

@ApiTags('projects')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class ProjectController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
  ) {}

  @Get('project')
  @ApiOperation({
    operationId: 'readProject',
    summary: "One project's requirements, and beneath each what it alone brings along",
  })
  @ApiOkResponse({ type: ProjectDto })
  async project(
    @Param('slug') slug: string,
    @Query() { folder }: ProjectQuery,
  ): Promise<ProjectDto> {
    const { head, base } = await this.snapshots.read(await this.workspaces.bySlug(slug));
    const { workspace, records, lock, rows, today } = base;
    const resolution = lock?.resolution ?? null;
    const alignment =
      workspace === null
        ? null
        : projectAlignment(workspace, records, resolution, rows, folder, today);
    if (alignment === null) {
      throw new Problem(
        'PROJECT_UNKNOWN',
        404,
        'No such project',
        `This workspace has no readable project in ${folder}.`,
      );
    }
    const { project, lines, requiredBy, copies } = alignment;
    const terms = new ReleaseTerms(releaseTermsOf(workspace!), today);
    return {
      commit: head.commit,
      folder: project.folder,
      name: project.name,
      version: project.version,
      ships: project.ships,
      file: project.file,
      implicit: [...project.implicit],
      requirements: lines.map((line) => toRequirement(base, line, terms)),
      unresolved: project.unresolved.map(({ name, text, file, line }) => ({
        name,
        text,
        place: { file, line, column: 1 },
      })),
      requiredBy: requiredBy.map((one) => ({ folder: one.folder, name: one.name })),
      copies,
    };
  }
}

function toRequirement(
  { workspace, records, files }: DraftBase,
  { requirement, standing, isOff, copy, bringsAlone, bytesAlone }: ProjectLine,
  terms: ReleaseTerms,
): ProjectRequirementDto {
  const { kind, name, written, meaning, when, isEverywhere, file, span } = requirement;
  const record = meaning.kind === 'range' ? (records.get(name) ?? null) : null;
  const other =
    meaning.kind === 'project'
      ? workspace?.projects.find((one) => one.folder === meaning.folder)
      : undefined;
  const behind = copy === null ? null : behindNewest(record, copy, terms);
  const exception = standing?.kind === 'excepted' ? standing.exception : null;
  return {
    kind,
    name,
    summary: record?.summary ?? '',
    written,
    range: meaning.kind === 'range' ? meaning.text : null,
    when: [...when],
    isEverywhere,
    project: other === undefined ? null : { folder: other.folder, name: other.name },
    copy,
    standing: standing?.kind ?? null,
    isOff,
    agreed: workspace?.agreements.get(name)?.text ?? null,
    exception:
      exception === null
        ? null
        : { reason: exception.reason, owner: exception.owner, until: exception.until },
    newest: behind?.newest ?? copy,
    behind,
    deprecated: record?.releases.find(({ text }) => text === copy)?.deprecated ?? null,
    bringsAlone: [...bringsAlone],
    bytesAlone,
    place: placeOf(files, file, span),
  };
}
