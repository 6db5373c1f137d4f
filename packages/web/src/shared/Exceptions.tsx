import type { ExceptionLine } from '../api/client';
import { exceptionForm } from '../edit/edit-forms';
import type { EditForm } from '../edit/form';
import { day } from '../parts/words';
import { EditorStep } from '../session/EditorButton';
import { DaysLeft } from './DaysLeft';

interface Props {
  readonly lines: readonly ExceptionLine[];
  readonly isBusy: boolean;
  readonly onForm: (form: EditForm) => void;
  readonly onEnd: (line: ExceptionLine) => void;
}

/** Exceptions, and how long they last; those that end first stand first. */
export function Exceptions({ lines, isBusy, onForm, onEnd }: Props) {
  return (
    <ul>
      {lines.map((line) => {
        const { project, package: name, range, reason, owner, until, isUsed } = line;
        return (
          <li
            key={`${project} ${name}`}
            className="grid grid-cols-[minmax(0,220px)_minmax(0,1fr)_215px_auto] items-baseline gap-3 border-b border-rule px-2 py-1.5 max-fold:grid-cols-1"
          >
            <span>
              <b className="font-semibold">{project}</b> keeps {name}{' '}
              <code className="font-mono text-sm">{range}</code> †
            </span>
            <span className="text-sm text-ink-2">
              {reason} ({owner}){!isUsed && ' · not used: the project asks for something else'}
            </span>
            <span className="text-sm">
              <DaysLeft daysLeft={line.daysLeft} />{' '}
              <span className="text-ink-2">({day(until)})</span>
            </span>
            <span className="flex gap-3">
              <EditorStep
                label={`Extend the exception of ${project} for ${name}`}
                onClick={() => onForm(exceptionForm(name, [], line))}
              >
                extend
              </EditorStep>
              <EditorStep
                label={`End the exception of ${project} for ${name}`}
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
