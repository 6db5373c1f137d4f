import {
  CLEAR_EVERYTHING,
  FINDING_KINDS,
  sinceWhen,
  type Clearing,
  type Evidence,
  type Figures,
  type LeftReason,
  type Remedy,
  type Since,
  type TriedRemedy,
} from '@deep-ledger/core';
import { toEdit } from '../drafts/draft.mapper.js';
import type { CommitFiguresEntity } from './commit-figures.entity.js';
import type {
  ClearingDto,
  EvidenceDto,
  FiguresDto,
  FindingsDto,
  PointDto,
  RankedRemedyDto,
  RemedyDto,
  SinceDto,
} from './findings.dto.js';
import type { WorkspaceFindings } from './findings.service.js';
import type { HistoryState } from './history.service.js';

export function toFindings(
  commit: string,
  { findings, causes, muted, scanned }: WorkspaceFindings,
  remedies: readonly TriedRemedy[],
  { points, isNewestDone, total }: HistoryState,
): FindingsDto {
  const isHistoryKnown = points.length === total;
  const since = isNewestDone ? sinceWhen(points) : new Map<string, Since<CommitFiguresEntity>>();
  return {
    commit,
    isHistoryKnown,
    findings: findings.map(({ evidence, remedies: own, ...finding }) => {
      const began = since.get(finding.id);
      const mute = muted.get(finding.id);
      return {
        ...finding,
        evidence: evidence.map(toEvidence),
        remedies: own.map(toRemedy),
        muted:
          mute === undefined ? null : { reason: mute.reason, owner: mute.owner, until: mute.until },
        since: began === undefined ? null : toSince(began),
      };
    }),
    causes: causes.map(({ key, says, findings: of }) => ({
      key,
      says,
      findings: of.map(({ id }) => id),
    })),
    remedies: remedies.map(toRankedRemedy),
    scanned,
  };
}

function toSince({ point, isEarlier }: Since<CommitFiguresEntity>): SinceDto {
  const { commit, subject, author, at } = point;
  return { commit, subject, author, at: at.toISOString(), isEarlier };
}

function toEvidence(evidence: Evidence): EvidenceDto {
  const none: EvidenceDto = {
    kind: evidence.kind,
    says: evidence.says,
    place: null,
    chain: null,
    package: null,
  };
  switch (evidence.kind) {
    case 'place':
      return { ...none, place: evidence.place };
    case 'chain':
      return { ...none, chain: [...evidence.chain] };
    case 'demands':
      return { ...none, package: evidence.package };
  }
}

function toRemedy({ says, edits, isDecision }: Remedy): RemedyDto {
  return { says, edits: edits.map(toEdit), isDecision };
}

export function toRankedRemedy(remedy: TriedRemedy): RankedRemedyDto {
  const { clears, raises, touches } = remedy;
  return { ...toRemedy(remedy), clears: [...clears], raises: [...raises], touches };
}

export function toClearing(commit: string, { edits, cleared, left }: Clearing): ClearingDto {
  return {
    commit,
    name: CLEAR_EVERYTHING,
    edits: edits.map(toEdit),
    cleared: cleared.map(({ id }) => id),
    left: left.map(({ finding, why }) => ({
      finding: finding.id,
      says: finding.says,
      why: whyWords(why),
      isPerhaps: why.kind === 'perhaps',
    })),
  };
}

function whyWords(why: LeftReason): string {
  switch (why.kind) {
    case 'no-remedy':
      return 'nothing in the manifests would clear it';
    case 'decision':
      return `somebody has to decide: ${why.says}`;
    case 'perhaps':
      return `nobody can tell from the source alone: ${why.says}`;
    case 'major-step':
      return `a major step of ${why.packages.join(', ')}: ${why.says}`;
    case 'no-answer':
      return `without an answer: ${why.says}`;
    case 'raises':
      return `would bring another finding: ${why.findings[0]}`;
    case 'in-vain':
      return `tried without effect: ${why.says}`;
    case 'after-post':
      return `can be cleared once this is posted: ${why.says}`;
  }
}

export function toFigures({ byKind, bySeverity, ...rest }: Figures): FiguresDto {
  return {
    ...rest,
    byKind: FINDING_KINDS.map((kind) => ({ kind, count: byKind[kind] ?? 0 })).filter(
      ({ count }) => count > 0,
    ),
    ...bySeverity,
  };
}

export function toPoint({ commit, subject, author, at, figures }: CommitFiguresEntity): PointDto {
  return { commit, subject, author, at: at.toISOString(), ...toFigures(figures) };
}
