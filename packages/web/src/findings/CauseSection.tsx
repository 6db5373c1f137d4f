import type { Finding } from '../api/client';
import { FindingLine } from './FindingLine';
import type { ShownCause } from './findings-view';
import { worstOf } from './findings-sections';
import { KIND_WORDS } from './kind-words';

interface Props {
  readonly cause: ShownCause;
  readonly isBanded: boolean;
  readonly isOpen: boolean;
  readonly isHistoryKnown: boolean;
  readonly onToggle: (isOpen: boolean) => void;
  readonly onMute: (finding: Finding) => void;
}

/** One cause: folded, a line; open, all that it leads to. */
export function CauseSection({ cause, isBanded, isOpen, isHistoryKnown, onToggle, onMute }: Props) {
  const { says, findings } = cause;
  const { severity } = worstOf(cause);
  const kinds = [...new Set(findings.map(({ kind }) => KIND_WORDS[kind]))];
  const [subject = ''] = says.split(':', 1);
  return (
    <li className={`border-b border-rule ${isBanded ? 'bg-bar' : ''}`}>
      <button
        type="button"
        aria-expanded={isOpen}
        onClick={() => onToggle(!isOpen)}
        className="flex w-full items-baseline gap-2 px-3 py-1.5 text-left hover:bg-agreed-wash"
      >
        <span
          className={`w-[56px] shrink-0 text-sm ${severity === 'error' ? 'font-semibold text-off' : severity === 'note' ? 'text-ink-3' : ''}`}
        >
          {severity}
        </span>
        <span
          className={`min-w-0 flex-1 ${isOpen ? '[overflow-wrap:anywhere]' : 'truncate'} ${findings.length > 1 ? 'font-semibold' : ''}`}
        >
          {findings.length > 1 ? subject : findings[0]!.says}
        </span>
        <span className="max-w-[45%] truncate text-right text-sm text-ink-2 max-fold:hidden">
          {kinds.join(', ')}
        </span>
        <span className="w-[26px] shrink-0 text-right font-mono text-sm">{findings.length}</span>
      </button>
      {isOpen && (
        <ul className="bg-leaf">
          {findings.map((finding) => (
            <FindingLine
              key={finding.id}
              finding={finding}
              isHistoryKnown={isHistoryKnown}
              onMute={() => onMute(finding)}
            />
          ))}
        </ul>
      )}
    </li>
  );
}
