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
  private readonly copies = new Map<number, Copy>();

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
    for (const release of settlement.touchedReleases) {
      if (settlement.isCopy(release)) this.copies.set(release, this.copy(release));
      else this.copies.delete(release);
    }
    settlement.touchedProjects.clear();
    settlement.touchedSupplies.clear();
    settlement.touchedReleases.clear();
    const numbers = Uint32Array.from(this.copies.keys()).sort();
    return {
      projects: projects.map((_, index) => this.projects.get(index)!),
      copies: Array.from(numbers, (release) => this.copies.get(release)!),
    };
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
