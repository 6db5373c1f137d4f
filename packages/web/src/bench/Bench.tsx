import { useEffect, useRef, type KeyboardEvent } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { useDraft } from '../draft/useDraft';
import { useLevel } from '../draft/useLevel';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useBench } from '../sheet/useSheet';
import { BenchChart } from './BenchChart';
import { CandidateList } from './CandidateList';
import { CandidateCost } from './CandidateCost';
import { chosenCandidate, isPencilled } from './chosen-candidate';

interface Props {
  readonly name: string;
  readonly onClose: () => void;
}

/** One package: every requirement on it, and the versions it could be levelled at with what each would cost. */
export function Bench({ name, onClose }: Props) {
  const { slug, state, draftId, takeDraft } = useOutletContext<FrameContext>();
  const [params, setParams] = useSearchParams();
  const bench = useBench(slug, name, state?.head.commit, draftId);
  const draft = useDraft(slug, draftId, state?.head.commit);
  const level = useLevel(slug, draftId, takeDraft);
  const region = useRef<HTMLDivElement>(null);
  const data = bench.data?.row.name === name ? bench.data : undefined;
  const isRead = data !== undefined;
  const chosen = data === undefined ? null : chosenCandidate(data, params.get('at'));

  useEffect(() => {
    if (!isRead) return;
    region.current?.focus({ preventScroll: true });
    region.current?.scrollIntoView({ block: 'nearest' });
    region.current?.closest('tr')?.previousElementSibling?.scrollIntoView({ block: 'nearest' });
  }, [isRead]);

  if (bench.isError) {
    return (
      <div className="p-3">
        <ErrorNotice error={bench.error} onRetry={() => void bench.refetch()} />
      </div>
    );
  }
  if (data === undefined)
    return <p className="h-[180px] px-3.5 py-3 text-ink-2">Costing the versions of {name}.</p>;

  const { row, requirements, demands, candidates } = data;
  const choose = (version: string): void => {
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        next.set('at', version);
        return next;
      },
      { replace: true },
    );
  };
  const pencil = (): void => {
    if (
      chosen !== null &&
      chosen.isAnswered &&
      !level.isPending &&
      !isPencilled(draft.data, name, chosen.range)
    )
      level.mutate({ name, version: chosen.version });
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const at = candidates.findIndex((candidate) => candidate === chosen);
    // Candidates stand newest first, the rail has the newest at its right end.
    const step = { ArrowLeft: 1, ArrowRight: -1, ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      const next = candidates[at + step];
      if (next !== undefined) choose(next.version);
    } else if (event.key === 'Enter' && event.target === region.current) {
      event.preventDefault();
      pencil();
    } else if (event.key === 'Escape') {
      event.stopPropagation();
      onClose();
    }
  };
  return (
    <div
      ref={region}
      role="group"
      aria-label={`Bench of ${name}`}
      tabIndex={-1}
      onKeyDown={onKeyDown}
      className="grid grid-cols-[minmax(0,1fr)_252px] gap-4 px-3.5 pt-0.5 pb-3 outline-none max-fold:grid-cols-1"
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
        <BenchChart
          row={row}
          requirements={requirements}
          demands={demands}
          chosen={chosen?.version ?? null}
          candidates={candidates}
          onChoose={choose}
        />
      </div>
      <div className="flex min-w-0 flex-col gap-3">
        {level.isError && <ErrorNotice error={level.error} />}
        {chosen === null ? (
          <p className="text-ink-2">
            The registry has no release of {name} that could be agreed on.
          </p>
        ) : (
          <CandidateCost
            name={name}
            candidate={chosen}
            projects={row.usedBy}
            set={row.set}
            isBusy={level.isPending}
            isPencilled={isPencilled(draft.data, name, chosen.range)}
            onPencil={pencil}
          />
        )}
        <CandidateList
          candidates={candidates}
          chosen={chosen?.version ?? null}
          projects={row.usedBy}
          onChoose={choose}
        />
      </div>
    </div>
  );
}
