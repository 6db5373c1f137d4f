import { rangeLike, type Edit } from '../edit/index.js';
import type { Release } from '../registry/index.js';
import { releasesAhead, type StandingRequirement } from '../alignment/index.js';
import { rangeContains, requireVersion, versionStep } from '../version/index.js';
import { demandsEvidence } from './evidence.js';
import { remedy, type FindingDraft, type FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';

const DAY_MS = 86_400_000;

/**
 * A newer release exists of a package that projects require: one of the major version in use, or one beyond
 * it. Each is a finding of its own, because they ask for different decisions.
 */
export const behind: FindingRule = {
  kind: 'behind',
  severity: 'note',
  raise: (grounds) =>
    [...grounds.standing].flatMap(([name, standing]) => {
      const used = grounds.answers.copiesOf(name).at(-1);
      if (used === undefined) return [];
      const at = requireVersion(used);
      const newer = releasesAhead(grounds.stand.records.get(name) ?? null, used, grounds.terms);
      const isMajor = ({ version }: Release): boolean => versionStep(at, version) === 'major';
      const within = newer.filter((one) => !isMajor(one));
      const beyond = newer.filter(isMajor);
      // A copy that moves within its own line takes along no copy of another line.
      const isNear = ({ answer }: StandingRequirement): boolean =>
        answer === null || versionStep(requireVersion(answer), at) !== 'major';
      const near = within.length === 0 ? [] : standing.filter(isNear);
      return [
        ...raise(grounds, name, used, within, 'minor', near),
        ...raise(grounds, name, used, beyond, 'major', standing),
      ];
    }),
};

function raise(
  grounds: Grounds,
  name: string,
  used: string,
  newer: readonly Release[],
  mark: 'minor' | 'major',
  standing: readonly StandingRequirement[],
): readonly FindingDraft[] {
  const [first] = newer;
  const newest = newer.at(-1);
  if (first === undefined || newest === undefined) return [];
  const days = Math.round(
    (Date.parse(grounds.stand.today) - Date.parse(first.published.slice(0, 10))) / DAY_MS,
  );
  const count = newer.length === 1 ? 'one release' : `${newer.length} releases`;
  return [
    {
      package: name,
      mark: [mark],
      says: `${name} ${used} is ${count} behind ${newest.text}${mark === 'major' ? ', a major step' : ''}, for ${days} ${days === 1 ? 'day' : 'days'}`,
      evidence: [demandsEvidence(name)],
      remedies: [
        remedy(`move ${name} to ${newest.text}`, ...editsTo(grounds, name, newest, standing)),
      ],
    },
  ];
}

/** Ranges that do not admit the release are moved to it, each in its manner; the copy is re-resolved. */
function editsTo(
  { workspace }: Grounds,
  name: string,
  { text, version }: Release,
  standing: readonly StandingRequirement[],
): readonly Edit[] {
  const agreed = workspace.agreements.get(name);
  const edits: Edit[] = [];
  if (agreed !== undefined && !rangeContains(agreed.range, version))
    edits.push({ kind: 'set-shared', package: name, range: rangeLike(agreed.text, text) });
  const own = new Map<string, string[]>();
  const takers: string[] = [];
  for (const { requirement, range, text: written, standing: stands } of standing) {
    const isOwn = requirement.written !== 'shared' && !requirement.isEverywhere;
    if (!isOwn || stands.kind === 'excepted' || rangeContains(range, version)) continue;
    const wanted = rangeLike(written, text);
    if (agreed !== undefined) {
      // Who is out of line already has a finding of its own.
      if (stands.kind === 'equals') takers.push(requirement.project);
      continue;
    }
    own.set(wanted, [...(own.get(wanted) ?? []), requirement.project]);
  }
  if (takers.length > 0)
    edits.push({ kind: 'take-shared', package: name, projects: [...new Set(takers)].sort() });
  for (const [range, projects] of own)
    edits.push({ kind: 'set-range', package: name, range, projects });
  return [...edits, { kind: 'refresh', packages: [name] }];
}
