import {
  placeOf,
  spanOf,
  rangeFor,
  type CopyDemand,
  type DraftBase,
  type Policy,
  type Release,
  type AlignmentRow,
  type StandingRequirement,
} from '@deep-ledger/core';
import type {
  PanelDemandDto,
  PanelRequirementDto,
  AlignmentRowDto,
  SpanDto,
} from './alignment.dto.js';

/** @param projects index of each project by its folder */
export function toRow(row: AlignmentRow, projects: ReadonlyMap<string, number>): AlignmentRowDto {
  return {
    ...row,
    releases: [...row.releases],
    marks: [...row.marks],
    reaches: row.reaches.map((reach) => ({ ...reach, span: toSpan(reach.span) })),
    cells: row.cells.map((cell) => ({ ...cell, project: projects.get(cell.project)! })),
  };
}

function toSpan(span: readonly [number, number] | null): SpanDto | null {
  return span === null ? null : { first: span[0], last: span[1] };
}

/** @param releases those on the row's rail */
export function toPanelRequirement(
  { files, workspace }: DraftBase,
  releases: readonly Release[],
  { requirement, range, text, standing, isOff, answer }: StandingRequirement,
): PanelRequirementDto {
  const { project, kind, written, file, span } = requirement;
  return {
    folder: project,
    project: workspace?.projects.find(({ folder }) => folder === project)?.name ?? project,
    kind,
    written,
    range: text,
    span: toSpan(spanOf(releases, range)),
    copy: answer,
    standing: standing.kind,
    isOff,
    exception:
      standing.kind === 'excepted'
        ? {
            reason: standing.exception.reason,
            owner: standing.exception.owner,
            until: standing.exception.until,
          }
        : null,
    place: placeOf(files, file, span),
  };
}

/** @param releases those on the row's rail */
export function toPanelDemand(
  { owner, range, asked, answer }: CopyDemand,
  releases: readonly Release[],
  policy: Policy,
  name: string,
): PanelDemandDto {
  return {
    owner: `${owner.name} ${owner.version}`,
    range,
    asked,
    span: toSpan(spanOf(releases, rangeFor(policy, name, range))),
    copy: answer,
  };
}
