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
  return {
    say: (line) => void process.stdout.write(`${line}\n`),
    complain: (line) => void process.stderr.write(`${line}\n`),
    progress: (line) => {
      if (process.stderr.isTTY) process.stderr.write(`\r\u001b[K${line ?? ''}`);
    },
    mark: (text, severity) => (isColoured ? styleText([...STYLES[severity]], text) : text),
  };
}
