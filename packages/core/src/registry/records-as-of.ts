import type { PackageRecords } from './package-record.js';

/** The records as they were on a day, as far as records tell: without what was published later. O(releases). */
export function recordsAsOf(records: PackageRecords, day: string): PackageRecords {
  return new Map(
    [...records].map(([name, record]) => {
      if (record === null) return [name, null];
      const releases = record.releases.filter(({ published }) => published.slice(0, 10) <= day);
      return [name, releases.length === record.releases.length ? record : { ...record, releases }];
    }),
  );
}
