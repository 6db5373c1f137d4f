import type { Post } from '../api/client';
import { useIsFolded } from '../frame/useIsFolded';
import { count, day, short, sumDigits, time } from '../parts/words';

interface Props {
  readonly post: Post;
  readonly isBanded: boolean;
  readonly isOpen: boolean;
  readonly onToggle: () => void;
}

export function JournalLine({ post, isBanded, isOpen, onToggle }: Props) {
  const columns = useIsFolded() ? 3 : 6;
  const {
    commit,
    message,
    authorName,
    postedAt,
    outOfLineBefore,
    outOfLineAfter,
    copiesBefore,
    copiesAfter,
  } = post;
  const ground = isOpen ? 'bg-agreed-wash' : isBanded ? 'bg-bar' : '';
  return (
    <>
      <tr
        onClick={onToggle}
        className={`h-[33px] cursor-pointer border-b ${isOpen ? 'border-transparent' : 'border-rule'} ${ground}`}
      >
        <td className="px-2 text-sm whitespace-nowrap">
          {day(postedAt)} <span className="text-ink-2">{time(postedAt)}</span>
        </td>
        <td className="px-2 font-mono text-sm">{short(commit)}</td>
        <td className="px-2 font-semibold">
          <button type="button" aria-expanded={isOpen} className="text-left">
            {message.split('\n')[0]}
          </button>
        </td>
        <td className="px-2 whitespace-nowrap max-fold:hidden">{authorName}</td>
        <td className="px-2 text-right font-mono text-[13px] whitespace-nowrap max-fold:hidden">
          {outOfLineBefore} → {outOfLineAfter}
        </td>
        <td className="px-2 text-right font-mono text-[13px] whitespace-nowrap max-fold:hidden">
          {copiesBefore ?? '?'} → {copiesAfter}
        </td>
      </tr>
      {isOpen && (
        <tr className="border-b border-rule bg-agreed-wash">
          <td colSpan={columns} className="px-2 pb-3">
            <PostDetail post={post} />
          </td>
        </tr>
      )}
    </>
  );
}

function PostDetail({
  post: { commit, base, branch, message, authorName, authorEmail, edits, manifests, lockSum },
}: {
  readonly post: Post;
}) {
  return (
    <div className="grid grid-cols-2 gap-6 max-fold:grid-cols-1">
      <dl className="grid grid-cols-[100px_1fr] content-start gap-y-1 [overflow-wrap:anywhere]">
        <dt className="text-ink-2">Commit</dt>
        <dd className="font-mono text-sm">{commit}</dd>
        <dt className="text-ink-2">On top of</dt>
        <dd className="font-mono text-sm">
          {short(base)} of {branch}
        </dd>
        <dt className="text-ink-2">Author</dt>
        <dd>
          {authorName} &lt;{authorEmail}&gt;
        </dd>
        <dt className="text-ink-2">Touched</dt>
        <dd>{count(manifests, 'manifest')} and the lockfile</dd>
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
