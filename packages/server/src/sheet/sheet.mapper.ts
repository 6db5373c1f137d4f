import {
  placeOf,
  spanOf,
  type Candidate,
  type LockChange,
  type Release,
  type SheetRow,
  type StandingRequirement,
} from '@deep-ledger/core';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { BenchRequirementDto, CandidateDto, LockChangeDto, SheetRowDto, SpanDto } from './sheet.dto.js';

export function toRow(row: SheetRow): SheetRowDto {
  return {
    ...row,
    releases: [...row.releases],
    marks: [...row.marks],
    reaches: row.reaches.map((reach) => ({ ...reach, span: toSpan(reach.span) })),
  };
}

function toSpan(span: readonly [number, number] | null): SpanDto | null {
  return span === null ? null : { first: span[0], last: span[1] };
}

/** @param releases those on the row's rail */
export function toBenchRequirement(
  snapshot: Snapshot,
  releases: readonly Release[],
  { requirement, range, text, standing, isOff, answer }: StandingRequirement,
): BenchRequirementDto {
  const { project, kind, written, file, span } = requirement;
  return {
    folder: project,
    project: snapshot.workspace?.projects.find(({ folder }) => folder === project)?.name ?? project,
    kind,
    written,
    range: text,
    span: toSpan(spanOf(releases, range)),
    copy: answer,
    standing: standing.kind,
    isOff,
    exception: standing.kind === 'excepted' ? { reason: standing.exception.reason, owner: standing.exception.owner, until: standing.exception.until } : null,
    place: placeOf(snapshot.files, file, span),
  };
}

export function toCandidate({ version, range, allowedBy, manifests, result, isNewest, isAgreed, deprecated }: Candidate): CandidateDto {
  const isAnswered = result.kind === 'answered';
  return {
    version,
    range,
    allowedBy,
    manifests,
    isAnswered,
    copies: isAnswered ? result.copies : null,
    off: isAnswered ? result.off : null,
    change: isAnswered ? toChange(result.change) : null,
    sentences: isAnswered ? [] : [...result.sentences],
    isNewest,
    isAgreed,
    deprecated,
  };
}

export function toChange({ entered, left, moved }: LockChange): LockChangeDto {
  return { entered: [...entered], left: [...left], moved: [...moved] };
}
