import type { OtherwiseLine } from '../../manifest/index.js';
import type { PackageRecord, PackageRecords, Release } from '../../registry/index.js';
import type { Workspace } from '../../workspace/index.js';

/** The lines that hold on a day, by the package whose releases they are about, and by what those require. */
export function linesInForce(
  { shared }: Pick<Workspace, 'shared'>,
  day: string | null,
): ReadonlyMap<string, ReadonlyMap<string, OtherwiseLine>> {
  const lines = new Map<string, Map<string, OtherwiseLine>>();
  for (const line of shared.otherwise) {
    if (day !== null && line.until < day) continue;
    const own = lines.get(line.of) ?? new Map<string, OtherwiseLine>();
    lines.set(line.of, own.set(line.package, line));
  }
  return lines;
}

/** The same for equal lines that hold on a day. */
export function otherwiseKey({ shared }: Pick<Workspace, 'shared'>, day: string): string {
  const inForce = shared.otherwise.filter(({ until }) => until >= day);
  return inForce.map((line) => `${line.of}\n${line.package}\n${line.range}`).join('\n\n');
}

/**
 * The registry's records as a workspace answers them on a day: what a team answers otherwise than a release asks has the
 * team's range. Where it answers nothing otherwise they are the same object.
 * O(packages + needs of the releases that are answered otherwise).
 */
export function recordsAsAnswered(
  records: PackageRecords,
  workspace: Pick<Workspace, 'shared'>,
  day: string,
): PackageRecords {
  const lines = linesInForce(workspace, day);
  if (lines.size === 0) return records;
  return new Map(
    [...records].map(([name, record]) => {
      const own = lines.get(name);
      return [name, own === undefined || record === null ? record : answered(record, own)];
    }),
  );
}

function answered(record: PackageRecord, lines: ReadonlyMap<string, OtherwiseLine>): PackageRecord {
  const releases = record.releases.map((release): Release => {
    if (!release.needs.some(({ name }) => lines.has(name))) return release;
    const needs = release.needs.map((need) => {
      const range = lines.get(need.name)?.range;
      return range === undefined || range === need.range
        ? need
        : { ...need, range, asked: need.range };
    });
    return { ...release, needs };
  });
  return { ...record, releases };
}
