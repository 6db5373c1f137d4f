import type { PackageRecords } from '../registry/index.js';
import { PinScope, type Project, type Requirement, type Workspace } from '../workspace/index.js';
import { partOf, PolicyAnswer, smallestClash } from './policy/answer-under-policy.js';
import { findClashes } from './policy/find-clashes.js';
import { BoundPackages } from './policy/bound-packages.js';
import { ResolutionBuilder } from './choose/build-resolution.js';
import { Catalog } from './model/catalog.js';
import { NONE } from './model/demand.js';
import { explainClash } from './explain/explain-clash.js';
import { explainUnanswered, type Unanswered } from './explain/explain-unanswered.js';
import { otherwiseKey, recordsAsAnswered } from './model/answered-otherwise.js';
import { HeldAnswers, type RePick } from './model/held-answers.js';
import { HeldIntegrities, type TakenIntegrity } from './model/held-integrities.js';
import { byKindAndName, type Resolution } from './model/resolution.js';
import { Settlement, type Watch } from './choose/settlement.js';
import { PeerSupply, supplyPeers } from './peers/supply-peers.js';
import { unmetPeers, type UnmetPeer } from './peers/unmet-peers.js';
import { termsOf } from './model/release-terms.js';
import { UsableReleases } from './model/usable-releases.js';

/** What is resolved. */
export interface Question {
  readonly workspace: Workspace;
  /** The last day whose releases count, YYYY-MM-DD; ages are counted from it. */
  readonly asOf: string;
  readonly before: Resolution | null;
  /** Packages whose answers before do not bind. */
  readonly refresh?: 'all' | ReadonlySet<string>;
  /** Releases that are to answer in place of others that answer in `before`. */
  readonly rePicks?: readonly RePick[];
  /** Copies that are to have the registry's integrity in place of another that `before` has. */
  readonly takenIntegrities?: readonly TakenIntegrity[];
}

export type ResolveOutcome =
  | {
      readonly kind: 'answered';
      readonly resolution: Resolution;
      readonly unmetPeers: readonly UnmetPeer[];
    }
  /** Load these records and ask again. */
  | { readonly kind: 'ask'; readonly names: readonly string[] }
  | { readonly kind: 'unanswered'; readonly unanswered: readonly Unanswered[] };

/** Packages that projects require, sorted. */
export function requiredPackages(workspace: Workspace): readonly string[] {
  const names = new Set<string>();
  for (const { requirements } of workspace.projects) {
    for (const { name, meaning } of requirements) if (meaning.kind === 'range') names.add(name);
  }
  return [...names].sort();
}

/**
 * Holds a resolved workspace and answers a changed one from there, with the same result as from
 * nothing. One engine stands for one set of records.
 */
export class Engine {
  /** With what it was made for. */
  private catalog: { readonly key: string; readonly catalog: Catalog } | null = null;
  private state: EngineState | null = null;
  /** Projects all of whose packages have records. */
  private readonly known = new WeakSet<Project>();
  private readonly integrities: HeldIntegrities;

  constructor(readonly records: PackageRecords) {
    this.integrities = new HeldIntegrities(records);
  }

  /**
   * Answers all requirements of a workspace. The result is a function of the question and the records
   * alone; questions before only make it faster where policy, platform, pins, targets, day, `before`
   * and the list of projects are the same. A copy that `before` has keeps its integrity, whatever the registry says
   * of it now.
   * Cost: from nothing O(needs of all releases + demands); after a change O(projects + copies) and what it touches.
   */
  resolve(question: Question, watch: Watch = () => undefined): ResolveOutcome {
    const outcome = this.answer(question, watch);
    if (outcome.kind !== 'answered') return outcome;
    const { before, takenIntegrities } = question;
    const resolution = this.integrities.keep(outcome.resolution, before, takenIntegrities ?? []);
    return { ...outcome, resolution };
  }

  private answer(question: Question, watch: Watch): ResolveOutcome {
    const catalog = this.catalogFor(question);
    const missing = this.missingNames(catalog, question.workspace);
    if (missing.length > 0) return { kind: 'ask', names: missing };
    const { workspace } = question;
    const kept = this.state;
    // Work that is stopped half-way leaves nothing to go on from.
    this.state = null;
    const state = kept?.fits(question) ? kept.again() : new EngineState(catalog, question);
    const { projects } = workspace;
    for (const name of state.held.pick(question.rePicks ?? [])) state.rehold(name);
    const { settlement, unmet } = state.peers.supply(projects, watch);
    this.state = state;
    const open = openRequirements(settlement, workspace);
    const isHeeded =
      (workspace.policy.peers === 'report' || unmet.length === 0) &&
      state.bound.isHeededBy(settlement);
    if (open.length > 0) {
      const alone = explainUnanswered(open, state.usable);
      const isOpen = new Set(open);
      const rest = partOf(workspace, (one) => !isOpen.has(one));
      const others = isHeeded ? null : underPolicy(state, rest, watch);
      const clashes = others?.kind === 'unanswered' ? others.unanswered : [];
      return { kind: 'unanswered', unanswered: [...alone, ...clashes] };
    }
    if (!isHeeded) return underPolicy(state, workspace, watch);
    const builder =
      settlement === state.settlement
        ? state.builder
        : new ResolutionBuilder(settlement, workspace.registries);
    const resolution = builder.build(projects);
    return { kind: 'answered', resolution, unmetPeers: unmetPeers(settlement, workspace, unmet) };
  }

  /**
   * The answers of a question, settled apart from what the engine keeps, so that others can be tried on them; null
   * where they take a search under the policy or records are missing.
   */
  settled(
    question: Question,
    watch: Watch = () => undefined,
  ): { readonly settlement: Settlement; readonly bound: BoundPackages } | null {
    const catalog = this.catalogFor(question);
    const { workspace } = question;
    if (this.missingNames(catalog, workspace).length > 0) return null;
    const { usable, held, bound } = new EngineState(catalog, question);
    held.pick(question.rePicks ?? []);
    const fresh = (): Settlement => new Settlement(usable, held);
    const { settlement, unmet } = supplyPeers(workspace.projects, fresh, watch);
    const isHeeded =
      (workspace.policy.peers === 'report' || unmet.length === 0) && bound.isHeededBy(settlement);
    return isHeeded && openRequirements(settlement, workspace).length === 0
      ? { settlement, bound }
      : null;
  }

  /** The records as the workspace answers them, numbered; the state before is of no use with others. */
  private catalogFor({ workspace, asOf }: Question): Catalog {
    const key = otherwiseKey(workspace, asOf);
    if (this.catalog?.key === key) return this.catalog.catalog;
    const catalog = new Catalog(recordsAsAnswered(this.records, workspace, asOf));
    this.catalog = { key, catalog };
    this.state = null;
    return catalog;
  }

  private missingNames(
    { missing: inRecords }: Catalog,
    { projects }: Workspace,
  ): readonly string[] {
    const missing = new Set(inRecords);
    for (const project of projects) {
      if (this.known.has(project)) continue;
      let isKnown = true;
      for (const { name, meaning } of project.requirements) {
        if (meaning.kind === 'project' || this.records.has(name)) continue;
        missing.add(name);
        isKnown = false;
      }
      if (isKnown) this.known.add(project);
    }
    return [...missing].sort();
  }
}

function underPolicy(
  { usable, bound, held }: EngineState,
  workspace: Workspace,
  watch: Watch,
): ResolveOutcome {
  const terms = { usable, bound, held, watch };
  const answer = new PolicyAnswer(terms, workspace);
  const outcome = answer.answer();
  if (outcome.kind === 'clash') {
    const isStrict = workspace.policy.peers === 'strict';
    const first = isStrict ? smallestClash(terms, workspace, outcome.roots) : outcome.roots;
    const clashes = findClashes(first, (removed) => answer.clashWithout(removed));
    return {
      kind: 'unanswered',
      unanswered: clashes.map((roots) => explainClash(roots, terms, workspace)),
    };
  }
  const { settlement, unmet } = outcome;
  const resolution = new ResolutionBuilder(settlement, workspace.registries).build(
    workspace.projects,
  );
  return { kind: 'answered', resolution, unmetPeers: unmetPeers(settlement, workspace, unmet) };
}

/** What is kept between two questions. */
class EngineState {
  readonly usable: UsableReleases;
  readonly settlement: Settlement;
  readonly builder: ResolutionBuilder;
  readonly bound: BoundPackages;
  readonly held: HeldAnswers;
  readonly peers: PeerSupply;
  private readonly terms: string;
  private uses = 1;

  constructor(
    catalog: Catalog,
    private readonly question: Question,
  ) {
    const { workspace, asOf, before, refresh } = question;
    this.terms = termsKey(workspace);
    this.usable = new UsableReleases(catalog, termsOf(workspace), asOf);
    const { policy } = workspace;
    this.bound = new BoundPackages(catalog, policy, policy.peers === 'strict');
    this.held = new HeldAnswers(catalog, this.usable.ranges, before, refresh ?? new Set());
    const fresh = (): Settlement => new Settlement(this.usable, this.held);
    this.settlement = fresh();
    this.peers = new PeerSupply(this.settlement, fresh);
    this.builder = new ResolutionBuilder(this.settlement, workspace.registries);
  }

  /** A package that no record tells of has no demands. */
  rehold(name: string): void {
    const number = this.settlement.catalog.numberOf.get(name);
    if (number !== undefined) this.peers.rehold(number);
  }

  /** For a further question. With the third one it is worth keeping apart what is asked for without supplies. */
  again(): this {
    this.uses += 1;
    if (this.uses > 2) this.peers.keepApart();
    return this;
  }

  fits({ workspace, asOf, before, refresh }: Question): boolean {
    const kept = this.question;
    return (
      kept.asOf === asOf &&
      kept.before === before &&
      refreshKey(kept.refresh) === refreshKey(refresh) &&
      this.terms === termsKey(workspace)
    );
  }
}

/** Equal for workspaces that differ in requirements alone. */
function termsKey(workspace: Workspace): string {
  const { policy, platform, targets, registries, projects } = workspace;
  const pins = new PinScope(workspace);
  // How ranges of projects' own are taken bears on no answer.
  const { ofPackage, ownRanges: _, ofProject: __, ...all } = policy;
  const folders = projects.map(({ folder }) => folder);
  return JSON.stringify([
    all,
    [...ofPackage],
    [...platform],
    targets,
    pins.key,
    registries,
    folders,
  ]);
}

function refreshKey(refresh: Question['refresh']): string {
  return refresh === undefined || refresh === 'all'
    ? String(refresh)
    : [...refresh].sort().join(' ');
}

/** Requirements of projects that nothing answers and that are not optional, by project, kind and name. */
function openRequirements(settlement: Settlement, workspace: Workspace): readonly Requirement[] {
  const open: Requirement[] = [];
  workspace.projects.forEach(({ requirements }, index) => {
    const demands = settlement.projectDemands(index);
    if (!demands.some((demand) => demand !== null && demand.answer === NONE)) return;
    const ofProject = requirements.filter(
      ({ kind }, i) => kind !== 'optional' && demands[i]?.answer === NONE,
    );
    open.push(...ofProject.sort(byKindAndName));
  });
  return open;
}
