import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { answer, api, type Decision, type MergeConflict, type MergePreview } from '../api/client';
import { keys } from '../api/keys';
import { Change } from '../draft/DraftConsequences';
import { DiffFile } from '../draft/DiffFile';
import { OpenTerms } from '../draft/OpenTerms';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { ProblemList } from '../parts/ProblemList';
import { SelectField } from '../parts/SelectField';
import { TextLink } from '../parts/TextLink';
import { count, day, short, sumDigits } from '../parts/words';
import { useIs } from '../session/useSession';
import { ConflictCard } from './ConflictCard';

/** What is the result of merging a branch, and what has to be decided? */
export function MergePage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const branch = state?.branch ?? '';
  const branches = useQuery({
    queryKey: keys.branches(slug, state?.head.commit),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/merges/branches', { params: { path: { slug } }, signal }),
      ),
    enabled: state !== undefined,
  });
  const from = params.get('from');
  const decisions = decisionsIn(params.get('decided'));
  const preview = useQuery({
    queryKey: keys.merge(slug, state?.head.commit, from, decisions),
    queryFn: ({ signal }) =>
      answer(
        api.POST('/api/workspaces/{slug}/merges/preview', {
          params: { path: { slug } },
          body: { from: from ?? '', decisions: [...decisions] },
          signal,
        }),
      ),
    enabled: state !== undefined && from !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const decide = (conflict: MergeConflict, side: Decision['side']): void => {
    const { file, path } = conflict;
    const next = [
      ...decisions.filter((one) => keyOf(one) !== keyOf(conflict)),
      { file, path, side },
    ];
    change({ decided: JSON.stringify(next) });
  };
  const open = branches.data?.filter(({ isMerged }) => !isMerged) ?? [];
  const { data } = preview;
  return (
    <>
      <PageHead title="Merge branches" state={state}>
        {from === null || data === undefined
          ? branches.data === undefined
            ? 'Looking for branches.'
            : open.length === 0
              ? `${branch} has everything that other branches have.`
              : `${count(open.length, 'branch', 'branches')} could be merged into ${branch}.`
          : headingOf(data, from, branch)}
      </PageHead>
      {branches.isError && <ErrorNotice error={branches.error} />}
      <div className="pb-3">
        <SelectField
          label={`Merge into ${branch}`}
          isInLine
          value={from ?? ''}
          onChange={(value) => change({ from: value === '' ? null : value, decided: null })}
          options={[
            { value: '', text: 'choose a branch' },
            ...(branches.data ?? []).map(({ name, isMerged }) => ({
              value: name,
              text: isMerged ? `${name} (merged)` : name,
            })),
          ]}
        />
      </div>
      {from === null && open.length > 0 && (
        <table className="rule-double-top w-full border-collapse bg-leaf">
          <tbody>
            {open.map(({ name, head }) => (
              <tr key={name} className="h-[33px] border-b border-rule">
                <td className="px-2">
                  <Button look="text" onClick={() => change({ from: name })}>
                    {name}
                  </Button>
                </td>
                <td className="px-2 text-sm text-ink-2">
                  {day(head.at)}, {head.author}: {head.subject}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {preview.isError && (
        <ErrorNotice error={preview.error} onRetry={() => void preview.refetch()} />
      )}
      {from !== null && data !== undefined && (
        <div className="flex flex-col gap-4">
          {data.conflicts.map((conflict) => (
            <ConflictCard
              key={keyOf(conflict)}
              slug={slug}
              ours={branch}
              theirs={from}
              conflict={conflict}
              onDecide={(side) => decide(conflict, side)}
            />
          ))}
          {data.otherConflicts.length > 0 && (
            <Notice kind="trouble" title="Other files are in conflict">
              <p>git cannot merge these: {data.otherConflicts.join(', ')}.</p>
              <p>
                Merge in a clone with git and the merge driver, which{' '}
                <code className="font-mono">bin/deep-ledger setup-git</code> sets up.
              </p>
            </Notice>
          )}
          {data.kind === 'unreadable' && (
            <Notice kind="trouble" title="The merged manifests cannot be used">
              <ProblemList problems={data.problems} isAtHead={false} />
            </Notice>
          )}
          {data.kind === 'unanswered' && (
            <Notice kind="trouble" title="Nothing answers the merged manifests">
              {data.explanations.map((sentences, i) => (
                <p key={i}>{sentences.join(' ')}</p>
              ))}
            </Notice>
          )}
          {data.kind === 'merged' && (
            <Merged
              slug={slug}
              from={from}
              branch={branch}
              preview={data}
              decisions={decisions}
              isStale={preview.isPlaceholderData}
              onPosted={() => change({ from: null, decided: null })}
            />
          )}
        </div>
      )}
    </>
  );
}

/** The decisions, as the address has them; anything else in the address is ignored. */
function decisionsIn(text: string | null): readonly Decision[] {
  if (text === null) return [];
  try {
    const read: unknown = JSON.parse(text);
    return Array.isArray(read) ? read.filter(isDecision) : [];
  } catch {
    return [];
  }
}

function isDecision(one: unknown): one is Decision {
  const { file, path, side } = (one ?? {}) as Partial<Record<keyof Decision, unknown>>;
  return (
    typeof file === 'string' &&
    Array.isArray(path) &&
    path.every((key) => typeof key === 'string') &&
    (side === 'ours' || side === 'base' || side === 'theirs')
  );
}

function keyOf({ file, path }: Pick<Decision, 'file' | 'path'>): string {
  return [file, ...path].join('\0');
}

interface MergedProps {
  readonly slug: string;
  readonly from: string;
  readonly branch: string;
  readonly preview: MergePreview;
  readonly decisions: readonly Decision[];
  readonly isStale: boolean;
  readonly onPosted: () => void;
}

/** What is written once it is posted. */
function Merged(props: MergedProps) {
  const { slug, from, branch, preview, decisions, isStale, onPosted } = props;
  const queries = useQueryClient();
  const mayPost = useIs('keeper');
  const mayApprove = useIs('editor');
  const frame = useOutletContext<FrameContext>();
  const { review, disputed, openTerms } = preview;
  const isApproved = review?.isApproved ?? false;
  const isMine = review?.approvals.some((one) => one.isMine) ?? false;
  const seen = {
    from,
    decisions: [...decisions],
    ours: preview.ours.commit,
    theirs: preview.theirs.commit,
    result: preview.result ?? '',
  };
  const approve = useMutation({
    mutationFn: () =>
      answer(
        api.PUT('/api/workspaces/{slug}/merges/approval', {
          params: { path: { slug } },
          body: seen,
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.merge(slug) }),
  });
  const [message, setMessage] = useState(preview.message);
  const post = useMutation({
    mutationFn: () =>
      answer(
        api.POST('/api/workspaces/{slug}/merges/post', {
          params: { path: { slug } },
          body: { ...seen, message },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: keys.workspace(slug) });
      await queries.invalidateQueries({ queryKey: keys.branches(slug) });
      onPosted();
    },
    onSettled: () => queries.invalidateQueries({ queryKey: keys.merge(slug) }),
  });
  return (
    <>
      <section aria-label="Result" className="rule-double-top bg-leaf px-3 py-3">
        <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-6 max-fold:grid-cols-1">
          <div>
            <h2 className="font-serif text-lg font-semibold">
              The lockfile after it{' '}
              {preview.sum !== null && (
                <code className="font-mono text-sm">{sumDigits(preview.sum)}</code>
              )}
            </h2>
            {preview.change !== null && <Change change={preview.change} />}
          </div>
          <div className="flex flex-col gap-2">
            <label className="flex flex-col gap-0.5">
              <span className="font-semibold">Message</span>
              <textarea
                rows={3}
                value={message}
                onChange={(event) => setMessage(event.target.value)}
                className="rounded-sm border border-rule-strong bg-leaf px-2 py-1 font-mono text-sm"
              />
            </label>
            {post.isError && <ErrorNotice error={post.error} />}
            {approve.isError && <ErrorNotice error={approve.error} />}
            {disputed.map(({ name, version, locked, offered }) => (
              <p key={`${name} ${version}`} className="text-sm [overflow-wrap:anywhere] text-off">
                {name} {version} has the integrity {locked} in the lockfile; the registry says{' '}
                {offered}. The merge cannot be posted until one of the two is right.
              </p>
            ))}
            <OpenTerms open={openTerms} frame={frame} draftName="Terms accepted">
              <p className="pt-2">
                Accepting them is a draft on {branch}: post it first, then the merge.
              </p>
            </OpenTerms>
            {review?.needsApproval === true && !isApproved && (
              <p className="text-sm text-caution">
                A post waits for a second person’s approval. The address of this page holds what was
                decided; send it to them.
              </p>
            )}
            {review?.approvals.map((one) => (
              <p key={one.name} className="text-sm text-agreed">
                {one.name} approved this result.
              </p>
            ))}
            <div className="flex gap-2">
              <Button
                disabled={
                  !mayPost ||
                  !isApproved ||
                  disputed.length > 0 ||
                  openTerms.length > 0 ||
                  isStale ||
                  post.isPending ||
                  message.trim() === '' ||
                  preview.otherConflicts.length > 0
                }
                title={mayPost ? undefined : 'A keeper posts.'}
                onClick={() => post.mutate()}
              >
                {post.isPending ? 'Posting' : `Post the merge to ${branch}`}
              </Button>
              {review?.needsApproval === true && mayApprove && !isMine && (
                <Button
                  look="quiet"
                  disabled={isStale || approve.isPending}
                  onClick={() => approve.mutate()}
                >
                  Approve this result
                </Button>
              )}
            </div>
            <p className="text-sm text-ink-2">
              One commit with both parents, {short(preview.ours.commit)} and{' '}
              {short(preview.theirs.commit)}.{' '}
              <TextLink to={`/w/${slug}/journal`}>It will stand in the journal</TextLink>.
            </p>
          </div>
        </div>
      </section>
      {preview.files.map((file) => (
        <DiffFile key={file.path} file={file} />
      ))}
    </>
  );
}

function headingOf(preview: MergePreview, from: string, branch: string): string {
  const open = preview.conflicts.filter(({ decided }) => decided === null).length;
  const apart =
    preview.base === null
      ? ''
      : ` They parted at ${short(preview.base.commit)} on ${day(preview.base.at)}.`;
  switch (preview.kind) {
    case 'nothing':
      return `${branch} has all of ${from} already.`;
    case 'conflicts':
      return `${count(open, 'thing')} both sides changed differently, to be decided.${apart}`;
    case 'merged':
      return `${from} merges into ${branch}: ${count(preview.files.length, 'file')} change, and the lockfile is consistent.${apart}`;
    default:
      return `${from} and ${branch} merge into manifests without an answer.${apart}`;
  }
}
