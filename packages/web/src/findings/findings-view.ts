import type { Finding, Findings } from '../api/client';
import { csvText } from '../parts/csv';

/** Which findings are shown, as the address has it. */
export interface FindingsView {
  readonly kind: string;
  readonly severity: string;
  readonly project: string;
  /** Who made the commit with which it appeared. */
  readonly by: string;
  /** The day since which it is there, at the earliest. */
  readonly since: string;
  readonly show: 'open' | 'muted';
  readonly words: string;
}

export function viewOf(params: URLSearchParams): FindingsView {
  const of = (key: string): string => params.get(key) ?? '';
  return {
    kind: of('kind'),
    severity: of('severity'),
    project: of('project'),
    by: of('by'),
    since: of('since'),
    show: of('show') === 'muted' ? 'muted' : 'open',
    words: of('q'),
  };
}

export function isShown(view: FindingsView, finding: Finding): boolean {
  const { kind, severity, project, since, says, id, muted } = finding;
  return (
    (view.show === 'muted') === (muted !== null) &&
    (view.kind === '' || view.kind === kind) &&
    (view.severity === '' || view.severity === severity) &&
    (view.project === '' || view.project === project) &&
    (view.by === '' || view.by === since?.author) &&
    (view.since === '' || since === null || (!since.isEarlier && since.at >= view.since)) &&
    `${says} ${id}`.toLowerCase().includes(view.words.toLowerCase())
  );
}

export interface ShownCause {
  readonly key: string;
  readonly says: string;
  readonly findings: readonly Finding[];
}

/** The causes with those of their findings that are shown, in their order. */
export function shownCauses(
  { findings, causes }: Findings,
  view: FindingsView,
): readonly ShownCause[] {
  const shown = new Map(
    findings.filter((finding) => isShown(view, finding)).map((finding) => [finding.id, finding]),
  );
  return causes
    .map(({ key, says, findings: ids }) => ({
      key,
      says,
      findings: ids.flatMap((id) => shown.get(id) ?? []),
    }))
    .filter((cause) => cause.findings.length > 0);
}

const HEAD = [
  'kind',
  'severity',
  'project',
  'package',
  'version',
  'says',
  'place',
  'since',
  'muted until',
];

/** Findings as CSV (RFC 4180), in their order. */
export function findingsCsv(findings: readonly Finding[]): string {
  const lines = findings.map(
    ({ kind, severity, project, package: name, version, says, evidence, since, muted }) => {
      const place = evidence.find((one) => one.place !== null)?.place;
      return [
        kind,
        severity,
        project ?? '',
        name ?? '',
        version ?? '',
        says,
        place == null ? '' : `${place.file}:${place.line}`,
        since?.commit ?? '',
        muted?.until ?? '',
      ];
    },
  );
  return csvText([HEAD, ...lines]);
}
