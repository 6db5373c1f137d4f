import type { KeyboardEvent } from 'react';
import { count } from '../parts/words';
import {
  ADOPT,
  SHARED,
  type BringInForm,
  type Kind,
  type KindFigures,
  type Opened,
} from './bring-in-form';

interface Props {
  readonly form: BringInForm;
  readonly figures: readonly (KindFigures | null)[];
  readonly opened: Opened;
  readonly onOpen: (opened: Opened) => void;
}

interface Line {
  readonly key: Opened;
  readonly name: string;
  readonly says: string;
  readonly files: string;
  readonly isSkipped: boolean;
}

/** What was recognised, one line for each kind of file; arrow keys go from one to the next. */
export function KindList({ form, figures, opened, onOpen }: Props) {
  const lines: readonly Line[] = [
    ...form.kinds.map((kind, i) => ({
      key: kind.key,
      name: kind.form.files.join(' ') || 'no pattern yet',
      says: sureWords(kind),
      files: figures[i] == null ? '' : String(figures[i].files),
      isSkipped: kind.isSkipped,
    })),
    ...(form.shared === null
      ? []
      : [
          {
            key: SHARED,
            name: form.shared.form.file,
            says: 'shared versions',
            files: '1',
            isSkipped: form.shared.isSkipped,
          },
        ]),
    ...(form.adopt === null
      ? []
      : [
          {
            key: ADOPT,
            name: form.adopt.form.file,
            says: 'what is installed today',
            files: '1',
            isSkipped: form.adopt.isSkipped,
          },
        ]),
  ];
  const walk = (event: KeyboardEvent): void => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const next = lines[lines.findIndex(({ key }) => key === opened) + (step ?? 0)];
    if (step === undefined || next === undefined) return;
    event.preventDefault();
    onOpen(next.key);
    const list = event.currentTarget;
    queueMicrotask(() =>
      list.querySelector<HTMLElement>(`[data-kind="${CSS.escape(next.key)}"]`)?.focus(),
    );
  };
  return (
    <section aria-label="Kinds of files" className="rule-double-top bg-leaf" onKeyDown={walk}>
      <p className="flex justify-between border-b border-rule-strong px-2 py-1.5 text-sm text-ink-2">
        <span>In the repository</span>
        <span>files</span>
      </p>
      {lines.length === 0 && (
        <p className="px-2 py-4 text-ink-2">
          No file was recognised in which requirements stand. Describe one below.
        </p>
      )}
      {lines.map(({ key, name, says, files, isSkipped }) => (
        <button
          key={key}
          type="button"
          data-kind={key}
          tabIndex={key === opened ? 0 : -1}
          aria-current={key === opened ? 'true' : undefined}
          onClick={() => onOpen(key)}
          className={`flex w-full items-baseline justify-between gap-2 border-b border-rule px-2 py-1 text-left focus-visible:outline-offset-[-3px] ${key === opened ? 'bg-agreed-wash' : 'hover:bg-bar'}`}
        >
          <span className="min-w-0">
            <span
              className={`block font-mono text-sm font-semibold [overflow-wrap:anywhere] ${isSkipped ? 'text-ink-3 line-through' : ''}`}
            >
              {name}
            </span>
            <span className="block text-sm text-ink-2">{isSkipped ? 'skipped' : says}</span>
          </span>
          <span className="font-mono text-sm font-semibold">{isSkipped ? '' : files}</span>
        </button>
      ))}
    </section>
  );
}

function sureWords({ isSure, good, values, form }: Kind): string {
  if (isSure === null) return 'described by you';
  const what = form.syntax === 'lines' ? 'line' : 'value';
  return `${isSure ? 'sure' : 'likely'}: ${good} of ${count(values ?? 0, what)} can be read`;
}
