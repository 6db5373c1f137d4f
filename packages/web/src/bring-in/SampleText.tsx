import type { ReactNode } from 'react';
import type { BroughtIn } from '../api/client';
import { Button } from '../parts/Button';
import { PlainButton } from '../parts/PlainButton';

type Sample = NonNullable<BroughtIn['sample']>;

interface Props {
  readonly paths: readonly string[];
  readonly path: string | null;
  /** A file that the open kind reads, where it does not read this one; null: it does, or reads none. */
  readonly other: string | null;
  /** Null: it is not read yet, or no kind describes it. */
  readonly sample: Sample | null;
  readonly onOpen: (path: string) => void;
}

const MOST_LINES = 1000;

const LOOKS: Readonly<Record<Sample['marks'][number]['kind'], string>> = {
  project: 'bg-rule',
  word: 'bg-rule',
  package: 'bg-agreed-wash',
  range: 'bg-agreed-wash font-semibold',
  foreign: 'bg-off-wash text-off underline decoration-dashed underline-offset-3',
};
const SAYS: Readonly<Record<Sample['marks'][number]['kind'], string>> = {
  project: 'the name of the project',
  word: 'stands for the shared version or for a project',
  package: 'the name of a package',
  range: 'a range',
  foreign: 'no range: it is kept as it is, and not resolved',
};

/** The text of one file, with what is read in it marked in place. */
export function SampleText({ paths, path, other, sample, onOpen }: Props) {
  const at = path === null ? -1 : paths.indexOf(path);
  const lines = sample === null ? [] : linesOf(sample);
  return (
    <section aria-label="Text of a file" className="rule-double-top min-w-0 bg-leaf">
      <p className="flex items-baseline justify-between gap-2 border-b border-rule-strong px-2.5 py-1.5">
        <span className="font-mono text-sm font-semibold [overflow-wrap:anywhere]">
          {path ?? 'no file'}
        </span>
        {at >= 0 && paths.length > 1 && (
          <span className="text-sm whitespace-nowrap text-ink-2">
            {at + 1} of {paths.length}{' '}
            <Turn says="The file before" to={paths[at - 1]} onOpen={onOpen}>
              ‹
            </Turn>
            <Turn says="The next file" to={paths[at + 1]} onOpen={onOpen}>
              ›
            </Turn>
          </span>
        )}
      </p>
      {other !== null && (
        <p className="border-b border-rule px-2.5 py-1.5 text-sm text-ink-2">
          The open kind does not read this file.{' '}
          <Button look="text" onClick={() => onOpen(other)}>
            show {other}
          </Button>
        </p>
      )}
      {sample === null ? (
        <p className="px-2.5 py-4 text-ink-2">
          {path === null ? 'No file matches.' : 'No kind describes this file, or it is being read.'}
        </p>
      ) : (
        <div
          tabIndex={0}
          role="region"
          aria-label={`Text of ${sample.path}`}
          className="max-h-[70vh] overflow-auto py-2 font-mono text-sm/[21px]"
        >
          {lines.slice(0, MOST_LINES).map((parts, i) => (
            <div key={i} className="flex">
              <span className="w-9 shrink-0 pr-2 text-right text-ink-3 select-none">{i + 1}</span>
              <span className="whitespace-pre">{parts}</span>
            </div>
          ))}
          {(lines.length > MOST_LINES || sample.isCut) && (
            <p className="px-2.5 pt-2 font-sans text-ink-2">The file goes on.</p>
          )}
        </div>
      )}
    </section>
  );
}

interface TurnProps {
  readonly says: string;
  readonly to: string | undefined;
  readonly onOpen: (path: string) => void;
  readonly children: string;
}

function Turn({ says, to, onOpen, children }: TurnProps) {
  return (
    <PlainButton
      aria-label={says}
      disabled={to === undefined}
      onClick={() => onOpen(to!)}
      className="px-1 font-semibold text-agreed aria-disabled:text-ink-3"
    >
      {children}
    </PlainButton>
  );
}

/** Each line as what is drawn of it. */
function linesOf({ text, marks }: Sample): readonly (readonly ReactNode[])[] {
  const lines: ReactNode[][] = [[]];
  const put = (part: string, kind: Sample['marks'][number]['kind'] | null): void => {
    for (const [i, line] of part.split(/\r?\n/).entries()) {
      if (i > 0) lines.push([]);
      if (line === '') continue;
      const key = `${lines.length} ${lines.at(-1)!.length}`;
      lines.at(-1)!.push(
        kind === null ? (
          line
        ) : (
          <mark key={key} title={SAYS[kind]} className={`text-ink ${LOOKS[kind]}`}>
            {line}
          </mark>
        ),
      );
    }
  };
  let at = 0;
  for (const { start, end, kind } of marks) {
    put(text.slice(at, start), null);
    put(text.slice(start, end), kind);
    at = end;
  }
  put(text.slice(at).replace(/\r?\n$/, ''), null);
  return lines;
}
