import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type StandingOrder } from '../api/client';
import { keys } from '../api/keys';
import type { usePencil } from '../draft/usePencil';
import { EditDialog } from '../edit/EditDialog';
import type { EditForm } from '../edit/form';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Section } from '../parts/Section';
import { count, day, time } from '../parts/words';
import { EditorButton, EditorStep } from '../session/EditorButton';
import { standingForm } from './standing-form';

interface Props {
  readonly frame: FrameContext;
  readonly pencil: ReturnType<typeof usePencil>;
}

/** Upgrades that are prepared again and again: when each is due, and what came of it. */
export function StandingOrders({ frame, pencil }: Props) {
  const { slug, state } = frame;
  const commit = state?.head.commit;
  const queries = useQueryClient();
  const [form, setForm] = useState<EditForm | null>(null);
  const { data, isError, error, refetch } = useQuery({
    queryKey: keys.standing(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/standing', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
  });
  const run = useMutation({
    mutationFn: (name: string) =>
      answer(
        api.POST('/api/workspaces/{slug}/standing/{name}/runs', {
          params: { path: { slug, name } },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.standing(slug) }),
  });
  if (data === undefined && !isError) return null;
  return (
    <div className="pt-5">
      <Section
        title="Standing orders"
        step={
          <EditorButton look="quiet" onClick={() => setForm(standingForm(null))}>
            Set a standing order…
          </EditorButton>
        }
        empty={
          data?.orders.length === 0
            ? 'None is set. One prepares, say, all patches that are a week old, every Monday, for somebody to post.'
            : null
        }
      >
        {isError && <ErrorNotice error={error} onRetry={() => void refetch()} />}
        {run.isError && <ErrorNotice error={run.error} />}
        <ul>
          {data?.orders.map((order) => (
            <Order
              key={order.name}
              order={order}
              isRunning={run.isPending || order.runs[0]?.state === 'running'}
              isPencilling={pencil.isPending}
              onRun={() => run.mutate(order.name)}
              onChange={() => setForm(standingForm(order))}
              onEnd={() =>
                pencil.mutate({
                  kind: 'edits',
                  edits: [{ kind: 'end-standing', name: order.name }],
                  draftName: `end ${order.name}`,
                })
              }
              onTake={frame.takeDraft}
            />
          ))}
        </ul>
      </Section>
      {form !== null && <EditDialog form={form} onClose={() => setForm(null)} />}
    </div>
  );
}

interface OrderProps {
  readonly order: StandingOrder;
  readonly isRunning: boolean;
  readonly isPencilling: boolean;
  readonly onRun: () => void;
  readonly onChange: () => void;
  readonly onEnd: () => void;
  readonly onTake: (draft: string) => void;
}

function Order({ order, isRunning, isPencilling, onRun, onChange, onEnd, onTake }: OrderProps) {
  const { name, every, next, runs } = order;
  const [last, ...earlier] = runs;
  return (
    <li
      aria-label={name}
      className="grid grid-cols-[minmax(0,250px)_minmax(0,1fr)_auto] items-baseline gap-x-3 gap-y-1 border-b border-rule px-2 py-1.5 max-fold:grid-cols-1"
    >
      <div>
        <b className="font-semibold break-words">{name}</b>
        <p className="text-sm text-ink-2">{whatWords(order)}</p>
      </div>
      <div className="text-sm">
        {last === undefined ? (
          <p className="text-ink-2">It has not run yet.</p>
        ) : (
          <RunLine run={last} onTake={onTake} />
        )}
        {earlier.length > 0 && (
          <details>
            <summary className="cursor-pointer text-ink-2">
              {count(earlier.length, 'earlier run')}
            </summary>
            {earlier.map((run) => (
              <RunLine key={run.id} run={run} onTake={onTake} />
            ))}
          </details>
        )}
        <p className="text-ink-2">
          {every}
          {next !== null && `; next ${day(next)}, ${time(next)}`}
        </p>
      </div>
      <span className="flex gap-3">
        <EditorStep label={`Run ${name} now`} disabled={isRunning} onClick={onRun}>
          {isRunning ? 'running' : 'run now'}
        </EditorStep>
        <EditorStep label={`Change ${name}`} onClick={onChange}>
          change
        </EditorStep>
        <EditorStep label={`End ${name}`} disabled={isPencilling} onClick={onEnd}>
          end
        </EditorStep>
      </span>
    </li>
  );
}

function RunLine({
  run,
  onTake,
}: {
  readonly run: StandingOrder['runs'][number];
  readonly onTake: (draft: string) => void;
}) {
  const { state, beganAt, by, taken, leftOut, says, draftId, isDraftOpen } = run;
  const took = `${count(taken, 'upgrade')}${leftOut === 0 ? '' : `, ${leftOut} left out`}`;
  return (
    <p>
      {day(beganAt)}, {time(beganAt)}
      {by !== null && <span className="text-ink-2"> by {by}</span>}:{' '}
      {state === 'running' ? (
        <span className="text-ink-2">is running</span>
      ) : state === 'failed' ? (
        <span className="text-off">{says}</span>
      ) : (
        <>
          {state !== 'nothing' && `${took}. `}
          <span className="text-ink-2">{says}</span>{' '}
        </>
      )}
      {draftId !== null && isDraftOpen && (
        <button
          type="button"
          className="text-agreed hover:underline"
          onClick={() => onTake(draftId)}
        >
          open the draft
        </button>
      )}
    </p>
  );
}

function whatWords({ take, olderThanDays, packages, except, to }: StandingOrder): string {
  return [
    take === 'patch' ? 'patches' : 'patches and minors',
    ...(olderThanDays === 0 ? [] : [`older than ${count(olderThanDays, 'day')}`]),
    ...(packages.length === 0 ? [] : [`of ${packages.join(', ')}`]),
    ...(except.length === 0 ? [] : [`except ${except.join(', ')}`]),
    ...(to === 'branch' ? ['onto a branch'] : []),
  ].join(', ');
}
