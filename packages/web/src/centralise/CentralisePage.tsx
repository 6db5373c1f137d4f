import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useOutletContext } from 'react-router';
import { answer, api, type Centralising } from '../api/client';
import { keys } from '../api/keys';
import { countingEdits, useDraft } from '../draft/useDraft';
import { usePencil } from '../draft/usePencil';
import { PageHead } from '../frame/PageHead';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { count } from '../parts/words';
import { CentraliseTable } from './CentraliseTable';
import { EditorButton } from '../session/EditorButton';

/** Moves versions out of the projects' manifests into the one shared file, line by line as the person chooses. */
export function CentralisePage() {
  const { slug, state, draftId } = useOutletContext<FrameContext>();
  const draft = useDraft(slug, draftId, state?.head.commit);
  const commit = state?.head.commit;
  const centralising = useQuery({
    queryKey: keys.centralise(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/centralise', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
  });
  const { data } = centralising;
  const pencilled = new Set(
    countingEdits(draft.data).flatMap((edit) => (edit.kind === 'level' ? [edit.package] : [])),
  );
  return (
    <>
      <PageHead title="Centralise" state={state}>
        {data === undefined
          ? 'Reading what the projects write by themselves.'
          : data.lines.length === 0
            ? 'No two projects write a version of their own for the same package. Nothing is left to centralise.'
            : headingOf(data)}
      </PageHead>
      {centralising.isError && (
        <ErrorNotice error={centralising.error} onRetry={() => void centralising.refetch()} />
      )}
      {data !== undefined && data.lines.length > 0 && (
        <Choosing key={data.commit} data={data} pencilled={pencilled} />
      )}
    </>
  );
}

function headingOf({ lines }: Centralising): string {
  const still = lines.filter(({ choices }) => choices[0]?.isStill).length;
  return `${count(lines.length, 'package')} could move into ledger.shared.toml; ${still} of them would move nothing in the lockfile.`;
}

/** The range chosen for each package that is to be centralised. */
type Chosen = ReadonlyMap<string, string>;

function stillLines({ lines }: Centralising): Chosen {
  return new Map(
    lines.flatMap(({ package: name, choices }) => {
      const [first] = choices;
      return first?.isStill === true ? [[name, first.range] as const] : [];
    }),
  );
}

interface ChoosingProps {
  readonly data: Centralising;
  /** Packages that the draft in hand lets projects take already. */
  readonly pencilled: ReadonlySet<string>;
}

function Choosing({ data, pencilled }: ChoosingProps) {
  const pencil = usePencil(useOutletContext<FrameContext>());
  const [chosen, setChosen] = useState<Chosen>(() => stillLines(data));
  const [sets, setSets] = useState<ReadonlySet<string>>(
    () => new Set(data.sets.map(({ name }) => name)),
  );
  const choose = (name: string, range: string | null): void => {
    const next = new Map(chosen);
    if (range === null) next.delete(name);
    else next.set(name, range);
    setChosen(next);
  };
  const lines = [...chosen].flatMap(([name, range]) =>
    pencilled.has(name) ? [] : [{ package: name, range }],
  );
  const put = (): void => {
    pencil.mutate({
      kind: 'centralise',
      lines,
      sets: [...sets],
      draftName: `centralise ${count(lines.length, 'version')}`,
    });
  };
  const all = (): void =>
    setChosen(
      new Map(data.lines.map(({ package: name, choices }) => [name, choices[0]!.range] as const)),
    );
  return (
    <>
      <div className="flex flex-wrap items-center gap-2 pb-2.5">
        <EditorButton disabled={lines.length === 0 || pencil.isPending} onClick={put}>
          {pencil.isPending ? 'Pencilling' : `Pencil ${count(lines.length, 'line')} in`}
        </EditorButton>
        <Button look="quiet" onClick={() => setChosen(stillLines(data))}>
          Choose all that move nothing
        </Button>
        <Button look="text" onClick={all}>
          Choose all
        </Button>
        <Button look="text" onClick={() => setChosen(new Map())}>
          Choose none
        </Button>
      </div>
      {pencil.isError && <ErrorNotice error={pencil.error} />}
      {pencil.isSuccess && <Proof draft={pencil.data} />}
      {data.sets.map(({ name, packages, why }) => (
        <label key={name} className="flex cursor-pointer items-baseline gap-2 pb-1.5">
          <input
            type="checkbox"
            className="accent-agreed"
            checked={sets.has(name)}
            onChange={(event) => {
              const next = new Set(sets);
              if (event.target.checked) next.add(name);
              else next.delete(name);
              setSets(next);
            }}
          />
          <span>
            Make <b className="font-semibold">{name}</b> a lockstep set of {packages.join(', ')}{' '}
            <span className="text-ink-2">({why})</span>
          </span>
        </label>
      ))}
      <CentraliseTable lines={data.lines} chosen={chosen} pencilled={pencilled} onChoose={choose} />
    </>
  );
}

type Evaluated = NonNullable<ReturnType<typeof usePencil>['data']>;

/** What resolving the whole draft proves. */
function Proof({ draft: { evaluation } }: { readonly draft: Evaluated }) {
  const { consequences } = evaluation;
  if (evaluation.kind !== 'answered' || consequences === null)
    return <Notice kind="trouble" title="The draft has no answer; see what stands against it" />;
  const { entered, left, moved, reanswered } = consequences.change;
  const changes = entered.length + left.length + moved.length;
  return (
    <div className="pb-2.5">
      {changes === 0 && reanswered === 0 ? (
        <Notice kind="word" title="Proven: the lockfile keeps every copy and every answer">
          The whole draft was resolved. Only who writes the range changes, in{' '}
          {count(consequences.manifests, 'file')}.
        </Notice>
      ) : (
        <Notice kind="caution" title="The lockfile would change">
          {count(entered.length, 'copy enters', 'copies enter')},{' '}
          {count(left.length, 'leaves', 'leave')}, {count(moved.length, 'moves', 'move')}, and{' '}
          {count(reanswered, 'requirement is', 'requirements are')} answered otherwise. The draft
          lists them with their reasons.
        </Notice>
      )}
    </div>
  );
}
