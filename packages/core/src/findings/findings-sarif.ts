import { LOCK_FILE } from '../workspace/index.js';
import { FINDING_KINDS, type Finding, type FindingKind } from './finding.js';

const LEVELS = { error: 'error', warning: 'warning', note: 'note' } as const;

const IN_WORDS: Readonly<Record<FindingKind, string>> = {
  unreadable: 'A manifest or lockfile cannot be read.',
  tampered: "A copy's integrity differs from the registry's.",
  'other-registry': 'A copy comes from another registry than the workspace now takes it from.',
  withdrawn: 'A copy of a release that was withdrawn.',
  unlocked: 'A requirement without an answer in the lockfile.',
  orphaned: 'A copy that nothing requires.',
  platform: 'A copy asks for a platform that the workspace does not offer.',
  'unmet-peer': 'A peer requirement is not met.',
  licence: 'A licence that the policy does not allow.',
  terms: 'Terms that nobody has accepted.',
  'out-of-line': 'A requirement differs from the shared version without a valid exception.',
  scattered: 'Projects require a package in different ranges, and nothing is agreed.',
  'lockstep-broken': 'Members of a lockstep set are in use at different versions.',
  'lapsed-exception': 'An exception whose last day is over.',
  'several-copies': 'A package has more than one copy.',
  cycle: 'Projects require each other in a cycle.',
  confusable: 'Two names are easily taken for each other.',
  undeclared: 'Source uses a package that its project does not declare.',
  unused: 'Nothing in the source refers to a requirement.',
  redundant: 'A requirement that a required project already brings.',
  deprecated: 'A copy of a deprecated release.',
  'too-new': "A copy of a release younger than the policy's age.",
  loose: 'A range without an upper bound.',
  'idle-shared': 'A line of the shared file that serves nothing.',
  behind: 'A newer release exists.',
};

/** A log in the Static Analysis Results Interchange Format, 2.1.0 (OASIS), as far as findings fill it. */
export interface SarifLog {
  readonly $schema: string;
  readonly version: '2.1.0';
  readonly runs: readonly object[];
}

/**
 * Findings as a SARIF log. A finding without a place of its own stands at the beginning of the lockfile, since
 * it is about what that says. Muted findings are there, as suppressed.
 * @param terms version of the tool; the commit, where the workspace stands on one; why findings are muted, by name
 */
export function findingsAsSarif(
  findings: readonly Finding[],
  terms: {
    readonly version: string;
    readonly commit: string | null;
    readonly muted: ReadonlyMap<string, { readonly reason: string }>;
  },
): SarifLog {
  return {
    $schema:
      'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'Deep Ledger',
            semanticVersion: terms.version,
            rules: FINDING_KINDS.map((id) => ({ id, shortDescription: { text: IN_WORDS[id] } })),
          },
        },
        columnKind: 'utf16CodeUnits',
        ...(terms.commit === null ? {} : { properties: { commit: terms.commit } }),
        results: findings.map((finding) => resultOf(finding, terms.muted.get(finding.id) ?? null)),
      },
    ],
  };
}

function resultOf(finding: Finding, muted: { readonly reason: string } | null): object {
  const { id, kind, severity, says, evidence, remedies } = finding;
  const places = evidence.flatMap((one) => (one.kind === 'place' ? [one.place] : []));
  const [first = { file: LOCK_FILE, line: 1, column: 1 }, ...others] = places;
  const cure =
    remedies.length === 0
      ? ''
      : ` What can be done: ${remedies.map((one) => one.says).join('; or ')}.`;
  const physical = ({ file, line, column }: typeof first): object => ({
    physicalLocation: {
      artifactLocation: { uri: encodeURI(file) },
      region: { startLine: line, startColumn: column },
    },
  });
  return {
    ruleId: kind,
    ruleIndex: FINDING_KINDS.indexOf(kind),
    level: LEVELS[severity],
    message: { text: `${says}.${cure}` },
    locations: [physical(first)],
    ...(others.length === 0
      ? {}
      : { relatedLocations: others.map((place, i) => ({ id: i + 1, ...physical(place) })) }),
    partialFingerprints: { 'finding/v1': id },
    ...(muted === null
      ? {}
      : { suppressions: [{ kind: 'inSource', justification: muted.reason }] }),
  };
}
