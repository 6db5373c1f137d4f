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
import { ClearEverything } from './ClearEverything';
import { FindingFilters } from './FindingFilters';
import { findingsCsv, isShown, shownCauses, viewOf } from './findings-view';
import { severityWords } from './severity-words';
import { findingsSections } from './findings-sections';
import { muteForm } from './mute-form';
import { RemedyTable } from './RemedyTable';
import { SectionOfFindings } from './SectionOfFindings';
import { useFindings } from './useFindings';

const MOST_REMEDIES = 5;

/** What is wrong, what is behind it, and which remedy clears the most. */
export function FindingsPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const [muting, setMuting] = useState<Finding | null>(null);
  const found = useFindings(slug, state?.head.commit);
  const view = useMemo(() => viewOf(params), [params]);
  const isClearing = params.get('clear') !== null;
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
            findingsSections(causes).map((section) => (
              <SectionOfFindings
                key={section.title}
                section={section}
                isHistoryKnown={found.data.isHistoryKnown}
                openCause={params.get('cause')}
                openFinding={params.get('finding')}
                onToggle={(cause) => change({ cause, finding: null })}
                onMute={setMuting}
              />
            ))
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
    severityWords({ error, warning, note: open.length - error - warning }),
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
  return show === 'muted' ? 'Nothing is muted.' : 'Nothing is wrong that we could find.';
}
