import { afterEach, expect, test, vi } from 'vitest';
import { shown, terminalOutput } from './output.js';

afterEach(() => {
  vi.restoreAllMocks();
});

/** What a command's words come to on the screen of somebody who looks at them. */
function onTerminal(work: (output: ReturnType<typeof terminalOutput>) => void): string {
  let text = '';
  vi.spyOn(process.stdout, 'write').mockImplementation((part) => {
    text += String(part);
    return true;
  });
  const wasTerminal = process.stdout.isTTY;
  process.stdout.isTTY = true;
  work(terminalOutput());
  process.stdout.isTTY = wasTerminal;
  return text;
}

test('what a terminal would obey is written out, and is still the same JSON', () => {
  const text = 'log\u001b[2J \u009b1m \u202egnp.exe\u0000\n\tnext';
  expect(shown(text)).toBe('log\\u001b[2J \\u009b1m \\u202egnp.exe\\u0000\n\tnext');
  const json = JSON.stringify({ text });
  expect(JSON.parse(shown(json))).toEqual({ text });
});

test('a style is the command’s own; one that a name brings along is not taken for it', () => {
  const said = onTerminal(({ say, mark }) => {
    const [first, second] = [mark('error', 'error'), mark('\u001b[8mnote', 'note')];
    say(`${first} log\u001b[31m ${second}`);
  });
  expect(said).toContain('\u001b[1m');
  expect(said).toContain('log\\u001b[31m');
  expect(said).toContain('\\u001b[8mnote');
});
