import { Injectable } from '@nestjs/common';
import {
  broughtBy,
  copyKey,
  demandsOn,
  whatTheyBring,
  type DraftBase,
  type Resolution,
} from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import { TracedGraphs } from '../trace/traced-graphs.js';
import type { LockHistory } from './lock-history.service.js';
import type { CopyDetailDto, LockCopyDto, TargetCopiesDto } from './lock.dto.js';

const NOTHING: Resolution = { projects: [], copies: [] };

/** What a snapshot's lockfile holds. */
@Injectable()
export class LockService {
  constructor(private readonly graphs: TracedGraphs) {}

  copies(base: DraftBase, { commits }: LockHistory): LockCopyDto[] {
    const resolution = base.lock?.resolution ?? NOTHING;
    const traced = this.graphs.of(base);
    const { owners, projectCount } = traced.graph;
    const since = broughtBy(commits);
    const counts = new Map<string, number>();
    for (const { name } of resolution.copies) counts.set(name, (counts.get(name) ?? 0) + 1);
    return resolution.copies.map((copy, i) => {
      const node = projectCount + i;
      return {
        name: copy.name,
        version: copy.version,
        bytes: traced.bytesOf(copy.name, copy.version),
        demands: owners.starts[node + 1]! - owners.starts[node]!,
        since: since.get(copyKey(copy)) ?? null,
        isOneOfSeveral: counts.get(copy.name)! > 1,
        isDeprecated: copy.deprecated !== null,
      };
    });
  }

  /** What is installed on a machine of each kind. */
  ofTargets(base: DraftBase): readonly TargetCopiesDto[] {
    const resolution = base.lock?.resolution ?? NOTHING;
    return [...(base.workspace?.targets ?? [])].map((target) => {
      const traced = this.graphs.of(base, { target });
      const { graph } = traced;
      const projects = Array.from({ length: graph.projectCount }, (_, i) => i);
      const copies = whatTheyBring(graph, projects).flatMap(({ node }) =>
        node < graph.projectCount ? [] : [resolution.copies[node - graph.projectCount]!],
      );
      const owners = [...resolution.projects, ...copies];
      return {
        target,
        copies: copies.length,
        bytes: copies.reduce((sum, { name, version }) => sum + traced.bytesOf(name, version), 0),
        skipped: owners
          .flatMap(({ requirements }) => requirements)
          .filter(({ answer }) => answer.kind === 'skipped').length,
      };
    });
  }

  /** @throws Problem COPY_UNKNOWN */
  detail(base: DraftBase, name: string, version: string): CopyDetailDto {
    const resolution = base.lock?.resolution ?? NOTHING;
    const traced = this.graphs.of(base);
    const node = traced.node(`${name} ${version}`);
    const copy = resolution.copies.find((one) => one.name === name && one.version === version);
    if (node === null || copy === undefined)
      throw new Problem(
        'COPY_UNKNOWN',
        404,
        'No such copy',
        `The lockfile has no copy ${name} ${version}.`,
      );
    const folders = new Set(resolution.projects.map(({ folder }) => folder));
    return {
      integrity: copy.integrity,
      registry: copy.registry,
      archive: copy.archive,
      targets: [...copy.targets],
      deprecated: copy.deprecated,
      demands: demandsOn(traced.graph, node).map(({ owner, kind, written }) => ({
        owner,
        isProject: folders.has(owner),
        kind,
        range: written,
      })),
    };
  }
}
