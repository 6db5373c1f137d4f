import type { GitClones } from './git-clones.js';

/** A line at the end of a commit's message that says who did something: `Approved-by: Name <address>`. */
export interface Trailer {
  readonly key: string;
  readonly name: string;
  readonly email: string;
}

/** A message with trailers at its end, where git itself would put them. */
export async function withTrailers(
  clones: GitClones,
  message: string,
  trailers: readonly Trailer[],
): Promise<string> {
  const text = `${message.trim()}\n`;
  if (trailers.length === 0) return text;
  const args = trailers.flatMap(({ key, name, email }) => [
    '--trailer',
    `${key}: ${name} <${email}>`,
  ]);
  const said = await clones.demandBytes(
    null,
    ['interpret-trailers', '--no-divider', '--if-exists', 'addIfDifferent', ...args],
    { input: text },
  );
  return said.toString('utf8');
}
