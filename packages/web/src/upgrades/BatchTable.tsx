import type { Batch } from '../api/client';
import { Button } from '../parts/Button';
import { EditorButton } from '../session/EditorButton';
import { count } from '../parts/words';
import { useBatch, type BatchQuery, type Take } from './useUpgrades';
import { priceWords } from './upgrade-view';

interface Props {
  readonly slug: string;
  readonly commit: string | undefined;
  readonly which: Omit<BatchQuery, 'take'>;
  readonly isPencilling: boolean;
  readonly onPencil: (batch: Batch, name: string) => void;
}

const BATCHES: readonly (readonly [take: Take, title: string])[] = [
  ['patch', 'All patches'],
  ['minor', 'Patches and minors'],
  ['major', 'All, majors too'],
];

/** What can be taken together, tried as one. */
export function BatchTable(props: Props) {
  return (
    <table className="rule-double-top mb-3 w-full border-collapse bg-leaf">
      <caption className="sr-only">What can be taken together</caption>
      <tbody>
        {BATCHES.map(([take, title]) => (
          <BatchLine key={take} take={take} title={title} {...props} />
        ))}
      </tbody>
    </table>
  );
}

function BatchLine({
  take,
  title,
  slug,
  commit,
  which,
  isPencilling,
  onPencil,
}: Props & { readonly take: Take; readonly title: string }) {
  const { data, error, isFetching, refetch } = useBatch(slug, commit, { ...which, take });
  const taken = data?.offers.length ?? 0;
  return (
    <tr className="border-b border-rule align-baseline max-fold:grid max-fold:grid-cols-[1fr_auto_auto] max-fold:items-baseline">
      <th scope="row" className="w-[170px] px-2 py-1.5 max-fold:w-auto text-left font-semibold">
        {title}
      </th>
      <td className="w-[90px] px-2 font-mono whitespace-nowrap">
        {data === undefined ? '–' : `${taken} of ${data.of}`}
      </td>
      <td className="px-2 max-fold:order-last max-fold:col-span-3 max-fold:pb-1.5">
        {data !== undefined ? (
          <LeftOut batch={data} />
        ) : error !== null && !isFetching ? (
          <>
            <span className="text-off">{error.message}</span>{' '}
            <Button look="text" aria-label={`Try again: ${title}`} onClick={() => void refetch()}>
              Try again
            </Button>
          </>
        ) : (
          <span className="text-ink-2">is being tried</span>
        )}
      </td>
      <td className="px-2 text-sm whitespace-nowrap text-ink-2 max-fold:hidden">
        {data?.price != null && priceWords(data.price)}
      </td>
      <td className="w-[90px] px-2 text-right">
        {taken > 0 && (
          <EditorButton
            look="text"
            disabled={isPencilling}
            aria-label={`Pencil in: ${title}`}
            onClick={() => onPencil(data!, title.toLowerCase())}
          >
            Pencil in
          </EditorButton>
        )}
      </td>
    </tr>
  );
}

/** What is left out of a batch or taken at a smaller step than is offered, each with its reason. */
function LeftOut({ batch: { of, left, offers } }: { readonly batch: Batch }) {
  if (of === 0) return <span className="text-ink-2">nothing newer</span>;
  if (left.length === 0)
    return <span className="level text-agreed">nothing stands against it</span>;
  const lines = left.map((one) => ({
    ...one,
    smaller: offers.find(({ name }) => name === one.offer.name),
  }));
  const out = lines.filter(({ smaller }) => smaller === undefined).length;
  const parts = [
    ...(out > 0 ? [`${out} left out`] : []),
    ...(out < lines.length ? [`${lines.length - out} at a smaller step`] : []),
  ];
  return (
    <details>
      <summary className="cursor-pointer">
        {parts.join(', ')}, {lines.length === 1 ? 'with its reason' : 'each with its reason'}
      </summary>
      <ul className="pt-1 pb-1.5 text-sm">
        {lines.map(({ offer: { name, to }, against, smaller }) => (
          <li key={name} className="pt-0.5">
            <b className="font-semibold">{name}</b> <code className="font-mono">{to}</code>
            {smaller !== undefined && (
              <span className="text-ink-2"> ({smaller.to} is taken)</span>
            )}:{' '}
            {against[0]}
            {against.length > 1 && (
              <span className="text-ink-2"> And {count(against.length - 1, 'reason')} more.</span>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
