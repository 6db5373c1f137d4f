import { useQuery } from '@tanstack/react-query';
import { answer, api, type LockCommit, type LockCopy } from '../api/client';
import { keys } from '../api/keys';
import { ErrorNotice } from '../parts/ErrorNotice';
import { TextLink } from '../parts/TextLink';
import { day, short } from '../parts/words';
import { useSeveral } from '../trace/useTrace';

interface Props {
  readonly slug: string;
  readonly commit: string;
  readonly copy: LockCopy;
  readonly brought: LockCommit | null;
}

const MOST_DEMANDS = 12;

/** Who demands a copy, what it is checked by, and what forces it beside others. */
export function CopyDetail({ slug, commit, copy, brought }: Props) {
  const { name, version } = copy;
  const detail = useQuery({
    queryKey: keys.lockCopy(slug, commit, name, version),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/lock/copies/{name}/{version}', {
          params: { path: { slug, name, version } },
          signal,
        }),
      ),
  });
  if (detail.isError) return <ErrorNotice error={detail.error} />;
  const { data } = detail;
  if (data === undefined) return <p className="text-ink-2">Reading it.</p>;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-6 gap-y-2 max-fold:grid-cols-1">
      <div>
        <h3 className="font-semibold">Demanded by</h3>
        <ul className="text-sm">
          {data.demands.slice(0, MOST_DEMANDS).map(({ owner, isProject, kind, range }) => (
            <li key={`${owner} ${kind}`}>
              <span className={isProject ? 'font-semibold' : 'font-mono'}>{owner}</span>{' '}
              <code className="font-mono text-ink-2">{range}</code>
              {kind !== 'runtime' && <span className="text-ink-2"> ({kind})</span>}
            </li>
          ))}
          {data.demands.length > MOST_DEMANDS && (
            <li className="text-ink-2">and {data.demands.length - MOST_DEMANDS} more</li>
          )}
        </ul>
        <p className="pt-1 text-sm">
          <TextLink
            to={`/w/${slug}/trace?package=${encodeURIComponent(name)}&version=${encodeURIComponent(version)}`}
          >
            Trace: all chains that lead here
          </TextLink>
        </p>
      </div>
      <div className="text-sm">
        {brought !== null && (
          <p>
            Here since {day(brought.at)}, by <b className="font-semibold">{brought.author}</b>:{' '}
            <TextLink to={`/w/${slug}/journal?post=${brought.commit}`}>
              {short(brought.commit)} {brought.subject}
            </TextLink>
          </p>
        )}
        {copy.isOneOfSeveral && <Forced slug={slug} commit={commit} name={name} />}
        <p className="pt-1">
          From {data.registry}, {data.archive}
          {!data.targets.includes('*') && `, for ${data.targets.join(', ')}`}
        </p>
        <p className="pt-1 font-mono text-xs [overflow-wrap:anywhere] text-ink-2">
          {data.integrity}
        </p>
        {data.deprecated !== null && <p className="text-off">Deprecated: {data.deprecated}</p>}
      </div>
    </div>
  );
}

/** The certificate: demands no two of which one release meets. */
function Forced({
  slug,
  commit,
  name,
}: {
  readonly slug: string;
  readonly commit: string;
  readonly name: string;
}) {
  const several = useSeveral(slug, commit, name).data;
  if (several === undefined) return <p className="text-ink-2">Looking whether it is forced.</p>;
  const { copies, least, forcedBy, needless } = several;
  if (needless.length > 0)
    return (
      <p className="text-caution">
        {needless.map(({ version }) => version).join(', ')} of {copies.length} copies could go;{' '}
        <TextLink to={`/w/${slug}/trace?package=${encodeURIComponent(name)}`}>
          Trace shows how
        </TextLink>
        .
      </p>
    );
  return (
    <p>
      {least} of {copies.length} copies are forced
      {forcedBy.length > 0 && (
        <>
          : no release meets any two of{' '}
          {forcedBy.map(({ owner, range }, i) => (
            <span key={`${owner} ${range}`}>
              {i > 0 && ', '}
              {owner} <code className="font-mono">{range}</code>
            </span>
          ))}
        </>
      )}
      .
    </p>
  );
}
