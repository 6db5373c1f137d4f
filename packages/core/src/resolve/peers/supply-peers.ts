import type { Project } from '../../workspace/index.js';
import type { Settlement, Watch } from '../choose/settlement.js';
import type { Demand } from '../model/demand.js';
import { PeerProviders, type ProvidedPeer } from './peer-providers.js';
import { SettledPeers } from './settled-peers.js';
import { WantedSupplies, type Wants } from './wanted-supplies.js';

const NOTHING: Wants = new Map();

export type UnmetDemand = ProvidedPeer<Demand>;

interface Supplied {
  /** The settlement that holds the answers: the given one, or one made for the purpose. */
  readonly settlement: Settlement;
  /** The peers that are not met, one entry for each copy and provider. */
  readonly unmet: readonly UnmetDemand[];
}

/**
 * Settles all demands and supplies projects with the peers that copies below them ask for and that
 * nothing on the way provides. A supply brings copies of its own, so this repeats until no more is asked:
 * what is asked for only grows, and there are finitely many releases to ask.
 *
 * A supply may bring a release that others then join, so that nobody asks for the supply any more. Then
 * all is settled again and every answer, once given, stays while supplies are added.
 *
 * Where it is done again and again while requirements change, what would be asked for without any supply is kept up to
 * date apart, so that supplies which stay are neither taken back nor given again.
 */
export class PeerSupply {
  private readonly supplied: SettledPeers;
  private bare: SettledPeers | null = null;

  /** @param fresh makes a settlement of the same terms, without any requirement */
  constructor(
    settlement: Settlement,
    private readonly fresh: () => Settlement,
  ) {
    this.supplied = new SettledPeers(settlement);
  }

  /** From now on what is asked for without supplies is kept apart. It takes the memory of a settlement. */
  keepApart(): void {
    this.bare ??= new SettledPeers(this.fresh());
  }

  /** The lockfile before holds another version of a package now. */
  rehold(packageNumber: number): void {
    this.supplied.settlement.rehold(packageNumber);
    this.bare?.settlement.rehold(packageNumber);
  }

  /** @returns the given settlement, or one made for the purpose, with the answers */
  supply(projects: readonly Project[], watch: Watch): Supplied {
    const { supplied, bare } = this;
    const first = bare === null ? null : askedOfBare(bare, projects, watch);
    const unmet = supply(supplied, projects, first, watch);
    if (unmet !== null) return { settlement: supplied.settlement, unmet };
    const steady = new SettledPeers(this.fresh());
    return { settlement: steady.settlement, unmet: supply(steady, projects, 'all stay', watch)! };
  }
}

/** The same once. @param fresh makes a settlement of the same terms, without any requirement */
export function supplyPeers(
  projects: readonly Project[],
  fresh: () => Settlement,
  watch: Watch,
): Supplied {
  return new PeerSupply(fresh(), fresh).supply(projects, watch);
}

/** What is asked for as long as nothing is supplied. */
function askedOfBare(bare: SettledPeers, projects: readonly Project[], watch: Watch): Wants {
  const { settlement } = bare;
  settlement.setProjects(projects).settle(watch);
  // Nobody takes what it says of itself.
  settlement.touchedReleases.clear();
  settlement.touchedProjects.clear();
  return new WantedSupplies(new PeerProviders(bare.after(projects))).asked();
}

/**
 * @param first what is asked for without supplies, where that is known; or all answers, once given, stay
 * @returns null when something is supplied that nobody asks for in the end; never where answers stay
 */
function supply(
  peers: SettledPeers,
  projects: readonly Project[],
  first: Wants | 'all stay' | null,
  watch: Watch,
): readonly UnmetDemand[] | null {
  const { settlement } = peers;
  const doAnswersStay = first === 'all stay';
  settlement.setProjects(projects);
  let asked: Wants = NOTHING;
  if (doAnswersStay || first === null) settlement.withdrawAll();
  else {
    asked = first;
    settlement.withdrawAll((index, { name, texts }) => isSame(first.get(name)?.get(index), texts));
    const isSupplied = (project: number, name: string): boolean =>
      settlement.supplyOf(project, name) !== null;
    for (const { project, name, texts } of grown(NOTHING, first, isSupplied))
      settlement.supply(project, name, texts);
  }
  for (;;) {
    settlement.settle(watch);
    if (doAnswersStay) settlement.keepAnswers();
    const wants = new WantedSupplies(new PeerProviders(peers.after(projects)));
    const more = grown(asked, wants.asked());
    if (more.length === 0)
      return !doAnswersStay && isAnyIdle(asked, wants.grounded()) ? null : wants.unmet();
    asked = withMore(asked, more);
    for (const { project, name, texts } of more) settlement.supply(project, name, texts);
  }
}

/** Are just these ranges wanted? */
function isSame(wanted: ReadonlySet<string> | undefined, texts: readonly string[]): boolean {
  return wanted?.size === texts.length && texts.every((text) => wanted.has(text));
}

/** Is any range supplied that has no reason in the end? */
function isAnyIdle(asked: Wants, grounded: Wants): boolean {
  for (const [name, ofName] of asked)
    for (const [project, texts] of ofName)
      if (texts.size > (grounded.get(name)?.get(project)?.size ?? 0)) return true;
  return false;
}

/** What a project is to be supplied with under one name; the ranges sorted. */
interface Growth {
  readonly project: number;
  readonly name: string;
  readonly texts: readonly string[];
}

/**
 * Where more is wanted than was asked for, with all that is asked for then, in an order of its own.
 * @param isDone leaves out what is there already
 */
function grown(
  asked: Wants,
  wanted: Wants,
  isDone: (project: number, name: string) => boolean = () => false,
): readonly Growth[] {
  const found: Growth[] = [];
  for (const [name, ofName] of wanted) {
    const before = asked.get(name);
    for (const [project, texts] of ofName) {
      const known = before?.get(project);
      if ((known !== undefined && isSubset(texts, known)) || isDone(project, name)) continue;
      found.push({ project, name, texts: [...new Set([...(known ?? []), ...texts])].sort() });
    }
  }
  return found.sort((a, b) => a.project - b.project || (a.name < b.name ? -1 : 1));
}

function isSubset(some: ReadonlySet<string>, all: ReadonlySet<string>): boolean {
  if (some === all) return true;
  for (const one of some) if (!all.has(one)) return false;
  return true;
}

function withMore(asked: Wants, more: readonly Growth[]): Wants {
  const all = new Map([...asked].map(([name, ofName]) => [name, new Map(ofName)]));
  for (const { project, name, texts } of more) {
    const ofName = all.get(name) ?? new Map<number, ReadonlySet<string>>();
    all.set(name, ofName.set(project, new Set(texts)));
  }
  return all;
}
