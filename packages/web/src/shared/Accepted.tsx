import type { Shared } from '../api/client';
import { day } from '../parts/words';
import { EditorStep } from '../session/EditorButton';

interface Props {
  readonly lines: Shared['accepted'];
  readonly isBusy: boolean;
  readonly onEnd: (line: Shared['accepted'][number]) => void;
}

/** Terms that are accepted for the team: by whom, when, and what is under them today. */
export function Accepted({ lines, isBusy, onEnd }: Props) {
  return (
    <ul>
      {lines.map((line) => (
        <li
          key={line.id}
          className="grid grid-cols-[minmax(0,260px)_minmax(0,1fr)_auto] items-baseline gap-3 border-b border-rule px-2 py-1.5 max-fold:grid-cols-1"
        >
          <a
            href={line.url}
            target="_blank"
            rel="noopener noreferrer"
            className="font-semibold break-words text-agreed hover:underline"
          >
            {line.title}
          </a>
          <span className="text-sm text-ink-2">
            {line.by}, {day(line.on)} ·{' '}
            {line.copies.length === 0
              ? 'no copy is under them as they read then'
              : line.copies.join(', ')}
          </span>
          <EditorStep
            label={`No longer accept ${line.title}`}
            disabled={isBusy}
            onClick={() => onEnd(line)}
          >
            end
          </EditorStep>
        </li>
      ))}
    </ul>
  );
}
