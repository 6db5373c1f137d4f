import type { DataSource } from 'typeorm';
import { GONE_MS } from '../machines/report-age.js';

/** What the database knows of a workspace, in numbers. */
export interface WorkspaceCounts {
  readonly drafts: number;
  readonly posts: number;
  readonly lastPost: {
    readonly author: string;
    readonly message: string;
    readonly at: string;
  } | null;
  /** Machines and build runs that stand on, or have installed, another lockfile than the head's. */
  readonly machinesBehind: number;
  readonly archivesMissing: number;
}

/**
 * All of it by one question to the database, since every page asks it.
 * @param sum of the head's lockfile; null: it has none
 */
export async function workspaceCounts(
  database: DataSource,
  id: string,
  sum: string | null,
  now: Date,
): Promise<WorkspaceCounts> {
  const [counts] = (await database.query(
    `SELECT
      (SELECT count(*)::int FROM "draft" WHERE "workspace_id" = $1 AND "state" = 'open') AS "drafts",
      (SELECT count(*)::int FROM "post" WHERE "workspace_id" = $1 AND "state" = 'posted') AS "posts",
      (SELECT json_build_object('author', "author_name", 'message', "message", 'at', "posted_at")
        FROM "post" WHERE "workspace_id" = $1 AND "state" = 'posted'
        ORDER BY "posted_at" DESC LIMIT 1) AS "lastPost",
      (SELECT count(*)::int FROM "report" WHERE "workspace_id" = $1 AND "at" > $3
        AND ("lock_sum" IS DISTINCT FROM $2
          OR ("installed_sum" IS NOT NULL AND "installed_sum" IS DISTINCT FROM $2))) AS "machinesBehind",
      (SELECT count(*)::int FROM "archive_use"
        WHERE "workspace_id" = $1 AND "trouble" IS NOT NULL) AS "archivesMissing"`,
    [id, sum, new Date(now.getTime() - GONE_MS)],
  )) as [WorkspaceCounts];
  return counts;
}
