import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useOutletContext } from 'react-router';
import { answer, api, type JournalEntry } from '../api/client';
import { keys } from '../api/keys';
import { useIsFolded } from '../frame/useIsFolded';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count, day, short, sumDigits, time } from '../parts/words';
import { ComparisonView } from './ComparisonView';
import { EditorButton } from '../session/EditorButton';

interface Props {
  readonly entry: JournalEntry;
  readonly isBanded: boolean;
  readonly isOpen: boolean;
  readonly onToggle: () => void;
}

export function JournalLine({ entry, isBanded, isOpen, onToggle }: Props) {
  const columns = useIsFolded() ? 3 : 6;
  const { commit, subject, author, at, post } = entry;
  const ground = isOpen ? 'bg-agreed-wash' : isBanded ? 'bg-bar' : '';
  return (
    <>
      <tr
        onClick={onToggle}
        className={`h-[33px] cursor-pointer border-b ${isOpen ? 'border-transparent' : 'border-rule'} ${ground}`}
      >
        <td className="px-2 text-sm whitespace-nowrap">
          {day(at)} <span className="text-ink-2">{time(at)}</span>
        </td>
        <td className="px-2 font-mono text-sm">{short(commit)}</td>
        <td className={`truncate px-2 ${post === null ? '' : 'font-semibold'}`} title={subject}>
          <button
            type="button"
            aria-expanded={isOpen}
            className="max-w-full truncate text-left align-bottom"
          >
            {subject}
          </button>
        </td>
        <td className="truncate px-2 whitespace-nowrap max-fold:hidden">{author}</td>
        {post === null ? (
          <td
            colSpan={2}
            className="px-2 text-right text-sm whitespace-nowrap text-ink-2 max-fold:hidden"
          >
            {outsideWords(entry)}
          </td>
        ) : (
          <>
            <td className="px-2 text-right font-mono text-[13px] whitespace-nowrap max-fold:hidden">
              {post.outOfLineBefore} → {post.outOfLineAfter}
            </td>
            <td className="px-2 text-right font-mono text-[13px] whitespace-nowrap max-fold:hidden">
              {post.copiesBefore ?? '?'} → {post.copiesAfter}
            </td>
          </>
        )}
      </tr>
      {isOpen && (
        <tr className="border-b border-rule bg-agreed-wash">
          <td colSpan={columns} className="px-2 pb-3">
            <EntryDetail entry={entry} />
          </td>
        </tr>
      )}
    </>
  );
}

function outsideWords({ manifests, touchesLock }: JournalEntry): string {
  if (manifests === 0) return 'outside, lockfile alone';
  return touchesLock ? `outside, ${count(manifests, 'manifest')}` : 'outside, lockfile kept';
}

function EntryDetail({ entry }: { readonly entry: JournalEntry }) {
  const { slug, takeDraft } = useOutletContext<FrameContext>();
  const queries = useQueryClient();
  const { commit, post } = entry;
  const reverse = useMutation({
    mutationFn: () => {
      return answer(
        api.POST('/api/workspaces/{slug}/journal/{commit}/reversal', {
          params: { path: { slug, commit } },
        }),
      );
    },
    onSuccess: async ({ id }) => {
      await queries.invalidateQueries({ queryKey: keys.drafts(slug) });
      takeDraft(id);
    },
  });
  return (
    <div className="flex flex-col gap-3">
      <div className="flex flex-wrap items-center gap-3">
        <EditorButton look="quiet" disabled={reverse.isPending} onClick={() => reverse.mutate()}>
          {reverse.isPending ? 'Preparing' : 'Take it back, as a draft'}
        </EditorButton>
        <code className="font-mono text-sm text-ink-2 [overflow-wrap:anywhere]">{commit}</code>
      </div>
      {reverse.isError && <ErrorNotice error={reverse.error} />}
      {post !== null && <PostDetail post={post} />}
      <ComparisonView from={null} to={commit} />
    </div>
  );
}

function PostDetail({
  post: { base, branch, message, authorName, authorEmail, edits, lockSum },
}: {
  readonly post: NonNullable<JournalEntry['post']>;
}) {
  return (
    <div className="grid grid-cols-2 gap-6 max-fold:grid-cols-1">
      <dl className="grid grid-cols-[100px_1fr] content-start gap-y-1 [overflow-wrap:anywhere]">
        <dt className="text-ink-2">On top of</dt>
        <dd className="font-mono text-sm">{short(base)}</dd>
        <dt className="text-ink-2">Posted to</dt>
        <dd className="font-mono text-sm">{branch}</dd>
        <dt className="text-ink-2">Author</dt>
        <dd>
          {authorName} &lt;{authorEmail}&gt;
        </dd>
        <dt className="text-ink-2">Lockfile sum</dt>
        <dd className="font-mono text-sm">{sumDigits(lockSum)}</dd>
      </dl>
      <div>
        <ul className="mb-2">
          {edits.map(({ subject, verb, from, to, detail }, i) => (
            <li key={i}>
              <b className="font-semibold">{subject}</b> {verb}{' '}
              {to !== null && (
                <code className="font-mono text-sm">
                  {from !== null && `${from} → `}
                  {to}
                </code>
              )}
              {detail !== null && <span className="block text-sm text-ink-2">{detail}</span>}
            </li>
          ))}
        </ul>
        <pre className="border-l border-rule-strong pl-2 font-mono text-xs whitespace-pre-wrap text-ink-2">
          {message.trim()}
        </pre>
      </div>
    </div>
  );
}
