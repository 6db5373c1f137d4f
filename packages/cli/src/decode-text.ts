import { UnreadableFile } from './unreadable-file.js';

/** Text of a file. @throws UnreadableFile where it is no UTF-8, with the line */
export function decodeText(path: string, bytes: Uint8Array): string {
  const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
  try {
    return decoder.decode(bytes);
  } catch {
    throw new UnreadableFile(
      `${path}:${lineOfFault(bytes)}: This line is not UTF-8 text. Save the file as UTF-8.`,
    );
  }
}

/** The line, from 1, in which bytes stop being UTF-8. */
function lineOfFault(bytes: Uint8Array): number {
  let line = 1;
  let start = 0;
  for (let end = bytes.indexOf(10); ; end = bytes.indexOf(10, start)) {
    const part = bytes.subarray(start, end < 0 ? bytes.length : end);
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(part);
    } catch {
      return line;
    }
    if (end < 0) return line;
    start = end + 1;
    line += 1;
  }
}
