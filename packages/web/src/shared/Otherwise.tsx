import type { OtherwiseLine } from '../api/client';
import { otherwiseForm } from '../edit/edit-forms';
import type { EditForm } from '../edit/form';
import { day } from '../parts/words';
import { EditorStep } from '../session/EditorButton';
import { DaysLeft } from './DaysLeft';

interface Props {
  readonly lines: readonly OtherwiseLine[];
  readonly isBusy: boolean;
  readonly onForm: (form: EditForm) => void;
  readonly onEnd: (line: OtherwiseLine) => void;
}

/** What is answered otherwise than releases ask, and how long that holds; what ends first stands first. */
export function Otherwise({ lines, isBusy, onForm, onEnd }: Props) {
  return (
    <ul>
      {lines.map((line) => {
        const { of, package: name, range, asks, reason, owner, until, daysLeft } = line;
        return (
          <li
            key={`${of} ${name}`}
            className="grid grid-cols-[minmax(0,260px)_minmax(0,1fr)_215px_auto] items-baseline gap-3 border-b border-rule px-2 py-1.5 max-fold:grid-cols-1"
          >
            <span>
              <b className="font-semibold">{of}</b> gets {name}{' '}
              <code className="font-mono text-sm">{range}</code> †
            </span>
            <span className="text-sm text-ink-2">
              {asks.length === 0 ? (
                'no copy asks for it'
              ) : (
                <>
                  asks <code className="font-mono">{asks.join(', ')}</code>
                </>
              )}{' '}
              · {reason} ({owner})
            </span>
            <span className="text-sm">
              <DaysLeft daysLeft={daysLeft} /> <span className="text-ink-2">({day(until)})</span>
            </span>
            <span className="flex gap-3">
              <EditorStep
                label={`Change how ${of} is answered for ${name}`}
                onClick={() => onForm(otherwiseForm(line))}
              >
                change
              </EditorStep>
              <EditorStep
                label={`Answer ${of} as it asks for ${name}`}
                disabled={isBusy}
                onClick={() => onEnd(line)}
              >
                end
              </EditorStep>
            </span>
          </li>
        );
      })}
    </ul>
  );
}
