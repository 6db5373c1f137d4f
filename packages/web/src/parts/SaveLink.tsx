import type { ReactNode } from 'react';
import { saveFile } from './save-file';

interface Props {
  /** Of the file. */
  readonly name: string;
  readonly text: () => string;
  readonly children: ReactNode;
}

/** Saves a text as a file. */
export function SaveLink({ name, text, children }: Props) {
  const save = (): void => saveFile(name, new Blob([text()], { type: 'text/csv;charset=utf-8' }));
  return (
    <button
      type="button"
      onClick={save}
      className="text-agreed underline decoration-rule-strong underline-offset-3"
    >
      {children}
    </button>
  );
}
