import { rangeContains, requireRange, requireVersion } from '@deep-ledger/core';
import { buildArchive, type PackageDocument, type ReleaseDocument } from '@deep-ledger/registry';
import type { ByRange, PackageLine } from './package-line.js';

const LAST_DAY = '2026-11-13';
const DAY_MS = 86_400_000;

/** The registry's document of a package, with archives whose sums are real. */
export async function expandPackage(line: PackageLine): Promise<PackageDocument> {
  const releases = await Promise.all(
    datedVersions(line).map(({ version, published }) => expandRelease(line, version, published)),
  );
  return { name: line.name, summary: line.summary, releases };
}

function datedVersions({
  stretches,
  until = LAST_DAY,
}: PackageLine): readonly { version: string; published: string }[] {
  return stretches.flatMap(([from, text], i) => {
    const start = Date.parse(from);
    const end = Date.parse(stretches[i + 1]?.[0] ?? until);
    const versions = text.split(' ').flatMap((minor) => {
      const [line, count] = minor.split(':');
      return Array.from({ length: Number(count) }, (_, patch) => `${line}.${patch}`);
    });
    const stepDays = Math.floor((end - start) / DAY_MS / versions.length);
    return versions.map((version, n) => ({
      version,
      published: new Date(start + n * stepDays * DAY_MS + (9 + (n % 8)) * 3_600_000).toISOString(),
    }));
  });
}

async function expandRelease(
  line: PackageLine,
  version: string,
  published: string,
): Promise<ReleaseDocument> {
  const { name, summary } = line;
  const own = requireVersion(version);
  const needs = Object.entries(valueFor(line.needs, version) ?? {}).map(([needed, range]) => [
    needed,
    range === '~same' ? `~${own.major}.${own.minor}.0` : range,
  ]);
  const { bytes, integrity } = await buildArchive({
    name,
    version,
    summary,
    needs: needs.map(([needed]) => needed!),
  });
  const terms = valueFor(line.terms, version);
  return {
    version,
    published,
    licence: line.licence ?? 'MIT',
    needs: Object.fromEntries(needs) as Record<string, string>,
    optional: valueFor(line.optional, version) ?? {},
    peers: Object.fromEntries(
      Object.entries(valueFor(line.besides, version) ?? {}).map(([peer, range]) => [
        peer,
        { range, optional: true },
      ]),
    ),
    platform: valueFor(line.platform, version) ?? {},
    targets: line.targets ?? ['*'],
    deprecated: valueFor(line.deprecated, version),
    withdrawn: line.withdrawn?.includes(version) ?? false,
    ...(terms === null ? {} : { terms }),
    ...notesFor(name, version),
    archive: { path: `/archives/${name}/${version}`, integrity, bytes: bytes.length },
  };
}

const CHANGES = [
  'long lines are folded at the last blank before the edge',
  'an empty list is written as one, and not left out',
  'half the time on files of more than a megabyte',
  'a clock that goes back no longer stops the loop',
  'errors name the file and the line',
  'settings may come from the environment, too',
  'closes what it opened when it is stopped half-way',
];

/** What is new, in a third of all releases. */
function notesFor(name: string, version: string): { notes?: string } {
  const sum = [...`${name} ${version}`].reduce(
    (all, one) => (all * 31 + one.charCodeAt(0)) % 9973,
    7,
  );
  if (sum % 3 !== 0) return {};
  const lines = Array.from(
    { length: 1 + (sum % 2) },
    (_, i) => CHANGES[(sum + i * 3) % CHANGES.length]!,
  );
  const first = version.endsWith('.0') ? 'New' : 'Mended';
  return { notes: `### ${first} in ${version}\n\n${lines.map((one) => `- ${one}`).join('\n')}\n` };
}

function valueFor<T>(values: ByRange<T> | undefined, version: string): T | null {
  const found = values?.find(([range]) =>
    rangeContains(requireRange(range), requireVersion(version)),
  );
  return found?.[1] ?? null;
}
