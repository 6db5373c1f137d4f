import { levelInUse, type Edit } from '../edit/index.js';
import { Chains, needGraph, nodeName, nodesByName, type NeedGraph } from '../graph/index.js';
import type { LockState } from '../lock/index.js';
import type { PackageRecords, Release } from '../registry/index.js';
import {
  ReleaseTerms,
  releaseTermsOf,
  type NeedlessCopy,
  type Resolution,
  type UnmetPeer,
} from '../resolve/index.js';
import type { SourceUse } from '../scan/index.js';
import {
  AnswerIndex,
  requirementsByPackage,
  standRequirements,
  type AlignmentRow,
  type StandingRequirement,
} from '../alignment/index.js';
import type { Place, Span } from '../text/index.js';
import {
  Places,
  type PlacedProblem,
  type Project,
  type Workspace,
  type WorkspaceFiles,
} from '../workspace/index.js';

/** What findings are raised from: a workspace as it was read, and what is known about it. */
export interface Stand {
  readonly files: WorkspaceFiles;
  readonly problems: readonly PlacedProblem[];
  readonly workspace: Workspace | null;
  readonly lock: LockState | null;
  readonly records: PackageRecords;
  /** YYYY-MM-DD */
  readonly today: string;
  /** Of all packages. */
  readonly rows: readonly AlignmentRow[];
  readonly unmetPeers: readonly UnmetPeer[];
  /** Null: source was not scanned; nothing is then said about it. */
  readonly use: SourceUse | null;
  /** Null: not looked for beyond what lies open. */
  readonly needless: readonly NeedlessCopy[] | null;
}

const NO_ANSWERS: Resolution = { projects: [], copies: [] };

/** A stand with what several kinds of findings ask of it, each computed when it is first asked for. */
export class Grounds {
  private knownGraph: NeedGraph | null = null;
  private knownChains: Chains | null = null;
  private knownNodes: ReadonlyMap<string, number> | null = null;
  private knownStanding: ReadonlyMap<string, readonly StandingRequirement[]> | null = null;
  private knownReleases: readonly (Release | null)[] | null = null;
  private readonly places: Places;
  private readonly releases = new Map<string, ReadonlyMap<string, Release>>();
  private readonly projects: ReadonlyMap<string, Project>;
  readonly resolution: Resolution;
  readonly answers: AnswerIndex;
  /** Which releases the workspace lets in today. */
  readonly terms: ReleaseTerms;

  constructor(
    readonly stand: Stand,
    readonly workspace: Workspace,
  ) {
    this.resolution = stand.lock?.resolution ?? NO_ANSWERS;
    this.answers = new AnswerIndex(this.resolution);
    this.terms = new ReleaseTerms(releaseTermsOf(workspace), stand.today);
    this.places = new Places(stand.files);
    this.projects = new Map(workspace.projects.map((one) => [one.folder, one]));
  }

  get graph(): NeedGraph {
    this.knownGraph ??= needGraph(this.resolution);
    return this.knownGraph;
  }

  /** The requirements on packages with their standing, by package. */
  get standing(): ReadonlyMap<string, readonly StandingRequirement[]> {
    this.knownStanding ??= new Map(
      [...requirementsByPackage(this.workspace)].map(([name, requirements]) => [
        name,
        standRequirements(this.workspace, requirements, this.answers, this.stand.today),
      ]),
    );
    return this.knownStanding;
  }

  /** The edits that level a package without deciding on a version. */
  levelling(row: AlignmentRow): readonly Edit[] {
    const requirements = (this.standing.get(row.name) ?? []).map((one) => one.requirement);
    return levelInUse(this.workspace, row, this.stand.today, requirements);
  }

  /** The registry's release of a copy; null: it has none, or is not known. */
  release(name: string, version: string): Release | null {
    let byText = this.releases.get(name);
    if (byText === undefined) {
      const all = this.stand.records.get(name)?.releases ?? [];
      byText = new Map(all.map((release) => [release.text, release]));
      this.releases.set(name, byText);
    }
    return byText.get(version) ?? null;
  }

  /** The registry's releases of all copies, in their order. */
  get releasesOfCopies(): readonly (Release | null)[] {
    this.knownReleases ??= this.resolution.copies.map(({ name, version }) =>
      this.release(name, version),
    );
    return this.knownReleases;
  }

  place(file: string, span: Span): Place {
    return this.places.of(file, span);
  }

  project(folder: string): Project | null {
    return this.projects.get(folder) ?? null;
  }

  /** The node of a project's folder, or of name and version of a copy. */
  node(name: string): number | null {
    this.knownNodes ??= nodesByName(this.graph);
    return this.knownNodes.get(name) ?? null;
  }

  /** A shortest chain to a copy, as names of its nodes; null: nothing brings it in. */
  shortestChain(name: string, version: string): readonly string[] | null {
    const node = this.node(`${name} ${version}`);
    if (node === null) return null;
    this.knownChains ??= new Chains(this.graph);
    for (const chain of this.knownChains.to(node))
      return chain.map((one) => nodeName(this.graph, one));
    return null;
  }
}
