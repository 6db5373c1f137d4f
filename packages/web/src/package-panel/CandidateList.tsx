import type { Candidate } from '@deep-ledger/core';

interface Props {
  /** Ranked. */
  readonly candidates: readonly Candidate[];
  readonly chosen: string | null;
  readonly onChoose: (version: string) => void;
}

/** The versions worth trying, the best first, each with what speaks for it. */
export function CandidateList({ candidates, chosen, onChoose }: Props) {
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
          {candidates.map(
            ({ version, allowedBy, files, result, isNewest, isAgreed, deprecated, reasons }) => {
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
                      {[
                        ...(isAgreed ? ['agreed now'] : []),
                        ...(isNewest && !reasons.includes('newest') ? ['newest'] : []),
                        ...reasons,
                      ].join(', ')}
                      {deprecated !== null && <span className="text-caution">deprecated</span>}
                      {!isAnswered && <span className="text-off"> no answer</span>}
                    </span>
                  </td>
                  <td className="py-0.5">{allowedBy.length}</td>
                  <td className="py-0.5">{isAnswered ? files : '–'}</td>
                  <td className="py-0.5 pr-1">{isAnswered ? result.copies : '–'}</td>
                </tr>
              );
            },
          )}
        </tbody>
      </table>
    </div>
  );
}
