import type { Edit } from '../edit/index.js';
import { isPrerelease } from '../version/index.js';
import { isRuntimeModule, knownPackage, type PlacedReference } from '../scan/index.js';
import { nodeOf, whatTheyBring } from '../graph/index.js';
import { chainEvidence, projectName } from './evidence.js';
import { decision, remedy, type Evidence, type FindingDraft, type FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';

const MOST_PLACES = 20;

/** Source refers to a package that its project does not declare; says which chain happens to bring it. */
export const undeclared: FindingRule = {
  kind: 'undeclared',
  severity: 'warning',
  raise: (grounds) => {
    if (grounds.stand.use === null || grounds.workspace.policy.transitiveUse === 'allowed')
      return [];
    return grounds.workspace.projects.flatMap(({ folder, name, requirements, implicit }) => {
      const declared = new Set([name, ...implicit, ...requirements.map((one) => one.name)]);
      const references = [...(grounds.stand.use!.get(folder)?.references ?? [])].filter(
        ([wanted]) => !declared.has(wanted) && !isRuntimeModule(wanted),
      );
      return [...byKnownName(grounds, references)].flatMap(([wanted, places]) =>
        raise(grounds, folder, wanted, places),
      );
    });
  },
};

/** The same references by the packages that the registry or the workspace knows, where their specifiers name one. */
function byKnownName(
  { stand, workspace }: Grounds,
  references: readonly (readonly [string, readonly PlacedReference[]])[],
): ReadonlyMap<string, readonly PlacedReference[]> {
  const projects = new Set(workspace.projects.map(({ name }) => name));
  const isKnown = (name: string): boolean => projects.has(name) || stand.records.get(name) != null;
  const known = new Map<string, PlacedReference[]>();
  for (const [guess, places] of references) {
    for (const place of places) {
      const name = knownPackage(place.specifier, isKnown) ?? guess;
      known.set(name, [...(known.get(name) ?? []), place]);
    }
  }
  return known;
}

function raise(
  grounds: Grounds,
  folder: string,
  wanted: string,
  places: readonly PlacedReference[],
): readonly FindingDraft[] {
  const { stand, workspace } = grounds;
  const own = workspace.projects.find(({ name }) => name === wanted);
  const brought = own === undefined ? broughtBy(grounds, folder, wanted) : null;
  const isKnown = own !== undefined || brought !== null || stand.records.get(wanted) != null;
  // A name that no registry and no chain knows, and that only a comment or a pattern has, is a word and no package.
  if (!isKnown && !places.some(({ isSure }) => isSure)) return [];
  const range =
    own !== undefined
      ? 'workspace'
      : workspace.agreements.has(wanted)
        ? 'shared'
        : rangeInUse(grounds, wanted, brought?.version ?? null);
  const isSure = places.some((one) => one.isSure);
  const declare = (asked: string): Edit => ({
    kind: 'add-requirement',
    package: wanted,
    range: asked,
    as: 'runtime',
    projects: [folder],
  });
  const how =
    brought !== null
      ? `${brought.name} ${brought.version} happens to come in`
      : own !== undefined
        ? 'it is a project of the workspace'
        : 'nothing brings it in';
  return [
    {
      project: folder,
      package: wanted,
      says: `${projectName(grounds, folder)} uses ${wanted} in ${places.length} ${places.length === 1 ? 'place' : 'places'} and does not declare it; ${how}`,
      severity: isSure ? 'warning' : 'note',
      evidence: [
        ...places
          .slice(0, MOST_PLACES)
          .map(({ file, line, column, specifier, form }): Evidence => ({
            kind: 'place',
            says: `${form}: ${specifier}`,
            place: { file, line, column },
          })),
        ...(brought?.chain ?? []),
      ],
      remedies: [
        range === null
          ? decision(
              `declare ${wanted} in ${projectName(grounds, folder)}, at a range of your choice`,
              declare('*'),
            )
          : remedy(`declare ${wanted} ${range} in ${projectName(grounds, folder)}`, declare(range)),
      ],
    },
  ];
}

function broughtBy(
  grounds: Grounds,
  folder: string,
  wanted: string,
): { name: string; version: string; chain: readonly Evidence[] } | null {
  const node = grounds.node(folder);
  if (node === null) return null;
  const { graph } = grounds;
  for (const reached of whatTheyBring(graph, [node])) {
    const found = nodeOf(graph, reached.node);
    if (found.kind !== 'copy' || found.copy.name !== wanted) continue;
    const { name, version } = found.copy;
    return { name, version, chain: chainEvidence(grounds, name, version) };
  }
  return null;
}

/**
 * The range that most projects ask for, else one around the copy that comes in or the newest release that is let in;
 * null: nothing is known of it.
 */
function rangeInUse(grounds: Grounds, name: string, brought: string | null): string | null {
  const count = new Map<string, number>();
  for (const { text } of grounds.standing.get(name) ?? [])
    count.set(text, (count.get(text) ?? 0) + 1);
  const [most] = [...count].sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1));
  if (most !== undefined) return most[0];
  const version =
    brought ?? grounds.answers.copiesOf(name).at(-1) ?? newestLetIn(grounds, name) ?? undefined;
  return version === undefined ? null : `^${version}`;
}

function newestLetIn({ stand, terms }: Grounds, name: string): string | null {
  const releases = stand.records.get(name)?.releases ?? [];
  return (
    releases.findLast((one) => !isPrerelease(one.version) && terms.letsIn(name, one))?.text ?? null
  );
}
