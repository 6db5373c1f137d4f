import { Fragment, type KeyboardEvent } from 'react';
import { useOutletContext } from 'react-router';
import type { Offer, UpgradeRow } from '../api/client';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { HeadCell } from '../parts/HeadCell';
import { TextLink } from '../parts/TextLink';
import { count, day } from '../parts/words';
import { ReleaseSteps } from './ReleaseSteps';
import {
  chosenOffer,
  offerKey,
  priceWords,
  usualOffer,
  type ChosenOffers,
  type Trials,
} from './upgrade-view';

interface Props {
  readonly rows: readonly UpgradeRow[];
  readonly trials: Trials;
  readonly today: string;
  readonly chosen: ChosenOffers;
  /** Names of rows that are in the draft in hand, with what they go to. */
  readonly pencilled: ReadonlyMap<string, string>;
  /** The row whose reasons are shown. */
  readonly open: string | null;
  readonly onChoose: (row: UpgradeRow, offer: Offer | null) => void;
  readonly onOpen: (name: string | null) => void;
}

/** Columns that a phone has no room for; their width goes to the name. */
const NOT_ON_PHONES =
  'max-[640px]:w-0 max-[640px]:overflow-hidden max-[640px]:p-0 max-[640px]:whitespace-nowrap';

/** One line for each package or set: what came since, what it would take, and at what price. */
export function UpgradeTable(props: Props) {
  const { rows } = props;
  return (
    <div className="overflow-x-auto">
      <table className="rule-double-top w-full min-w-[840px] table-fixed max-[640px]:min-w-0 border-collapse bg-leaf">
        <thead>
          <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
            <HeadCell className="w-[34px]" />
            <HeadCell className="w-[190px] max-[640px]:w-auto">Package</HeadCell>
            <HeadCell className={`w-[92px] ${NOT_ON_PHONES}`}>In use</HeadCell>
            <HeadCell className={NOT_ON_PHONES}>
              What came since (across: time; up: patch, minor, major)
            </HeadCell>
            <HeadCell className="w-[130px]">Take</HeadCell>
            <HeadCell className="w-[66px] text-right!">Copies</HeadCell>
            <HeadCell className={`w-[56px] text-right! ${NOT_ON_PHONES}`}>Files</HeadCell>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <Row key={row.name} row={row} isBanded={Math.floor(i / 2) % 2 === 0} {...props} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Moves the focus to the row above or below. */
function walk(event: KeyboardEvent<HTMLTableRowElement>, step: 1 | -1): void {
  const all = [
    ...event.currentTarget.closest('tbody')!.querySelectorAll<HTMLElement>('tr[data-row]'),
  ];
  event.preventDefault();
  all[all.indexOf(event.currentTarget) + step]?.focus();
}

function Row({
  row,
  trials,
  today,
  chosen,
  pencilled,
  open,
  isBanded,
  onChoose,
  onOpen,
}: Props & { readonly row: UpgradeRow; readonly isBanded: boolean }) {
  const { name, offers, from, others } = row;
  const taken = chosen.get(name) ?? null;
  const shown = taken ?? usualOffer(row, trials);
  const trial = shown === null ? undefined : trials.get(offerKey(shown));
  const inDraft = pencilled.get(name);
  const isOpen = open === name;
  const canTake = offers.length > 0 && inDraft === undefined;
  const toggle = (): void => {
    if (canTake) onChoose(row, taken === null ? chosenOffer(row, trials) : null);
  };
  const step = (event: KeyboardEvent, by: 1 | -1): void => {
    event.preventDefault();
    if (!canTake) return;
    const at = taken === null ? -1 : offers.findIndex(({ to }) => to === taken.to);
    const next = taken === null && by < 0 ? -1 : Math.min(at + by, offers.length - 1);
    onChoose(row, offers[next] ?? null);
  };
  return (
    <Fragment>
      <tr
        data-row={name}
        tabIndex={0}
        className={`border-b border-rule align-middle outline-offset-[-2px] ${isBanded ? 'bg-bar' : ''}`}
        onKeyDown={(event) => {
          if (event.target !== event.currentTarget) return;
          if (event.key === 'ArrowDown') walk(event, 1);
          else if (event.key === 'ArrowUp') walk(event, -1);
          else if (event.key === ' ') {
            event.preventDefault();
            toggle();
          } else if (event.key === 'ArrowRight') step(event, 1);
          else if (event.key === 'ArrowLeft') step(event, -1);
          else if (event.key === 'Enter') onOpen(isOpen ? null : name);
          else if (event.key === 'Escape') onOpen(null);
        }}
      >
        <td className="py-0.5 pl-2">
          <input
            type="checkbox"
            tabIndex={-1}
            className="accent-agreed"
            aria-label={`Take ${name}`}
            disabled={!canTake}
            checked={taken !== null || inDraft !== undefined}
            onChange={toggle}
          />
        </td>
        <th scope="row" className="truncate px-2 text-left font-semibold">
          <button
            type="button"
            tabIndex={-1}
            aria-expanded={isOpen}
            className="max-w-full truncate text-left hover:underline"
            title={row.isSet ? `Moves together: ${row.packages.join(', ')}` : name}
            onClick={() => onOpen(isOpen ? null : name)}
          >
            {name}
          </button>
          {row.isSet && <span className="font-normal text-ink-2"> set</span>}
          {row.pin !== null && (
            <span className="font-mono font-normal" title={`pinned to ${row.pin}`}>
              {' '}
              ⊣
            </span>
          )}
          {row.isExcepted && <span title="a project has an exception"> †</span>}
          <span className="block font-mono text-xs font-normal text-ink-2 min-[640px]:hidden">
            {from}
          </span>
        </th>
        <td className={`px-2 font-mono text-[13px] whitespace-nowrap ${NOT_ON_PHONES}`}>
          {from}
          {others.length > 0 && (
            <span className="text-ink-2" title={`also in use: ${others.join(', ')}`}>
              {' '}
              +{others.length}
            </span>
          )}
        </td>
        <td className={`px-2 ${NOT_ON_PHONES}`}>
          <ReleaseSteps row={row} trials={trials} today={today} chosen={shown?.to ?? null} />
        </td>
        <td className="px-2 font-mono text-[13px]">
          {inDraft !== undefined ? (
            <span className="pencilled">{inDraft}</span>
          ) : offers.length === 0 ? (
            <span className="text-ink-2">–</span>
          ) : (
            <select
              tabIndex={-1}
              aria-label={`Release of ${name} to take`}
              value={shown?.to ?? ''}
              onChange={({ target }) =>
                onChoose(row, offers.find(({ to }) => to === target.value) ?? null)
              }
              className="h-[26px] w-full rounded-sm border border-rule-strong bg-leaf px-1"
            >
              {shown === null && <option value="">–</option>}
              {offers.map(({ to, kind }) => (
                <option key={to} value={to}>
                  {to} {kind}
                </option>
              ))}
            </select>
          )}
        </td>
        <td className="px-2 text-right font-mono text-[13px]">
          {trial?.price == null ? '–' : trial.price.moved + trial.price.entered + trial.price.left}
        </td>
        <td className={`px-2 text-right font-mono text-[13px] ${NOT_ON_PHONES}`}>
          {trial?.price?.files ?? '–'}
        </td>
      </tr>
      {isOpen && (
        <tr className="border-b border-rule-strong bg-leaf">
          <td />
          <td colSpan={6} className="px-2 pt-1.5 pb-2.5">
            <Reasons row={row} trials={trials} />
          </td>
        </tr>
      )}
    </Fragment>
  );
}

/** Each offer with what was found, and why what is newer still cannot be taken. */
function Reasons({ row, trials }: { readonly row: UpgradeRow; readonly trials: Trials }) {
  const { slug } = useOutletContext<FrameContext>();
  const { offers, newer, packages, projects, isSet } = row;
  const shut = newer.filter(({ why }) => why !== null);
  return (
    <div className="flex flex-col gap-1.5 text-sm">
      <p className="text-ink-2">
        {isSet ? `${packages.join(', ')} move together. ` : ''}
        {projects.length === 0
          ? 'No project requires it itself.'
          : `${count(projects.length, 'project')} ${projects.length === 1 ? 'requires' : 'require'} it: ${projects.join(', ')}.`}{' '}
        <TextLink to={`/w/${slug}/trace?package=${encodeURIComponent(packages[0]!)}`}>
          trace it
        </TextLink>
        {row.deprecated !== null && ` What is in use is deprecated: ${row.deprecated}.`}
      </p>
      <ul className="flex flex-col gap-1">
        {offers.map((offer) => (
          <li key={offer.to}>
            <b className="font-mono font-semibold">{offer.to}</b> {offer.kind}, of{' '}
            {day(offer.published)} (
            <TextLink
              to={`/w/${slug}/registry?package=${encodeURIComponent(packages[0]!)}&release=${encodeURIComponent(offer.to)}`}
            >
              what is new
            </TextLink>
            ): <Outcome offer={offer} trials={trials} />
          </li>
        ))}
        {shut.slice(-5).map(({ version, published, why }) => (
          <li key={version} className="text-ink-2">
            <b className="font-mono font-semibold">{version}</b>, of {day(published)}: {why}
          </li>
        ))}
      </ul>
    </div>
  );
}

function Outcome({ offer, trials }: { readonly offer: Offer; readonly trials: Trials }) {
  const trial = trials.get(offerKey(offer));
  if (trial === undefined) return <span className="text-ink-2">is being tried</span>;
  if (trial.against.length === 0)
    return <span className="text-agreed">can be taken; {priceWords(trial.price!)}</span>;
  return (
    <span className="text-off">
      {trial.against.map((sentence) => (
        <span key={sentence} className="block pl-4">
          {sentence}
        </span>
      ))}
    </span>
  );
}
