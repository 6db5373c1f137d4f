import { useMutation, useQuery } from '@tanstack/react-query';
import { answer, api, type Job } from '../api/client';
import { keys } from '../api/keys';
import { useIs } from '../session/useSession';

const WORDS: Readonly<Record<Job['kind'], string>> = {
  'findings-history': 'findings of the past',
  'lock-history': 'history of the lockfile',
  drift: 'drift over the year',
  scan: 'scan of source',
  draft: 'the effect of a draft',
  findings: 'findings of this commit',
  clearing: 'clearing everything',
  several: 'why a package has several copies',
  upgrades: 'upgrades that are tried',
  merge: 'a merge',
  standing: 'a standing order',
  archives: 'archives that are kept',
};

/** Long work that is under way or went wrong, with how far it is. */
export function RunningWork({ slug }: { readonly slug: string }) {
  const mayStop = useIs('editor');
  const jobs = useQuery({
    queryKey: keys.jobs(slug),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/jobs', { params: { path: { slug } }, signal })),
  });
  const stop = useMutation({
    mutationFn: (job: string) =>
      answer(api.DELETE('/api/workspaces/{slug}/jobs/{job}', { params: { path: { slug, job } } })),
  });
  const again = useMutation({
    mutationFn: (job: string) =>
      answer(
        api.POST('/api/workspaces/{slug}/jobs/{job}/again', { params: { path: { slug, job } } }),
      ),
  });
  const shown = newestOfEach(jobs.data ?? []).filter(({ state }) => state !== 'done');
  if (shown.length === 0) return null;
  return (
    <ul aria-label="Work under way" className="mb-2 flex flex-col gap-1.5">
      {shown.map(({ id, kind, state, done, total, trouble }) => (
        <li key={id}>
          <span className="block text-ink-2">{WORDS[kind]}</span>
          {(state === 'running' || state === 'waiting') && (
            <span className="flex items-center gap-1.5 whitespace-nowrap">
              <progress
                aria-label={WORDS[kind]}
                className="h-1.5 w-[52px]"
                {...(total === 0 ? {} : { max: total, value: done })}
              />
              {total > 0 && `${done} of ${total}`}
              {mayStop && (
                <button type="button" className="underline" onClick={() => stop.mutate(id)}>
                  stop
                </button>
              )}
            </span>
          )}
          {(state === 'failed' || state === 'stopped') && (
            <span title={trouble ?? ''}>
              {state}{' '}
              {mayStop && (
                <button type="button" className="underline" onClick={() => again.mutate(id)}>
                  begin again
                </button>
              )}
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}

/** @param jobs newest first */
function newestOfEach(jobs: readonly Job[]): readonly Job[] {
  return jobs.filter(({ kind }, i) => jobs.findIndex((one) => one.kind === kind) === i);
}
