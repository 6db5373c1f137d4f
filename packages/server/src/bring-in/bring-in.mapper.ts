import { type Proposal } from '@deep-ledger/core';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { BringInDto, BroughtInDto, SampleDto, TriedDocumentDto } from './bring-in.dto.js';
import type { BroughtInPlain } from './bring-in.worker.js';
import type { Looked } from './bring-in-thread.js';
import type { TriedDocument } from './bring-in.service.js';

const MOST_PATHS = 500;
const MOST_EMPTY = 20;
const MOST_UNRESOLVED = 50;
const MOST_UNREAD = 200;
const MOST_SHOWN = 200_000;
const MOST_DOCUMENT = 20_000;

export function toBringIn(
  { name, bringIn }: WorkspaceEntity,
  commit: string,
  looked: Looked,
  { manifests, shared, adopt, unread }: Proposal,
): BringInDto {
  return {
    commit,
    name,
    ...looked,
    // Lists of the interface can be written to.
    manifests: manifests.map(({ form, paths, evidence, isSure }) => ({
      form: structuredClone(form) as BringInDto['manifests'][number]['form'],
      files: paths.length,
      first: paths[0]!,
      evidence: [...evidence],
      isSure,
    })),
    shared,
    adopt,
    unread: unread.slice(0, MOST_UNREAD),
    unreadCount: unread.length,
    prepared: bringIn,
  };
}

export function toBroughtIn({ workspace, shapes, sample, ...found }: BroughtInPlain): BroughtInDto {
  return {
    ...found,
    workspace:
      workspace === null
        ? null
        : {
            ...workspace,
            unresolved: workspace.unresolved.slice(0, MOST_UNRESOLVED),
            unresolvedCount: workspace.unresolved.length,
          },
    problems: [...found.problems],
    shapes: shapes.map(({ patterns, paths, empty, places, ...figures }) => ({
      ...figures,
      patterns: [...patterns],
      files: paths.length,
      paths: paths.slice(0, MOST_PATHS),
      places: [...places],
      empty: empty.slice(0, MOST_EMPTY),
      emptyCount: empty.length,
    })),
    sample: sample === null ? null : toSample(sample),
  };
}

function toSample({
  text,
  marks,
  lines,
  ...sample
}: NonNullable<BroughtInPlain['sample']>): SampleDto {
  return {
    ...sample,
    text: text.slice(0, MOST_SHOWN),
    isCut: text.length > MOST_SHOWN,
    marks: marks.flatMap(({ span: [start, end], kind }) =>
      end > MOST_SHOWN ? [] : [{ start, end, kind }],
    ),
    lines: [...lines],
  };
}

export function toTriedDocument({ document, ...tried }: TriedDocument): TriedDocumentDto {
  return {
    ...tried,
    document: document?.slice(0, MOST_DOCUMENT) ?? null,
    isCut: (document?.length ?? 0) > MOST_DOCUMENT,
  };
}
