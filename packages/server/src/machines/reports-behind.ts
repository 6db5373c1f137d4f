import type { Repository } from 'typeorm';
import type { ReportEntity } from './report.entity.js';

const DAY_MS = 86_400_000;
/** A report this old is no longer told. */
export const GONE_MS = 30 * DAY_MS;

/**
 * How many machines and build runs stand on, or have installed, another lockfile than the head's. One question to the
 * database, no history.
 * @param sum of the head's lockfile; null: it has none
 */
export function reportsBehind(
  reports: Repository<ReportEntity>,
  workspaceId: string,
  sum: string | null,
  now: Date,
): Promise<number> {
  return reports
    .createQueryBuilder('report')
    .where('report.workspaceId = :workspaceId', { workspaceId })
    .andWhere('report.at > :since', { since: new Date(now.getTime() - GONE_MS) })
    .andWhere(
      `(report.lockSum IS DISTINCT FROM :sum
        OR (report.installedSum IS NOT NULL AND report.installedSum IS DISTINCT FROM :sum))`,
      { sum },
    )
    .getCount();
}
