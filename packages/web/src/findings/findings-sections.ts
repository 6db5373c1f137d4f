import type { Finding } from '../api/client';
import type { ShownCause } from './findings-view';

/** Kinds that ask for the same sort of work, in the order in which one would begin. */
const SECTIONS: readonly (readonly [title: string, kinds: readonly Finding['kind'][]])[] = [
  [
    'Files and lockfile',
    ['unreadable', 'tampered', 'other-registry', 'unlocked', 'orphaned', 'withdrawn', 'platform'],
  ],
  ['Out of step', ['out-of-line', 'scattered', 'lockstep-broken', 'lapsed-exception']],
  ['Several copies', ['several-copies', 'unmet-peer', 'cycle', 'confusable']],
  ['Unused and undeclared', ['unused', 'undeclared', 'redundant']],
  ['Behind', ['behind', 'deprecated', 'too-new']],
  ['Licences and terms', ['licence', 'terms']],
  ['Loose ends', ['loose', 'idle-shared']],
];

export type Severity = Finding['severity'];

export interface FindingsSection {
  readonly title: string;
  readonly causes: readonly ShownCause[];
  readonly findings: number;
  readonly bySeverity: Readonly<Record<Severity, number>>;
}

const RANK: Readonly<Record<Severity, number>> = { error: 0, warning: 1, note: 2 };

/** The most severe of a cause's findings; of equals the first. */
export function worstOf({ findings }: ShownCause): Finding {
  return [...findings].sort((a, b) => RANK[a.severity] - RANK[b.severity])[0]!;
}

/** Causes under the section of their worst finding, each section with its sums; those without causes are left out. */
export function findingsSections(causes: readonly ShownCause[]): readonly FindingsSection[] {
  return SECTIONS.flatMap(([title, kinds]) => {
    const own = causes.filter((cause) => kinds.includes(worstOf(cause).kind));
    if (own.length === 0) return [];
    const bySeverity = { error: 0, warning: 0, note: 0 };
    for (const { findings } of own) for (const { severity } of findings) bySeverity[severity] += 1;
    const findings = bySeverity.error + bySeverity.warning + bySeverity.note;
    return [{ title, causes: own, findings, bySeverity }];
  });
}
