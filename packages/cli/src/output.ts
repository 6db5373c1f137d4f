import { styleText } from 'node:util';

/** Where a command's words go. */
export interface Output {
  readonly say: (line: string) => void;
  readonly complain: (line: string) => void;
  /** What is being done, on a terminal; null: it is over. */
  readonly progress: (line: string | null) => void;
  /** Text that stands out on a terminal. */
  readonly mark: (text: string, severity: 'error' | 'warning' | 'note') => string;
}

/**
 * Characters that a terminal obeys rather than shows, and those that turn the direction of writing: texts and names come
 * from files that anybody may have written. Line ends and tabs are shown as they are.
 */
const OBEYED = /(?![\n\t])[\p{Cc}\u200e\u200f\u202a-\u202e\u2066-\u2069]/gu;

/** A text with such characters written out, as JSON would have them. */
export function shown(text: string): string {
  return text.replace(OBEYED, (unit) => `\\u${unit.charCodeAt(0).toString(16).padStart(4, '0')}`);
}

const STYLES = { error: ['bold', 'red'], warning: ['yellow'], note: ['dim'] } as const;

/** A reader that has seen enough, as `head` does, ends the program without a word. */
export function quietWhenNobodyReads(): void {
  for (const stream of [process.stdout, process.stderr])
    stream.on('error', (error: NodeJS.ErrnoException) => {
      if (error.code !== 'EPIPE') throw error;
      process.exit();
    });
}

/** Standard output and error; colour and progress only where a person looks at them. */
export function terminalOutput(): Output {
  const isColoured = process.stdout.isTTY && process.env['NO_COLOR'] === undefined;
  // No file can hold the marks that stand for styles in this run.
  let token: string | null = null;
  const marks = new Map<string, string>();
  const written = (line: string): string => {
    let text = `${shown(line)}\n`;
    for (const [key, styled] of marks) text = text.replace(key, () => styled);
    marks.clear();
    return text;
  };
  return {
    say: (line) => void process.stdout.write(written(line)),
    complain: (line) => void process.stderr.write(written(line)),
    progress: (line) => {
      if (process.stderr.isTTY) process.stderr.write(`\r\u001b[K${shown(line ?? '')}`);
    },
    mark: (text, severity) => {
      if (!isColoured) return text;
      token ??= crypto.randomUUID();
      const key = `${token}${marks.size};`;
      marks.set(key, styleText([...STYLES[severity]], shown(text)));
      return key;
    },
  };
}
