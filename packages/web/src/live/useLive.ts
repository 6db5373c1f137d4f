import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Job } from '../api/client';
import { keys, type WorkspaceKey } from '../api/keys';
import { listen, type LiveEvent } from './stream';

/** A page asks for the same again at most this often. */
const GATHER_MS = 500;

/** What is asked again when something of a topic happens; a topic that is not here concerns the whole workspace. */
const OF_TOPIC: Readonly<Record<string, readonly WorkspaceKey[]>> = {
  drafts: ['drafts', 'draft', 'review'],
  jobs: ['jobs'],
  standing: ['standing'],
  reports: ['machines', 'workspace'],
  tokens: ['tokens', 'audit'],
  settings: ['workspace', 'review'],
  merges: ['merge'],
};
const ALL: readonly WorkspaceKey[] = [
  'workspace',
  'drafts',
  'draft',
  'review',
  'journal',
  'lock',
  'machines',
  'archives',
  'branches',
  'merge',
  'jobs',
];

/**
 * The answers that are asked for again once work of a kind is over. A page that waits for its own answer gets it
 * without asking.
 */
const OF_WORK: Readonly<Record<Job['kind'], readonly WorkspaceKey[]>> = {
  'findings-history': ['overview'],
  'lock-history': ['lock', 'overview', 'machines'],
  drift: ['driftLine'],
  scan: ['overview'],
  draft: [],
  findings: [],
  clearing: [],
  several: [],
  upgrades: [],
  merge: [],
  standing: ['standing', 'drafts', 'draft', 'review'],
  archives: ['archives', 'workspace'],
};

/** Keeps what the page shows up to date with what others do. */
export function useLive(slug: string): void {
  const queries = useQueryClient();
  useEffect(() => {
    const waiting = new Set<WorkspaceKey>();
    let timer: ReturnType<typeof setTimeout> | null = null;
    const flush = (): void => {
      timer = null;
      for (const key of waiting) void queries.invalidateQueries({ queryKey: keys[key](slug) });
      waiting.clear();
    };
    const stop = listen(slug, (event) => {
      for (const key of keysOf(event)) waiting.add(key);
      if (event.job !== undefined) takeJob(queries, slug, event.job);
      if (waiting.size > 0) timer ??= setTimeout(flush, GATHER_MS);
    });
    return () => {
      stop();
      if (timer !== null) clearTimeout(timer);
    };
  }, [slug, queries]);
}

function keysOf({ topic, job }: LiveEvent): readonly WorkspaceKey[] {
  if (job === undefined) return OF_TOPIC[topic] ?? ALL;
  return job.state === 'done' ? OF_WORK[job.kind] : [];
}

/** Progress is shown as it is told: nothing is asked again for it. */
function takeJob(queries: QueryClient, slug: string, job: Job): void {
  queries.setQueryData(keys.jobs(slug), (jobs: readonly Job[] | undefined) =>
    jobs === undefined ? undefined : [job, ...jobs.filter(({ id }) => id !== job.id)],
  );
}
