import { SESSION_DAYS } from '../team/sessions.service.js';

const URLS_IN_USE = `SELECT "place".value->>'url' FROM "workspace", jsonb_each("registries") AS "place"
  WHERE "closed_at" IS NULL`;

/** What is thrown away, and when. Accounts, drafts, posts and the record are kept. */
export const RULES: readonly { readonly what: string; readonly statement: string }[] = [
  {
    what: 'sessions that are too old',
    statement: `DELETE FROM "session" WHERE "created_at" < now() - interval '${SESSION_DAYS} days'`,
  },
  {
    what: 'one-time links that no longer count',
    statement: `DELETE FROM "one_time_link" WHERE "created_at" < now() - interval '7 days'`,
  },
  {
    what: 'answers that were not asked for lately',
    statement: `DELETE FROM "answer" WHERE "asked_at" < now() - interval '1 day'`,
  },
  {
    what: 'work that is over',
    statement: `DELETE FROM "job" WHERE "state" IN ('done', 'failed', 'stopped')
      AND "updated_at" < now() - interval '7 days'`,
  },
  {
    what: 'packages that a registry did not have',
    statement: `DELETE FROM "package_document"
      WHERE "body" IS NULL AND "fetched_at" < now() - interval '1 day'`,
  },
  {
    what: 'documents of registries that no workspace uses',
    statement: `DELETE FROM "package_document" WHERE split_part("registry_url", '#', 1) NOT IN
      (${URLS_IN_USE})`,
  },
  {
    what: 'how far registries were read that no workspace uses',
    statement: `DELETE FROM "registry" WHERE split_part("url", '#', 1) NOT IN
      (${URLS_IN_USE})`,
  },
  {
    what: 'scans of files, the oldest of more than a million',
    statement: `DELETE FROM "source_scan" WHERE "found_at" <
      (SELECT "found_at" FROM "source_scan" ORDER BY "found_at" DESC OFFSET 1000000 LIMIT 1)`,
  },
];
