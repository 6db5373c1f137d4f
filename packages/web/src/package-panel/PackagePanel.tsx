import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import type { Candidate } from '@deep-ledger/core';
import type { PackagePanel as PanelData, Edit } from '../api/client';
import { countingEdits, useDraft } from '../draft/useDraft';
import { usePencil } from '../draft/usePencil';
import { EditDialog } from '../edit/EditDialog';
import { exceptionForm, pinForm, requiringProjects, setRangeForm } from '../edit/edit-forms';
import { useChangeAddress } from '../frame/useChangeAddress';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { usePackagePanel } from '../alignment/useAlignment';
import { useLeveller } from '../workshop/useLeveller';
import { PanelChart } from './PanelChart';
import { CandidateList } from './CandidateList';
import { isPencilled, markVersion } from './mark-version';
import { PreviewCost } from './PreviewCost';
import { TextLink } from '../parts/TextLink';
import { EditorButton } from '../session/EditorButton';

interface Props {
  readonly name: string;
  readonly onClose: () => void;
}

/** One package: every demand on it, and what would come of levelling it at any of its versions. */
export function PackagePanel({ name, onClose }: Props) {
  const { slug, state, draftId } = useOutletContext<FrameContext>();
  const commit = state?.head.commit;
  const panel = usePackagePanel(slug, name, commit);
  const draft = useDraft(slug, draftId, commit);
  const data = panel.data?.row.name === name ? panel.data : undefined;
  if (panel.isError) {
    return (
      <div className="p-3">
        <ErrorNotice error={panel.error} onRetry={() => void panel.refetch()} />
      </div>
    );
  }
  if (data === undefined)
    return <p className="h-[180px] px-3.5 py-3 text-ink-2">Reading the demands on {name}.</p>;
  const edits = draftId === null || draft.data !== undefined ? countingEdits(draft.data) : null;
  return <PanelOf key={name} data={data} edits={edits} onClose={onClose} />;
}

interface PanelOfProps {
  readonly data: PanelData;
  readonly edits: readonly Edit[] | null;
  readonly onClose: () => void;
}

type Asking = 'exception' | 'pin' | 'range';

function PanelOf({ data, edits, onClose }: PanelOfProps) {
  const frame = useOutletContext<FrameContext>();
  const { slug } = frame;
  const { row, requirements, demands, modelKey } = data;
  const { name } = row;
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const [dragged, setDragged] = useState<string | null>(null);
  const [asking, setAsking] = useState<Asking | null>(null);
  const pencil = usePencil(frame);
  const region = useRef<HTMLDivElement>(null);
  const wanted = params.get('at');
  const isRequired = row.usedBy > 0;
  const leveller = useLeveller(
    `/api/workspaces/${slug}/model`,
    `${slug} ${modelKey}`,
    name,
    isRequired ? edits : null,
    wanted,
  );
  const { candidates, preview } = leveller;
  const mark = dragged ?? markVersion(candidates, wanted);
  const tryVersion = leveller.try;

  useEffect(() => {
    region.current?.focus({ preventScroll: true });
    region.current?.scrollIntoView({ block: 'nearest' });
    region.current?.closest('tr')?.previousElementSibling?.scrollIntoView({ block: 'nearest' });
  }, []);
  useEffect(() => {
    if (mark !== null) tryVersion(mark);
    // The function is new each time; what it does depends on the mark alone.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [mark]);

  const settle = (version: string): void => {
    setDragged(null);
    change({ at: version });
  };
  const shown =
    preview?.version === mark ? preview : (candidates.find((one) => one.version === mark) ?? null);
  const isIn = shown !== null && isPencilled(edits, name, shown.range);
  const pencilIn = (): void => {
    if (shown?.result.kind !== 'answered' || pencil.isPending || isIn) return;
    pencil.mutate({ kind: 'level', name, version: shown.version, draftName: `level ${name}` });
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const versions = event.shiftKey
      ? row.releases.map(({ version }) => version)
      : inOrder(candidates, row.releases);
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      const next = versions[versions.indexOf(mark ?? '') + step];
      if (next !== undefined) settle(next);
    } else if (event.key === 'Enter' && event.target === region.current) {
      event.preventDefault();
      pencilIn();
    } else if (event.key === 'Escape' && asking === null) {
      event.stopPropagation();
      onClose();
    }
  };
  return (
    <div
      ref={region}
      role="group"
      aria-label={`Package panel of ${name}`}
      tabIndex={-1}
      onKeyDown={onKeyDown}
      className="grid grid-cols-[minmax(0,1fr)_264px] gap-4 px-3.5 pt-0.5 pb-3 outline-none max-fold:grid-cols-1"
    >
      <div className="min-w-0">
        <p className="pb-1 text-sm text-ink-2">
          {row.summary}
          {row.pin !== null && (
            <>
              {' '}
              · pinned to <code className="font-mono">{row.pin}</code>
            </>
          )}
        </p>
        <PanelChart
          row={row}
          requirements={requirements}
          demands={demands}
          candidates={candidates}
          mark={isRequired ? mark : null}
          takers={shown?.takers ?? []}
          onDrag={setDragged}
          onSettle={settle}
        />
        <div className="mt-1.5 flex flex-wrap gap-x-4 text-sm">
          {isRequired && (
            <>
              <EditorButton look="text" onClick={() => setAsking('exception')}>
                Except a project…
              </EditorButton>
              <EditorButton look="text" onClick={() => setAsking('range')}>
                Give projects a range of their own…
              </EditorButton>
            </>
          )}
          <EditorButton look="text" onClick={() => setAsking('pin')}>
            {row.pin === null ? 'Pin it…' : 'Change the pin…'}
          </EditorButton>
          <TextLink to={`/w/${slug}/alignment?${gridQuery(params, name)}`}>
            See its line in the grid
          </TextLink>
        </div>
      </div>
      <div className="flex min-w-0 flex-col gap-3">
        {pencil.isError && <ErrorNotice error={pencil.error} />}
        {leveller.error !== null && <ErrorNotice error={leveller.error} />}
        {isRequired ? (
          <>
            <PreviewCost
              name={name}
              mark={mark}
              preview={shown}
              isDeprecated={row.releases.some(
                ({ version, state: release }) => version === mark && release === 'deprecated',
              )}
              projects={row.usedBy}
              set={row.set}
              names={namesOf(requirements)}
              isBusy={pencil.isPending}
              isPencilled={isIn}
              onPencil={pencilIn}
            />
            <CandidateList
              candidates={candidates}
              chosen={mark}
              onChoose={settle}
              inUse={inUseOf(row)}
            />
            <p role="status" className="text-xs text-ink-2">
              {leveller.doing}
            </p>
          </>
        ) : (
          <p className="text-ink-2">
            No project requires {name} itself; copies bring it. A pin is what decides its version.
          </p>
        )}
      </div>
      {asking !== null && (
        <EditDialog
          form={
            asking === 'exception'
              ? exceptionForm(name, requirements)
              : asking === 'pin'
                ? pinForm(
                    name,
                    row.pin ?? mark ?? row.marks.at(-1)?.version ?? '',
                    requiringProjects(requirements),
                  )
                : setRangeForm(name, requirements)
          }
          onClose={() => setAsking(null)}
        />
      )}
    </div>
  );
}

function inOrder(
  candidates: readonly Candidate[],
  releases: PanelData['row']['releases'],
): readonly string[] {
  const known = new Set(candidates.map(({ version }) => version));
  return releases.flatMap(({ version }) => (known.has(version) ? [version] : []));
}

function inUseOf({ marks }: PanelData['row']): ReadonlyMap<string, number> {
  return new Map(
    marks.flatMap(({ version, inLine, off }) =>
      inLine + off === 0 ? [] : [[version, inLine + off] as const],
    ),
  );
}

function namesOf(requirements: PanelData['requirements']): ReadonlyMap<string, string> {
  return new Map(requirements.map(({ folder, project }) => [folder, project]));
}

function gridQuery(params: URLSearchParams, name: string): string {
  const next = new URLSearchParams({ view: 'grid', scope: 'all', q: name });
  const draft = params.get('draft');
  if (draft !== null) next.set('draft', draft);
  return next.toString();
}
