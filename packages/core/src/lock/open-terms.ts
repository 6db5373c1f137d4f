import type { PackageRecords, TermsOfUse } from '../registry/index.js';
import { copyKey, type Resolution } from '../resolve/index.js';
import type { AcceptedLine } from '../manifest/index.js';
import type { Workspace } from '../workspace/index.js';
import type { CopyName } from './compare-locks.js';

/** Terms that nobody has accepted as they read now, and the copies that are under them. */
export interface OpenTerms extends TermsOfUse {
  readonly copies: readonly CopyName[];
  /** What was accepted under the same id when it read otherwise; null: nothing was. */
  readonly earlier: AcceptedLine | null;
}

/**
 * The terms that copies of a resolution are under and nobody has accepted, sorted by id.
 * O(copies + their packages' releases).
 * @param before copies that it has already are not looked at; null: all are
 */
export function openTerms(
  { shared: { accepted } }: Pick<Workspace, 'shared'>,
  records: PackageRecords,
  { copies }: Resolution,
  before: Resolution | null = null,
): readonly OpenTerms[] {
  const known = new Set(before?.copies.map(copyKey));
  const open = new Map<string, OpenTerms & { readonly copies: CopyName[] }>();
  for (const copy of copies) {
    const { name, version } = copy;
    const terms = termsOfCopy(records, copy);
    if (terms === null || known.has(copyKey(copy))) continue;
    const { state, line } = termsStand(accepted, terms);
    if (state === 'accepted') continue;
    const key = JSON.stringify([terms.id, terms.title, terms.url]);
    const others = open.get(key);
    if (others !== undefined) others.copies.push({ name, version });
    else open.set(key, { ...terms, copies: [{ name, version }], earlier: line });
  }
  return [...open.values()].sort((a, b) => (a.id < b.id ? -1 : 1));
}

/** The terms that a copy's release is under, as the registry has them now. */
export function termsOfCopy(
  records: PackageRecords,
  { name, version }: CopyName,
): TermsOfUse | null {
  return records.get(name)?.releases.find(({ text }) => text === version)?.terms ?? null;
}

/** How terms stand: accepted as they read, accepted as they read before they changed, or not at all. */
export interface TermsStand {
  readonly state: 'accepted' | 'changed' | 'open';
  /** What says so; null: nothing was accepted under their id. */
  readonly line: AcceptedLine | null;
}

export function termsStand(
  accepted: readonly AcceptedLine[],
  { id, title, url }: TermsOfUse,
): TermsStand {
  const lines = accepted.filter((one) => one.id === id);
  const same = lines.find((one) => one.title === title && one.url === url);
  if (same !== undefined) return { state: 'accepted', line: same };
  const [line = null] = lines;
  return { state: line === null ? 'open' : 'changed', line };
}
