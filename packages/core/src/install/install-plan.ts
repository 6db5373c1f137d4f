import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { linksOf, strongComponents } from '../links/index.js';
import { globMatcher } from '../text/index.js';
import { copyKey, type AnsweredRequirement, type Copy, type Resolution } from '../resolve/index.js';

export interface InstallOptions {
  /** Of the machine that it is laid out on, such as `linux-x64`; null: the workspace names no targets. */
  readonly target: string | null;
  /** Folders of projects that are laid out, with the projects that they require; null: all. */
  readonly projects: readonly string[] | null;
  /** With what projects require for development. */
  readonly isDev: boolean;
}

/** What stands under a name in a folder of links. */
export type LinkTarget =
  | { readonly kind: 'copy'; readonly folder: string }
  /** A project of the workspace, by its folder. */
  | { readonly kind: 'project'; readonly folder: string };

export interface PlannedLink {
  readonly name: string;
  readonly to: LinkTarget;
}

/** A copy as it is laid out. A release is laid out once for each way in which its peers are met. */
export interface PlannedCopy {
  /** Its own folder, named after package, version and all of its answers. */
  readonly folder: string;
  readonly name: string;
  readonly version: string;
  readonly registry: string;
  readonly archive: string;
  readonly integrity: string;
  /** Sorted by name. */
  readonly links: readonly PlannedLink[];
  /** Whoever gets it can do without it. */
  readonly isOptional: boolean;
}

export interface PlannedProject {
  readonly folder: string;
  /** Sorted by name. */
  readonly links: readonly PlannedLink[];
}

/** What a lockfile is on a machine. */
export interface InstallPlan {
  /** Sorted by folder. */
  readonly copies: readonly PlannedCopy[];
  /** Sorted by folder. */
  readonly projects: readonly PlannedProject[];
}

/** The provider of a name that a peer looks for: a copy laid out, by its number, or a project. */
type Provider = { readonly node: number } | { readonly project: string };

/** What is around an owner, by name. */
type Around = ReadonlyMap<string, Provider>;

interface Node {
  readonly copy: Copy;
  readonly links: (readonly [name: string, provider: Provider])[];
  isOptional: boolean;
  /** Of all that decides what it sees. */
  readonly identity: string;
}

/** The copies by whose requirements one is reached, the nearest first. */
interface Chain {
  readonly node: number;
  /** The copy, and the releases that meet what is looked for from it on. */
  readonly versions: string;
  readonly up: Chain | null;
}

/** A copy whose links are still to be made. */
interface Work {
  readonly node: number;
  /** What it and what it brings look for above it. */
  readonly above: Around;
  readonly chain: Chain;
}

/** What somebody asks for, as far as it matters here. */
type Wanted = Pick<AnsweredRequirement, 'name' | 'answer'> & { readonly when?: readonly string[] };

const NOTHING_AROUND: Around = new Map();

/**
 * What is laid out where: for each project and each copy what it sees, which is what the lockfile answers it and nothing
 * else. A peer of a copy is what the nearest owner above it has under that name. The folder of a copy is named by all that can be
 * reached from it, so what stands in a folder never changes. Where requirements lead in a
 * cycle, what sees the same releases counts as the same.
 * O(requirements x ways in which peers are met).
 */
export function installPlan(resolution: Resolution, options: InstallOptions): InstallPlan {
  return new Planner(resolution, options).plan();
}

class Planner {
  private readonly copies: ReadonlyMap<string, Copy>;
  private readonly nodes: Node[] = [];
  private readonly numbers = new Map<string, number>();
  /** Grows while it is gone through. */
  private readonly open: Work[] = [];
  /** For each copy, the peers that it and its dependencies look for above it. */
  private readonly lookedFor: ReadonlyMap<string, ReadonlySet<string>>;
  private readonly isFor: (patterns: readonly string[]) => boolean;

  constructor(
    private readonly resolution: Resolution,
    private readonly options: InstallOptions,
  ) {
    const { target } = options;
    this.isFor = (patterns) =>
      patterns.length === 0 ||
      patterns.includes('*') ||
      (target !== null && globMatcher(patterns)(target));
    this.copies = new Map(resolution.copies.map((copy) => [copyKey(copy), copy]));
    this.lookedFor = this.namesLookedFor();
  }

  plan(): InstallPlan {
    const roots: (readonly [provider: Provider, isOptional: boolean])[] = [];
    const projects = this.wantedProjects().map(({ folder, requirements, supplied }) => {
      const own = requirements.filter(
        (one) => this.isMet(one) && (this.options.isDev || one.kind !== 'dev'),
      );
      const names = new Set(own.map(({ name }) => name));
      const supplies = supplied.flatMap(({ name, version }): Wanted[] =>
        version === null || names.has(name) ? [] : [{ name, answer: { kind: 'copy', version } }],
      );
      const around = this.around([...own, ...supplies], NOTHING_AROUND, null);
      const links = own.flatMap(({ name, kind }) => {
        const provider = around.get(name);
        if (provider === undefined) return [];
        roots.push([provider, kind === 'optional']);
        return [[name, provider] as const];
      });
      return { folder, links };
    });
    for (const work of this.open) this.fill(work);
    this.markNeeded(roots);
    return this.named(projects);
  }

  /** The same with links that lead to folders. */
  private named(
    projects: readonly { readonly folder: string; readonly links: Node['links'] }[],
  ): InstallPlan {
    const folders = this.folders();
    const linksTo = (links: Node['links']): readonly PlannedLink[] =>
      links
        .map(([name, provider]): PlannedLink => {
          const to: LinkTarget =
            'node' in provider
              ? { kind: 'copy', folder: folders[provider.node]! }
              : { kind: 'project', folder: provider.project };
          return { name, to };
        })
        .sort((a, b) => (a.name < b.name ? -1 : 1));
    const copies = new Map<string, PlannedCopy>();
    const reached = this.reached(projects.flatMap(({ links }) => links));
    this.nodes.forEach(({ copy, links, isOptional }, i) => {
      if (!reached.has(i)) return;
      const { name, version, registry, archive, integrity } = copy;
      const folder = folders[i]!;
      // Two places with the same result are one.
      const wasOptional = copies.get(folder)?.isOptional ?? true;
      copies.set(folder, {
        ...{ folder, name, version, registry, archive, integrity },
        links: linksTo(links),
        isOptional: isOptional && wasOptional,
      });
    });
    const byFolder = (a: { folder: string }, b: { folder: string }): number =>
      a.folder < b.folder ? -1 : 1;
    return {
      copies: [...copies.values()].sort(byFolder),
      projects: projects
        .map(({ folder, links }) => ({ folder, links: linksTo(links) }))
        .sort(byFolder),
    };
  }

  /** The projects that are named, and those that they require. */
  private wantedProjects(): Resolution['projects'] {
    const { projects } = this.resolution;
    const sorted = [...projects].sort((a, b) => (a.folder < b.folder ? -1 : 1));
    if (this.options.projects === null) return sorted;
    const byFolder = new Map(projects.map((one) => [one.folder, one]));
    const open = [...this.options.projects];
    const wanted = new Set<string>();
    for (let folder = open.pop(); folder !== undefined; folder = open.pop()) {
      const project = byFolder.get(folder);
      if (project === undefined || wanted.has(folder)) continue;
      wanted.add(folder);
      for (const { answer } of project.requirements)
        if (answer.kind === 'project') open.push(answer.folder);
    }
    return sorted.filter(({ folder }) => wanted.has(folder));
  }

  private applies({ when = [] }: Wanted): boolean {
    return this.isFor(when);
  }

  /** Is there anything here under the name of a requirement, by its answer? */
  private isMet(one: Wanted): boolean {
    return this.applies(one) && (one.answer.kind === 'project' || this.answerOf(one) !== null);
  }

  private answerOf({ name, answer }: Wanted): Copy | null {
    if (answer.kind !== 'copy') return null;
    const copy = this.copies.get(copyKey({ name, version: answer.version }));
    return copy === undefined || !this.isFor(copy.targets) ? null : copy;
  }

  /** The copies that an owner's own requirements give it, before those around it. */
  private around(requirements: readonly Wanted[], above: Around, chain: Chain | null): Around {
    const around = new Map(above);
    for (const { name, answer } of requirements)
      if (answer.kind === 'project') around.set(name, { project: answer.folder });
    const own = new Map(
      requirements.flatMap((one) => {
        const copy = this.applies(one) ? this.answerOf(one) : null;
        return copy === null ? [] : [[one.name, copy] as const];
      }),
    );
    const places = [...own].map(([name, copy]) => {
      const place = { copy, ...this.placeOf(copy, own, around, chain) };
      around.set(name, { node: place.node });
      return place;
    });
    for (const { copy, node, versions, isNew } of places) {
      if (!isNew) continue;
      const seen = [...this.lookedFor.get(copyKey(copy))!].flatMap((name) => {
        const provider = around.get(name);
        return provider === undefined ? [] : [[name, provider] as const];
      });
      this.open.push({ node, above: new Map(seen), chain: { node, versions, up: chain } });
    }
    return around;
  }

  /**
   * The place of a copy that answers an owner: the place of one that sees the same, else a new one. Where requirements
   * lead in a cycle back to a copy that sees the same releases, it is that one.
   * @param own what the owner is answered, by name
   */
  private placeOf(
    copy: Copy,
    own: ReadonlyMap<string, Copy>,
    above: Around,
    chain: Chain | null,
  ): { readonly node: number; readonly versions: string; readonly isNew: boolean } {
    const versions = this.described(copy, (name) => {
      const sibling = own.get(name);
      return sibling === undefined ? this.providerKey(above.get(name)) : copyKey(sibling);
    });
    for (let at = chain; at !== null; at = at.up)
      if (at.versions === versions) return { node: at.node, versions, isNew: false };
    const identity = this.identityOf(copy, own, above, []);
    const known = this.numbers.get(identity);
    if (known !== undefined) return { node: known, versions, isNew: false };
    const node = this.nodes.length;
    this.nodes.push({ copy, identity, links: [], isOptional: true });
    this.numbers.set(identity, node);
    return { node, versions, isNew: true };
  }

  /** Everything that decides what a copy sees. @param within the siblings that are being described already */
  private identityOf(
    copy: Copy,
    own: ReadonlyMap<string, Copy>,
    above: Around,
    within: readonly Copy[],
  ): string {
    const at = within.indexOf(copy);
    if (at >= 0) return `sibling ${within.length - at}`;
    const inside = [...within, copy];
    return digits(
      this.described(copy, (name) => {
        const sibling = own.get(name);
        if (sibling !== undefined) return this.identityOf(sibling, own, above, inside);
        const provider = above.get(name);
        if (provider === undefined) return '';
        return 'node' in provider
          ? this.nodes[provider.node]!.identity
          : `project ${provider.project}`;
      }),
    );
  }

  private described(copy: Copy, met: (name: string) => string): string {
    const names = this.lookedFor.get(copyKey(copy))!;
    return JSON.stringify([copyKey(copy), ...[...names].sort().map((name) => [name, met(name)])]);
  }

  private providerKey(provider: Provider | undefined): string {
    if (provider === undefined) return '';
    return 'node' in provider
      ? copyKey(this.nodes[provider.node]!.copy)
      : `project ${provider.project}`;
  }

  private fill({ node, above, chain }: Work): void {
    const { copy, links } = this.nodes[node]!;
    const around = this.around(copy.requirements, above, chain);
    const own = new Set<string>();
    for (const one of copy.requirements) {
      const provider = around.get(one.name);
      if (provider === undefined || !this.isMet(one)) continue;
      links.push([one.name, provider]);
      own.add(one.name);
    }
    for (const { name } of copy.peers) {
      const provider = above.get(name);
      if (provider !== undefined && !own.has(name)) links.push([name, provider]);
    }
  }

  private namesLookedFor(): ReadonlyMap<string, ReadonlySet<string>> {
    const found = new Map<string, Set<string>>();
    for (const [key, { peers }] of this.copies)
      found.set(key, new Set(peers.map(({ name }) => name)));
    for (let isMoving = true; isMoving;) {
      isMoving = false;
      for (const [key, { requirements }] of this.copies) {
        const met = requirements.filter((one) => this.isMet(one));
        const own = new Set(met.map(({ name }) => name));
        const into = found.get(key)!;
        const before = into.size;
        for (const one of met) {
          const copy = this.answerOf(one);
          if (copy === null) continue;
          for (const name of found.get(copyKey(copy))!) if (!own.has(name)) into.add(name);
        }
        isMoving ||= into.size > before;
      }
    }
    return found;
  }

  /** Numbers of the copies that links lead to: what a project is supplied with may be looked for by nobody here. */
  private reached(links: Node['links']): ReadonlySet<number> {
    const reached = new Set<number>();
    const open = [...links];
    for (let link = open.pop(); link !== undefined; link = open.pop()) {
      const [, provider] = link;
      if (!('node' in provider) || reached.has(provider.node)) continue;
      reached.add(provider.node);
      open.push(...this.nodes[provider.node]!.links);
    }
    return reached;
  }

  /** A copy that is reached without an optional requirement cannot be left out. */
  private markNeeded(roots: readonly (readonly [provider: Provider, isOptional: boolean])[]): void {
    const open = roots.flatMap(([provider, isOptional]) =>
      'node' in provider && !isOptional ? [provider.node] : [],
    );
    for (let number = open.pop(); number !== undefined; number = open.pop()) {
      const node = this.nodes[number]!;
      if (!node.isOptional) continue;
      node.isOptional = false;
      const kinds = new Map(node.copy.requirements.map(({ name, kind }) => [name, kind]));
      for (const [name, provider] of node.links)
        if ('node' in provider && kinds.get(name) !== 'optional') open.push(provider.node);
    }
  }

  /**
   * Names of folders: package, version, and a sum over all that can be reached. In a cycle sums are told apart by the sums of what is
   * linked to, again and again, until no more come apart (partition refinement: J. Hopcroft, 1971, in its simple form).
   */
  private folders(): readonly string[] {
    const targets = this.nodes.map(({ links }) =>
      links.flatMap(([, provider]) => ('node' in provider ? [provider.node] : [])),
    );
    const { members } = strongComponents(linksOf(targets));
    const sums = this.nodes.map(() => '');
    // Components link to lower numbers alone, so the sums of those are there.
    for (let component = 0; component + 1 < members.starts.length; component++) {
      const [from, to] = [members.starts[component]!, members.starts[component + 1]!];
      const nodes = [...members.targets.subarray(from, to)];
      for (let classes = 0; ;) {
        const next = nodes.map((node) => digits(this.contents(node, sums)));
        nodes.forEach((node, i) => (sums[node] = next[i]!));
        const now = new Set(next).size;
        if (now === classes || nodes.length === 1) break;
        classes = now;
      }
      // In a large cycle copies far away count as well.
      const whole = nodes
        .map((node) => sums[node]!)
        .sort()
        .join('\n');
      if (nodes.length > 1)
        for (const node of nodes) sums[node] = digits(`${sums[node]!}\n\n${whole}`);
    }
    return this.nodes.map(
      ({ copy }, node) =>
        `${readable(copy.name)}-${readable(copy.version)}-${sums[node]!.slice(0, 16)}`,
    );
  }

  private contents(node: number, sums: readonly string[]): string {
    const { copy, links } = this.nodes[node]!;
    const answers = links.map(([name, provider]) =>
      'project' in provider
        ? `${name} project ${provider.project}`
        : `${name} ${copyKey(this.nodes[provider.node]!.copy)} ${sums[provider.node]!}`,
    );
    return JSON.stringify([copyKey(copy), copy.integrity, answers.sort()]);
  }
}

function digits(text: string): string {
  return bytesToHex(sha256(utf8ToBytes(text)));
}

/** A name as part of a folder's: what may not stand there on some system is left out; the sum behind it tells such apart. */
function readable(text: string): string {
  return text.replaceAll(/[^A-Za-z0-9._-]+/g, '+').slice(0, 60);
}
