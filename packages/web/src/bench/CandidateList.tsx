import type { Candidate } from '../api/client';

interface Props {
  readonly candidates: readonly Candidate[];
  readonly chosen: string | null;
  /** How many projects require the package. */
  readonly projects: number;
  readonly onChoose: (version: string) => void;
}

/** The versions in a list, with their cost in figures. */
export function CandidateList({ candidates, chosen, projects, onChoose }: Props) {
  return (
    <table className="rule-double-top w-full border-collapse text-sm">
      <thead>
        <tr className="text-right text-ink-2">
          <th className="py-1 text-left font-medium">Version</th>
          <th
            className="w-[52px] py-1 font-medium"
            title={`Of the ${projects} projects that require it`}
          >
            Allow it
          </th>
          <th className="w-[38px] py-1 font-medium" title="Hand-written files that would change">
            Files
          </th>
          <th className="w-[68px] py-1 font-medium">Copies</th>
        </tr>
      </thead>
      <tbody role="radiogroup" aria-label="Version to level at">
        {candidates.map((candidate) => {
          const { version, allowedBy, manifests, copies, isAnswered, isNewest, deprecated } =
            candidate;
          const isChosen = version === chosen;
          return (
            <tr
              key={version}
              onClick={() => onChoose(version)}
              className={`cursor-pointer border-t border-rule text-right font-mono ${isChosen ? 'bg-leaf font-semibold' : 'hover:bg-bar'} ${isAnswered ? '' : 'text-ink-3'}`}
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
                {isNewest && (
                  <span className="ml-1 font-sans text-xs font-normal text-ink-2">newest</span>
                )}
                {deprecated !== null && (
                  <span className="ml-1 font-sans text-xs font-normal text-caution">
                    deprecated
                  </span>
                )}
              </td>
              <td className="py-0.5">{allowedBy}</td>
              <td className="py-0.5">{isAnswered ? manifests : '–'}</td>
              <td className="py-0.5 pr-1">
                {isAnswered ? copies : <span className="font-sans text-off">no answer</span>}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
