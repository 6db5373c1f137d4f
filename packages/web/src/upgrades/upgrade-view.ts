import type { Offer, UpgradePrice, UpgradeRow, UpgradeTrial } from '../api/client';
import { bytes, count } from '../parts/words';

/** The row and its offers as the page has them. */
export interface UpgradeView {
  readonly query: string;
  /** Also packages that no project requires itself. */
  readonly which: Which;
  /** Folder of the project that has to require it itself; null: any. */
  readonly project: string | null;
  /** Who has to answer for such a project; null: anybody. */
  readonly owner: string | null;
  /** A kind as which some project has to require it; null: any. */
  readonly as: string | null;
}

/** Packages that projects require themselves, lockstep sets alone, or every package in use. */
export type Which = 'direct' | 'sets' | 'all';

/** Which offers are chosen, by the name of the row. */
export type ChosenOffers = ReadonlyMap<string, Offer>;

export function offerKey({ name, to }: Pick<Offer, 'name' | 'to'>): string {
  return `${name} ${to}`;
}

/** Trials by the key of their offer. */
export type Trials = ReadonlyMap<string, UpgradeTrial>;

/** The rows that are looked at, in their order. */
export function shownRows(
  rows: readonly UpgradeRow[],
  { query, which, project, owner, as }: UpgradeView,
): readonly UpgradeRow[] {
  const text = query.trim().toLowerCase();
  return rows.filter(
    ({ name, packages, isDirect, isSet, projects, owners, kinds }) =>
      (which === 'all' || isDirect) &&
      (which !== 'sets' || isSet) &&
      (as === null || kinds.some((kind) => kind === as)) &&
      (project === null || projects.includes(project)) &&
      (owner === null || owners.includes(owner)) &&
      [name, ...packages].some((one) => one.toLowerCase().includes(text)),
  );
}

/** What a row takes where nobody has said otherwise: the largest step below a major one that can be taken, else none. */
export function usualOffer({ offers }: UpgradeRow, trials: Trials): Offer | null {
  return (
    offers.findLast(
      (one) => one.kind !== 'major' && trials.get(offerKey(one))?.against.length === 0,
    ) ?? null
  );
}

/** What a row takes when it is chosen: as `usualOffer`, but what is not tried yet is taken to be good, else the smallest step. */
export function chosenOffer({ offers }: UpgradeRow, trials: Trials): Offer | null {
  const isPossible = (one: Offer): boolean =>
    (trials.get(offerKey(one))?.against.length ?? 0) === 0;
  return offers.findLast((one) => one.kind !== 'major' && isPossible(one)) ?? offers[0] ?? null;
}

/** A price in words: `4 copies move, 1 comes, 2 files, −1.2 MB`. */
export function priceWords({ moved, entered, left, files, bytes: size }: UpgradePrice): string {
  return [
    `${count(moved, 'copy moves', 'copies move')}`,
    ...(entered === 0 ? [] : [`${entered} in`]),
    ...(left === 0 ? [] : [`${left} out`]),
    count(files, 'file'),
    ...(size === 0 ? [] : [`${size < 0 ? '−' : '+'}${bytes(Math.abs(size))}`]),
  ].join(' · ');
}

/** About as many offers as a page shows at first. */
const FIRST_PART = 24;
const LARGEST_PART = 192;

/** Offers as they are tried: what is seen at first in small parts, the rest in ever larger ones, since each part costs something. */
export function partsToTry<T>(offers: readonly T[]): readonly (readonly T[])[] {
  const parts: (readonly T[])[] = [];
  for (let at = 0, size = FIRST_PART; at < offers.length; at += size) {
    if (at > 0) size = Math.min(at, LARGEST_PART);
    parts.push(offers.slice(at, at + size));
  }
  return parts;
}

/** How many offers a least age takes away. */
export function takenAway(all: readonly UpgradeRow[], old: readonly UpgradeRow[]): number {
  const offered = (rows: readonly UpgradeRow[]): number =>
    rows.reduce((sum, { offers }) => sum + offers.length, 0);
  return offered(all) - offered(old);
}

/** Chosen offers as an address has them, and back: `scree-log@3.3.0,tarn-json@1.3.2`. */
export function chosenText(chosen: ChosenOffers): string {
  return [...chosen.values()].map(({ name, to }) => `${name}@${to}`).join(',');
}

export function chosenFrom(text: string, rows: readonly UpgradeRow[]): ChosenOffers {
  const chosen = new Map<string, Offer>();
  for (const one of text.split(',')) {
    const at = one.lastIndexOf('@');
    const row = rows.find(({ name }) => name === one.slice(0, at));
    const offer = row?.offers.find(({ to }) => to === one.slice(at + 1));
    if (row !== undefined && offer !== undefined) chosen.set(row.name, offer);
  }
  return chosen;
}

/** A mark on the drawing of what came since. */
export interface ReleaseMark {
  readonly version: string;
  /** From 0, the day of the release in use, to 1, today. */
  readonly x: number;
  /** 0: in use; 1: a patch; 2: a minor step; 3: a major one. */
  readonly lane: number;
  /** `offer`, not tried yet; `good` and `bad`, an offer that was tried; `passed`, one that a later one of its kind passes by. */
  readonly look: 'offer' | 'good' | 'bad' | 'passed' | 'shut';
}

const LANES: Readonly<Record<string, number>> = { patch: 1, minor: 2, major: 3 };

/** O(releases x offers). */
export function releaseMarks(
  { since, newer, offers }: UpgradeRow,
  trials: Trials,
  today: string,
): readonly ReleaseMark[] {
  const days = [since ?? newer[0]?.published ?? today, ...newer.map(({ published }) => published)];
  const first = Math.min(...days.map((one) => Date.parse(one)));
  const span = Math.max(1, Date.parse(today) - first);
  return newer.map(({ version, published, step, why }) => {
    const offer = offers.find(({ to }) => to === version);
    const trial = offer === undefined ? undefined : trials.get(offerKey(offer));
    const tried = trial === undefined ? 'offer' : trial.against.length === 0 ? 'good' : 'bad';
    return {
      version,
      x: Math.min(1, Math.max(0, (Date.parse(published) - first) / span)),
      lane: LANES[step] ?? 1,
      look: offer !== undefined ? tried : why === null ? 'passed' : 'shut',
    };
  });
}

/** The drawing as a sentence. */
export function marksWords({ from, newer, offers }: UpgradeRow, trials: Trials): string {
  const told = offers.map((offer) => {
    const trial = trials.get(offerKey(offer));
    const outcome =
      trial === undefined
        ? 'not tried yet'
        : trial.against.length === 0
          ? 'can be taken'
          : 'something stands against it';
    return `${offer.kind} ${offer.to}, ${outcome}`;
  });
  const newest = newer.at(-1);
  const rest =
    told.length > 0 ? told.join('; ') : `none can be taken: ${newest?.version} ${newest?.why}`;
  return `${count(newer.length, 'newer release')} than ${from}: ${rest}`;
}
