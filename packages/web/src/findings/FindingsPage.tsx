import { useMemo, useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import type { Finding, Findings } from '../api/client';
import { EditDialog } from '../edit/EditDialog';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { SaveLink } from '../parts/SaveLink';
import { count } from '../parts/words';
import { CauseSection } from './CauseSection';
import { ClearEverything } from './ClearEverything';
import { FindingFilters } from './FindingFilters';
import { findingsCsv, isShown, shownCauses, viewOf } from './findings-view';
import { muteForm } from './mute-form';
import { RemedyTable } from './RemedyTable';
import { useFindings } from './useFindings';

const MOST_REMEDIES = 5;
const MOST_CAUSES = 60;

/** What is wrong, what is behind it, and which remedy clears the most. */
export function FindingsPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const [muting, setMuting] = useState<Finding | null>(null);
  const [most, setMost] = useState(MOST_CAUSES);
  const found = useFindings(slug, state?.head.commit);
  const view = useMemo(() => viewOf(params), [params]);
  const isClearing = params.get('clear') !== null;
  const wanted = params.get('finding');
  const causes = useMemo(
    () => (found.data === undefined ? [] : shownCauses(found.data, view)),
    [found.data, view],
  );
  return (
    <>
      <PageHead title="Findings" state={state}>
        {found.data === undefined ? 'Reading source and lockfile.' : headingOf(found.data)}
      </PageHead>
      {found.isError && <ErrorNotice error={found.error} onRetry={() => void found.refetch()} />}
      {found.isSuccess && (
        <>
          <div className="flex flex-wrap items-center gap-3 pb-3">
            <Button onClick={() => change({ clear: isClearing ? null : 'yes' })}>
              Clear everything
            </Button>
            <span className="text-sm text-ink-2">{scannedWords(found.data)}</span>
            <span className="ml-auto flex gap-3 text-sm">
              <SaveLink
                name={`${slug}-findings.csv`}
                text={() => findingsCsv(causes.flatMap(({ findings }) => findings))}
              >
                save as CSV
              </SaveLink>
              <a
                className="text-agreed underline decoration-rule-strong underline-offset-3"
                href={`/api/workspaces/${slug}/findings/sarif`}
                download={`${slug}-findings.sarif`}
              >
                save as SARIF
              </a>
            </span>
          </div>
          {isClearing && (
            <ClearEverything
              known={new Set(found.data.findings.map(({ id }) => id))}
              onFold={() => change({ clear: null })}
            />
          )}
          {found.data.remedies.length > 0 && !isClearing && (
            <div className="pb-4">
              <RemedyTable remedies={found.data.remedies.slice(0, MOST_REMEDIES)} />
            </div>
          )}
          <FindingFilters findings={found.data.findings} view={view} onChange={change} />
          {causes.length === 0 ? (
            <p className="rule-double-top bg-leaf px-3 py-8 text-center text-ink-2">
              {emptyWords(found.data, view.show)}
            </p>
          ) : (
            <ol className="rule-double-top bg-leaf">
              {causes.slice(0, most).map((cause, i) => (
                <CauseSection
                  key={cause.key}
                  cause={cause}
                  isHistoryKnown={found.data.isHistoryKnown}
                  isBanded={Math.floor(i / 2) % 2 === 0}
                  isOpen={
                    params.get('cause') === cause.key ||
                    cause.findings.some(({ id }) => id === wanted)
                  }
                  onToggle={(isOpen) => change({ cause: isOpen ? cause.key : null, finding: null })}
                  onMute={setMuting}
                />
              ))}
            </ol>
          )}
          {causes.length > most && (
            <Button look="quiet" className="mt-3" onClick={() => setMost(most + MOST_CAUSES)}>
              Show {Math.min(MOST_CAUSES, causes.length - most)} more of {causes.length} causes
            </Button>
          )}
        </>
      )}
      {muting !== null && <EditDialog form={muteForm(muting)} onClose={() => setMuting(null)} />}
    </>
  );
}

function headingOf({ findings, causes }: Findings): string {
  const open = findings.filter(({ muted }) => muted === null);
  if (open.length === 0) return 'Nothing is wrong that we could find.';
  const error = open.filter(({ severity }) => severity === 'error').length;
  const warning = open.filter(({ severity }) => severity === 'warning').length;
  const muted = findings.length - open.length;
  const parts = [
    `${count(open.length, 'finding')} from ${count(causes.length, 'cause')}`,
    `${error} error, ${warning} warning, ${open.length - error - warning} note`,
    ...(muted === 0 ? [] : [`${muted} muted`]),
  ];
  return `${parts.join('; ')}.`;
}

function scannedWords({ scanned }: Findings): string {
  if (scanned === null) return 'Source was not scanned.';
  const { files, unseen } = scanned;
  return `${count(files, 'source file')} read${unseen === 0 ? '' : `, ${count(unseen, 'place')} could not be`}.`;
}

function emptyWords(found: Findings, show: 'open' | 'muted'): string {
  const all = found.findings.filter((one) =>
    isShown({ ...viewOf(new URLSearchParams()), show }, one),
  );
  if (all.length > 0) return 'No finding is like this. Widen the choice above.';
  return show === 'muted' ? 'Nothing is muted.' : 'The books are closed: nothing is wrong.';
}
