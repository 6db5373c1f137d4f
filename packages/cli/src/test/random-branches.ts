/** Deterministic numbers (mulberry32, by Tommy Ettinger, public domain). */
export class Dice {
  constructor(private state: number) {}

  /** 0 inclusive to limit exclusive. */
  below(limit: number): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return Math.floor((((t ^ (t >>> 14)) >>> 0) / 4294967296) * limit);
  }

  of<T>(list: readonly T[]): T {
    return list[this.below(list.length)]!;
  }
}

const PACKAGES = ['elm', 'fir', 'ash', 'oak', 'yew', 'box', 'bay', 'fig'];
const VERSIONS = ['1.0.0', '1.1.0', '1.2.0', '2.0.0', '2.1.0', '3.0.0'];
const RANGES = ['^1.0.0', '^1.1.0', '^2.0.0', '>=1.1.0 <3.0.0', '*', '~1.2.0'];
export const PROJECTS = ['desk', 'gate', 'lift', 'map', 'radio'];

/** Registry documents in which later packages are required by earlier ones. */
export function documentsOf(dice: Dice): ReadonlyMap<string, object> {
  return new Map(
    PACKAGES.map((name, i) => [
      `${name}.json`,
      {
        name,
        releases: VERSIONS.map((version) => ({
          version,
          published: '2024-01-01T00:00:00Z',
          needs: Object.fromEntries(
            PACKAGES.slice(i + 1)
              .filter(() => dice.below(4) === 0)
              .map((other) => [other, dice.of(RANGES)]),
          ),
          archive: {
            path: `/archives/${name}/${version}`,
            integrity: `sha512-${'A'.repeat(86)}==`,
            bytes: 1,
          },
        })),
      },
    ]),
  );
}

/** What the manifests of a workspace say. */
export interface Manifests {
  readonly shared: Map<string, string>;
  readonly projects: Map<string, Map<string, string>>;
}

export function manifestsOf(dice: Dice): Manifests {
  const shared = new Map(PACKAGES.slice(0, 4).map((name) => [name, dice.of(RANGES)]));
  const needs = (): Map<string, string> => {
    const names = PACKAGES.filter(() => dice.below(2) === 0);
    return new Map(names.map((name) => [name, shared.has(name) ? 'shared' : dice.of(RANGES)]));
  };
  return { shared, projects: new Map(PROJECTS.map((project) => [project, needs()])) };
}

/** Changes one thing: a shared version, a range, or which packages a project requires. */
export function changeOne({ shared, projects }: Manifests, dice: Dice): void {
  const needs = dice.of([...projects.values()]);
  const name = dice.of(PACKAGES);
  switch (dice.below(3)) {
    case 0:
      shared.set(dice.of([...shared.keys()]), dice.of(RANGES));
      return;
    case 1:
      needs.set(name, dice.of(RANGES));
      return;
    default:
      if (!needs.delete(name)) needs.set(name, shared.has(name) ? 'shared' : dice.of(RANGES));
  }
}

export function copyOf({ shared, projects }: Manifests): Manifests {
  return {
    shared: new Map(shared),
    projects: new Map([...projects].map(([name, needs]) => [name, new Map(needs)])),
  };
}

export function textsOf({ shared, projects }: Manifests): ReadonlyMap<string, string> {
  const table = (entries: ReadonlyMap<string, string>): string =>
    [...entries]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, range]) => `${name} = "${range}"\n`)
      .join('');
  return new Map([
    ['ledger.toml', 'format = 1\nname = "w"\nprojects = ["*"]\nregistry = "main"\n'],
    ['ledger.shared.toml', `format = 1\n[shared]\n${table(shared)}`],
    ...[...projects].map(
      ([name, needs]) =>
        [`${name}/ledger.project.toml`, `name = "${name}"\n[needs]\n${table(needs)}`] as const,
    ),
  ]);
}
