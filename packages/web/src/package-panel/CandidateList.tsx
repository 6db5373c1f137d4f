import type { Candidate } from '@deep-ledger/core';

interface Props {
  /** Ranked. */
  readonly candidates: readonly Candidate[];
  readonly chosen: string | null;
  readonly onChoose: (version: string) => void;
  /** By version: how many requirements stand there now. */
  readonly inUse: ReadonlyMap<string, number>;
}

/** The versions worth trying, the best first, each with what speaks for it. */
export function CandidateList({ candidates, chosen, onChoose, inUse }: Props) {
  return (
    <div className="rule-double-top max-h-[290px] overflow-auto">
      <table className="w-full border-collapse text-sm">
        <thead>
          <tr className="text-right text-ink-2">
            <th className="py-1 text-left font-medium">Version</th>
            <th
              className="w-[46px] py-1 font-medium"
              title="Projects whose range allows it as it is"
            >
              Allow it
            </th>
            <th className="w-[38px] py-1 font-medium" title="Hand-written files that would change">
              Files
            </th>
            <th className="w-[50px] py-1 font-medium" title="Copies of the package">
              Copies
            </th>
          </tr>
        </thead>
        <tbody role="radiogroup" aria-label="Version to level at">
          {candidates.map((one) => {
            const { version, allowedBy, files, result, deprecated } = one;
            const isChosen = version === chosen;
            const isAnswered = result.kind === 'answered';
            return (
              <tr
                key={version}
                onClick={() => onChoose(version)}
                className={`cursor-pointer border-t border-rule text-right align-top font-mono ${isChosen ? 'bg-leaf font-semibold' : 'hover:bg-bar'} ${isAnswered ? '' : 'text-ink-3'}`}
              >
                <td className="py-0.5 pl-1 text-left">
                  <button
                    type="button"
                    role="radio"
                    aria-checked={isChosen}
                    onClick={() => onChoose(version)}
                    className={isChosen ? 'pencilled' : ''}
                  >
                    {version}
                  </button>
                  <span className="block font-sans text-xs font-normal text-ink-2">
                    {!isAnswered && <span className="text-off">no answer</span>}
                    {deprecated !== null && <span className="text-caution">deprecated</span>}
                    {isAnswered && deprecated === null && specialWords(one, inUse.get(version))}
                  </span>
                </td>
                <td className="py-0.5">{allowedBy.length}</td>
                <td className="py-0.5">{isAnswered ? files : '–'}</td>
                <td className="py-0.5 pr-1">{isAnswered ? result.copies : '–'}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** What is special in a candidate, each thing once; where nothing is, who uses it now. */
function specialWords(
  { isAgreed, isNewest, reasons }: Candidate,
  inUse: number | undefined,
): string {
  const words = [
    ...(isAgreed ? ['agreed now'] : []),
    ...(isNewest ? ['newest'] : []),
    ...reasons.flatMap((reason) =>
      reason !== 'newest' ? [reason] : isNewest ? [] : ['newest with an answer'],
    ),
  ];
  if (words.length > 0) return words.join(', ');
  return inUse === undefined ? 'not in use' : `in use by ${inUse}`;
}
