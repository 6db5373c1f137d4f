import { Link } from 'react-router';
import type { WorkspaceSummary } from '../api/client';
import { useFindingCount } from '../findings/useFindings';
import { severityWords } from '../findings/severity-words';
import { useNow } from '../frame/useNow';
import { useWorkspace } from '../frame/useWorkspace';
import { Off } from '../parts/Off';
import { Step } from '../parts/Step';
import { ago } from '../parts/words';

interface Props {
  readonly workspace: WorkspaceSummary;
  /** Null: whoever looks may not. */
  readonly onClose: (() => void) | null;
}

const LOCK_INK = { consistent: 'text-agreed', stale: 'text-caution', broken: 'text-off' } as const;

/** How a workspace stands, in figures that can be compared with those of the next. */
export function WorkspaceLine({ workspace: { slug, name, address, branch }, onClose }: Props) {
  const now = useNow();
  const workspace = useWorkspace(slug);
  const state = workspace.data;
  const commit = state?.head.commit;
  const findings = useFindingCount(slug, commit).data;
  const behind = state?.machinesBehind;
  const reading = workspace.isError ? 'cannot be read' : 'reading';
  return (
    <tr className="border-b border-rule align-baseline max-fold:block max-fold:py-1">
      <td className="px-2 py-2 max-fold:block">
        <Link
          to={`/w/${slug}/overview`}
          className="font-semibold text-agreed underline decoration-rule-strong underline-offset-3"
        >
          {name}
        </Link>
        <span className="block font-mono text-sm [overflow-wrap:anywhere] text-ink-2">
          {address} <span className="text-ink">{branch}</span>
        </span>
      </td>
      <td className="px-2 text-right max-fold:inline-block">
        {state === undefined ? (
          <span className="text-sm text-ink-2">{reading}</span>
        ) : state.bringIn === 'needed' ? (
          <span className="text-sm text-ink-2">to be brought in</span>
        ) : state.outOfLine === 0 ? (
          <span className="level text-sm">in line</span>
        ) : (
          <>
            <Off count={state.outOfLine} />
            <span className="text-sm text-ink-2 fold:hidden"> out of line</span>
          </>
        )}
      </td>
      <td className="px-2 text-sm max-fold:inline-block">
        {findings === undefined || state?.bringIn === 'needed'
          ? ''
          : findings.open === 0
            ? 'no findings'
            : severityWords(findings)}
      </td>
      <td
        className={`px-2 font-mono text-sm max-fold:inline-block ${state === undefined ? '' : LOCK_INK[state.lock.state]}`}
      >
        {state?.bringIn === 'needed' ? '' : state?.lock.state}
      </td>
      <td className="px-2 text-sm text-ink-2 max-fold:block" title={state?.lastPost?.subject}>
        {state === undefined
          ? ''
          : state.lastPost === null
            ? 'nothing posted yet'
            : `${ago(state.lastPost.at, now)}, ${state.lastPost.author}`}
      </td>
      <td className="px-2 text-right font-mono text-sm max-fold:hidden">
        {behind === undefined || behind === 0 ? '' : behind}
      </td>
      <td className="px-2 text-right max-fold:block max-fold:text-left">
        {onClose !== null && (
          <Step
            label={`Close ${name}: it leaves this list; its drafts and journal come back when it is opened again`}
            onClick={onClose}
          >
            close
          </Step>
        )}
      </td>
    </tr>
  );
}
