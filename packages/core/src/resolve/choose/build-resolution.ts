import { registryOf, type Registries } from '../../manifest/index.js';
import type { Release } from '../../registry/index.js';
import type { Project } from '../../workspace/index.js';
import { NONE, type Demand } from '../model/demand.js';
import {
  byKindAndName,
  FOR_NO_TARGET,
  KEPT_OUT,
  NONE_USABLE,
  NOT_IN_REGISTRY,
  type Answer,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
  type SuppliedPeer,
} from '../model/resolution.js';
import type { Settlement } from './settlement.js';

/** Puts a settlement into words, and keeps those of projects and copies that did not change. */
export class ResolutionBuilder {
  private readonly projects = new Map<number, ProjectAnswers>();
  /** The copies by their release's number, ascending, and the numbers. */
  private copies: Copy[] = [];
  private numbers: number[] = [];

  constructor(
    private readonly settlement: Settlement,
    private readonly registries: Registries,
  ) {}

  /** O(projects + copies + what changed since the last time). */
  build(projects: readonly Project[]): Resolution {
    const { settlement } = this;
    for (const index of settlement.touchedProjects)
      this.projects.set(index, this.projectAnswers(index, projects[index]!));
    for (const index of settlement.touchedSupplies) {
      const answers = this.projects.get(index)!;
      const supplied = this.supplied(index);
      if (!isSameSupply(answers.supplied, supplied))
        this.projects.set(index, { ...answers, supplied });
    }
    this.placeCopies(settlement.touchedReleases);
    settlement.touchedProjects.clear();
    settlement.touchedSupplies.clear();
    settlement.touchedReleases.clear();
    return {
      projects: projects.map((_, index) => this.projects.get(index)!),
      copies: [...this.copies],
    };
  }

  /** Puts each release where it belongs, or takes it out; many are merged in one go. */
  private placeCopies(touched: Iterable<number>): void {
    const all = [...touched].sort((a, b) => a - b);
    if (all.length === 0) return;
    const [copies, numbers]: [Copy[], number[]] = [[], []];
    let at = 0;
    for (const release of all) {
      const next = firstFrom(this.numbers, release, at);
      append(copies, this.copies, at, next);
      append(numbers, this.numbers, at, next);
      at = this.numbers[next] === release ? next + 1 : next;
      if (!this.settlement.isCopy(release)) continue;
      copies.push(this.copy(release));
      numbers.push(release);
    }
    append(copies, this.copies, at, this.copies.length);
    append(numbers, this.numbers, at, this.numbers.length);
    this.copies = copies;
    this.numbers = numbers;
  }

  private projectAnswers(index: number, project: Project): ProjectAnswers {
    const demands = this.settlement.projectDemands(index);
    return {
      folder: project.folder,
      name: project.name,
      version: project.version,
      requirements: project.requirements
        .map(({ kind, name, written, meaning, when }, i): AnsweredRequirement => {
          const isProject = meaning.kind === 'project';
          const answer = isProject ? meaning : this.answer(demands[i]!, name);
          return { kind, name, written, range: isProject ? null : meaning.text, when, answer };
        })
        .sort(byKindAndName),
      supplied: this.supplied(index),
    };
  }

  private supplied(index: number): readonly SuppliedPeer[] {
    const { releases } = this.settlement.catalog;
    return this.settlement
      .suppliesOf(index)
      .map(({ name, texts, demand: { answer } }) => ({
        name,
        ranges: texts,
        version: answer === NONE ? null : releases[answer]!.text,
      }))
      .sort((a, b) => (a.name < b.name ? -1 : 1));
  }

  private copy(number: number): Copy {
    const release: Release = this.settlement.catalog.releases[number]!;
    const demands = this.settlement.needDemands(number);
    const name = this.settlement.catalog.nameOf(number);
    return {
      name,
      version: release.text,
      registry: registryOf(this.registries, name) ?? '',
      archive: release.archive.path,
      integrity: release.archive.integrity,
      targets: [...release.targets].sort(),
      deprecated: release.deprecated,
      requirements: release.needs
        .map(({ kind, name, range, asked = range, when }, i): AnsweredRequirement => {
          const demand = demands[i] ?? null;
          const answer: Answer =
            demand === null
              ? { kind: 'skipped', reason: FOR_NO_TARGET }
              : this.answer(demand, name);
          return { kind, name, written: asked, range, when, answer };
        })
        .sort(byKindAndName),
      peers: release.peers,
    };
  }

  private answer({ answer, pool }: Demand, name: string): Answer {
    const { catalog } = this.settlement;
    if (answer !== NONE) return { kind: 'copy', version: catalog.releases[answer]!.text };
    if (pool.isNarrowed === true) return { kind: 'skipped', reason: KEPT_OUT };
    const reason = catalog.record(name) === null ? NOT_IN_REGISTRY : NONE_USABLE;
    return { kind: 'skipped', reason };
  }
}

function isSameSupply(a: readonly SuppliedPeer[], b: readonly SuppliedPeer[]): boolean {
  return (
    a.length === b.length &&
    a.every(
      (one, i) =>
        one.name === b[i]!.name &&
        one.version === b[i]!.version &&
        one.ranges.join('\n') === b[i]!.ranges.join('\n'),
    )
  );
}

/** The first place from one on whose number is not below another. O(log n). */
function firstFrom(numbers: readonly number[], least: number, from: number): number {
  let [low, high] = [from, numbers.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (numbers[middle]! < least) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Without a list in between, and without an argument for each. */
function append<T>(to: T[], from: readonly T[], start: number, end: number): void {
  for (let i = start; i < end; i++) to.push(from[i]!);
}
