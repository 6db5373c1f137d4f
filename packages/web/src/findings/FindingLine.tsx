import { useOutletContext } from 'react-router';
import type { Evidence, Finding, Remedy } from '../api/client';
import { usePencil } from '../draft/usePencil';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { PlaceLink } from '../file/PlaceLink';
import { ErrorNotice } from '../parts/ErrorNotice';
import { TextLink } from '../parts/TextLink';
import { day, short } from '../parts/words';
import { traceAddress } from '../trace/trace-address';
import { KIND_WORDS } from './kind-words';
import { EditorButton } from '../session/EditorButton';

interface Props {
  readonly finding: Finding;
  /** Without it nothing is said about since when the finding is there, unless that is known already. */
  readonly isHistoryKnown: boolean;
  readonly onMute: () => void;
}

/** One finding: what is wrong, what bears it out, since when, and what can be done. */
export function FindingLine({ finding, isHistoryKnown, onMute }: Props) {
  const { kind, severity, says, evidence, remedies, muted, since, id } = finding;
  const frame = useOutletContext<FrameContext>();
  const pencil = usePencil(frame);
  const take = ({ says: what, edits }: Remedy): void =>
    pencil.mutate({ kind: 'edits', edits, draftName: sentence(what) });
  return (
    <li className="border-t border-rule px-3 py-2" id={id}>
      <p className="flex items-baseline gap-2">
        <Severity severity={severity} />
        <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">{says}</span>
        <span className="text-sm whitespace-nowrap text-ink-3">{KIND_WORDS[kind]}</span>
      </p>
      <ul className="flex flex-wrap gap-x-3 pl-[58px] text-sm text-ink-2">
        {evidence.slice(0, 6).map((one, i) => (
          <li key={i}>
            <EvidenceLink slug={frame.slug} commit={frame.state?.head.commit} evidence={one} />
          </li>
        ))}
        {evidence.length > 6 && <li>and {evidence.length - 6} more places</li>}
      </ul>
      <p className="flex flex-wrap items-baseline gap-x-3 pl-[58px] text-sm text-ink-2">
        {since !== null && (
          <span title={since.subject}>
            {since.isEarlier
              ? 'there since the oldest commit that is known'
              : `since ${day(since.at)}, `}
            {!since.isEarlier && (
              <TextLink to={`/w/${frame.slug}/journal?post=${since.commit}`}>
                {short(since.commit)}
              </TextLink>
            )}
            {!since.isEarlier && ` by ${since.author}`}
          </span>
        )}
        {since === null && isHistoryKnown && (
          <span>new since the last commit: the day or the registry brought it</span>
        )}
        {muted !== null && (
          <span className="text-caution">
            muted until {day(muted.until)} by {muted.owner}: {muted.reason}
          </span>
        )}
      </p>
      <p className="flex flex-wrap gap-x-3 pl-[58px] text-sm">
        {remedies.map((remedy) => (
          <EditorButton
            key={JSON.stringify(remedy.edits)}
            look="text"
            className="text-sm"
            disabled={pencil.isPending}
            title={remedy.isDecision ? 'This changes what the team allows or believes' : undefined}
            onClick={() => take(remedy)}
          >
            {sentence(remedy.says)}
            {remedy.isDecision ? ' (a decision)' : ''}
          </EditorButton>
        ))}
        {muted === null ? (
          <EditorButton look="text" className="text-sm" onClick={onMute}>
            Mute
          </EditorButton>
        ) : (
          <EditorButton
            look="text"
            className="text-sm"
            onClick={() =>
              pencil.mutate({
                kind: 'edits',
                edits: [{ kind: 'unmute', finding: id }],
                draftName: 'No longer muted',
              })
            }
          >
            No longer mute it
          </EditorButton>
        )}
      </p>
      {pencil.isError && <ErrorNotice error={pencil.error} />}
    </li>
  );
}

/** A heavier finding has a longer mark, so that the severity is seen without colour. */
function Severity({ severity }: { readonly severity: Finding['severity'] }) {
  const ink = { error: 'text-off font-semibold', warning: 'text-ink', note: 'text-ink-3' }[
    severity
  ];
  return <span className={`w-[50px] shrink-0 text-sm ${ink}`}>{severity}</span>;
}

interface EvidenceProps {
  readonly slug: string;
  readonly commit: string | undefined;
  readonly evidence: Evidence;
}

function EvidenceLink({ slug, commit, evidence }: EvidenceProps) {
  const { place, chain, package: name, says } = evidence;
  if (place !== null) return <PlaceLink place={place} at={commit} title={says} />;
  if (chain !== null) {
    const [top = '', ...rest] = chain;
    const [end = ''] = rest.slice(-1);
    const [copy, version] = end.split(' ');
    return (
      <TextLink
        to={traceAddress(slug, {
          ...(copy === undefined ? {} : { package: copy }),
          ...(version === undefined ? {} : { version }),
          from: top,
        })}
      >
        chain from {top}, {rest.length} {rest.length === 1 ? 'step' : 'steps'}
      </TextLink>
    );
  }
  return (
    <TextLink
      to={`/w/${slug}/alignment?scope=all&q=${encodeURIComponent(name ?? '')}&open=${encodeURIComponent(name ?? '')}`}
    >
      {says}
    </TextLink>
  );
}

export function sentence(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
