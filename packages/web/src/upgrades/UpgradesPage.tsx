import { useRef, useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import type { Offer, UpgradeRow } from '../api/client';
import { countingEdits, useDraft } from '../draft/useDraft';
import { usePencil } from '../draft/usePencil';
import { isTyping } from '../frame/is-typing';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import { useWindowKey } from '../frame/useWindowKey';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Choice } from '../parts/Choice';
import { ErrorNotice } from '../parts/ErrorNotice';
import { SelectField } from '../parts/SelectField';
import { count } from '../parts/words';
import { BatchTable } from './BatchTable';
import { ChosenSum } from './ChosenSum';
import {
  chosenFrom,
  chosenText,
  offerKey,
  shownRows,
  takenAway,
  type Trials,
} from './upgrade-view';
import { StandingOrders } from './StandingOrders';
import { UpgradeTable } from './UpgradeTable';
import { useTrials, useUpgrades } from './useUpgrades';

const NO_ROWS: readonly UpgradeRow[] = [];
const WHICH = ['direct', 'sets', 'all'] as const;
const KINDS = ['runtime', 'dev', 'peer', 'optional'] as const;
/** Days that a release can be asked to be old. */
const AGES = [0, 3, 7, 14, 30, 90];

/** What is newer, what may be taken together, and what stands against the rest. */
export function UpgradesPage() {
  const frame = useOutletContext<FrameContext>();
  const { slug, state, draftId, takeDraft } = frame;
  const commit = state?.head.commit;
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const search = useRef<HTMLInputElement>(null);
  const [query, setQuery] = useState(params.get('q') ?? '');
  const which = WHICH.find((one) => one === params.get('which')) ?? 'direct';
  const as = KINDS.find((one) => one === params.get('as')) ?? null;
  const olderThan = Number(params.get('age') ?? 0);
  const upgrades = useUpgrades(slug, commit, olderThan);
  const anyAge = useUpgrades(slug, commit, 0);
  const draft = useDraft(slug, draftId, commit);
  const pencil = usePencil({ slug, draftId, takeDraft });
  const rows = upgrades.data?.rows ?? NO_ROWS;
  const project = params.get('project');
  const owner = params.get('owner');
  const shown = shownRows(rows, { query, which, project, owner, as });
  const projects = [...new Set(rows.flatMap((row) => row.projects))].sort();
  const owners = [...new Set(rows.flatMap((row) => row.owners))].sort();
  const { trials, error, tryAgain } = useTrials(
    slug,
    commit,
    shown.flatMap(({ offers }) => offers),
  );
  // The address follows a moment later: keys that come quickly go on from each other.
  const [selected, setSelected] = useState(params.get('sel') ?? '');
  const chosen = chosenFrom(selected, rows);
  const pencilled = pencilledRows(rows, countingEdits(draft.data));

  const select = (text: string, more: Readonly<Record<string, string | null>> = {}): void => {
    setSelected(text);
    change({ ...more, sel: text });
  };
  const choose = (row: UpgradeRow, offer: Offer | null): void => {
    const next = new Map(chosen);
    if (offer === null) next.delete(row.name);
    else next.set(row.name, offer);
    select(chosenText(next));
  };
  const put = (offers: readonly Offer[], draftName: string): void => {
    if (offers.length === 0 || pencil.isPending) return;
    const edits = offers.map(({ moves }) => ({ kind: 'upgrade' as const, moves }));
    pencil.mutate({ kind: 'edits', edits, draftName }, { onSuccess: () => select('') });
  };
  const putChosen = (): void =>
    put([...chosen.values()], `upgrade ${count(chosen.size, 'package')}`);

  useWindowKey((event) => {
    if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === '/') {
      event.preventDefault();
      search.current?.focus();
    } else if (event.key.toLowerCase() === 'p') putChosen();
  });

  return (
    <>
      <PageHead title="Upgrades" state={state}>
        {upgrades.data === undefined ? (
          'Reading what is newer.'
        ) : (
          <Heading rows={rows} shown={shown} trials={trials} />
        )}
      </PageHead>
      {upgrades.isError && (
        <ErrorNotice error={upgrades.error} onRetry={() => void upgrades.refetch()} />
      )}
      {error !== null && <ErrorNotice error={error} onRetry={tryAgain} />}
      {pencil.isError && <ErrorNotice error={pencil.error} />}
      {rows.length > 0 && (
        <BatchTable
          slug={slug}
          commit={commit}
          which={{
            olderThan,
            all: which === 'all',
            sets: which === 'sets',
            ...(project !== null && { project }),
            ...(owner !== null && { owner }),
            ...(as !== null && { as }),
          }}
          isPencilling={pencil.isPending}
          onPencil={({ offers }, name) => put(offers, name)}
        />
      )}
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 pb-2.5">
        <input
          ref={search}
          type="search"
          value={query}
          onChange={({ target }) => {
            setQuery(target.value);
            change({ q: target.value });
          }}
          placeholder="Find a package"
          aria-label="Find a package"
          className="h-[30px] w-[140px] rounded-sm border border-rule-strong bg-leaf px-2.5"
        />
        <Choice
          label="Which packages"
          value={which}
          options={[
            { value: 'direct', text: `Direct ${rows.filter((row) => row.isDirect).length}` },
            { value: 'sets', text: `Sets ${rows.filter((row) => row.isSet).length}` },
            { value: 'all', text: `All copies ${rows.length}` },
          ]}
          onChange={(value) => change({ which: value === 'direct' ? null : value })}
        />
        <SelectField
          label="required by"
          isInLine
          value={project ?? ''}
          options={anyOr('any project', projects)}
          onChange={(folder) => change({ project: folder })}
        />
        {(owners.length > 0 || owner !== null) && (
          <SelectField
            label="of"
            isInLine
            value={owner ?? ''}
            options={anyOr('any owner', owner === null ? owners : [...owners, owner])}
            onChange={(name) => change({ owner: name })}
          />
        )}
        <SelectField
          label="as"
          isInLine
          value={as ?? ''}
          options={anyOr('any kind', KINDS)}
          onChange={(kind) => change({ as: kind })}
        />
        <SelectField
          label="older than"
          isInLine
          value={String(olderThan)}
          options={AGES.map((days) => ({
            value: String(days),
            text: days === 0 ? 'any age' : `${days} days`,
          }))}
          onChange={(days) => select('', { age: days === '0' ? null : days })}
        />
        {olderThan > 0 && upgrades.data !== undefined && anyAge.data !== undefined && (
          <span className="text-ink-2">
            takes {count(takenAway(anyAge.data.rows, rows), 'offer')} away
          </span>
        )}
      </div>
      {chosen.size > 0 && (
        <ChosenSum
          slug={slug}
          commit={commit}
          offers={[...chosen.values()]}
          isPencilling={pencil.isPending}
          onPencil={putChosen}
          onClear={() => select('')}
        />
      )}
      {upgrades.data !== undefined && shown.length === 0 ? (
        <p className="bg-leaf p-4 text-ink-2">
          {rows.length === 0
            ? 'Everything in use is the newest there is.'
            : query.trim() !== ''
              ? `Nothing newer is named “${query.trim()}”.`
              : project !== null || owner !== null || as !== null || which === 'sets'
                ? 'Nothing newer is there that this choice lets through.'
                : 'Nothing newer is there of what projects require themselves; All copies shows the rest.'}
        </p>
      ) : (
        <UpgradeTable
          rows={shown}
          trials={trials}
          today={upgrades.data?.today ?? ''}
          chosen={chosen}
          pencilled={pencilled}
          open={params.get('open')}
          onChoose={choose}
          onOpen={(name) => change({ open: name })}
        />
      )}
      <StandingOrders frame={frame} pencil={pencil} />
    </>
  );
}

/** A choice of one of these, each once, or of none. */
function anyOr(any: string, values: readonly string[]) {
  return [
    { value: '', text: any },
    ...[...new Set(values)].map((value) => ({ value, text: value })),
  ];
}

/** What there is, and what of the rows that are shown goes up: only those are tried. */
function Heading({
  rows,
  shown,
  trials,
}: {
  readonly rows: readonly UpgradeRow[];
  readonly shown: readonly UpgradeRow[];
  readonly trials: Trials;
}) {
  const direct = rows.filter(({ isDirect }) => isDirect);
  const looked = shown.filter(({ isDirect }) => isDirect);
  const small = looked.filter(({ offers }) =>
    offers.some((one) => one.kind !== 'major' && trials.get(offerKey(one))?.against.length === 0),
  ).length;
  if (rows.length === 0) return 'Nothing newer is there.';
  return (
    <>
      {count(direct.length, 'package')} that projects require {direct.length === 1 ? 'has' : 'have'}{' '}
      something newer; {looked.length < direct.length && `of the ${looked.length} shown here, `}
      <b className="font-semibold text-ink">{small}</b> {small === 1 ? 'goes' : 'go'} up without a
      major step, each by itself.
    </>
  );
}

/** Rows that the draft in hand upgrades, with what they go to. */
function pencilledRows(
  rows: readonly UpgradeRow[],
  edits: ReturnType<typeof countingEdits>,
): ReadonlyMap<string, string> {
  const moves = new Map(
    edits.flatMap((edit) =>
      edit.kind === 'upgrade' ? edit.moves.map((move) => [move.package, move.to] as const) : [],
    ),
  );
  return new Map(
    rows.flatMap(({ name, packages }) => {
      const to = moves.get(packages[0]!);
      return to === undefined ? [] : [[name, to] as const];
    }),
  );
}
