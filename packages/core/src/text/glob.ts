import picomatch from 'picomatch';

/** Whether a text matches any of these glob patterns; `/` alone separates folders, on every machine. */
export function globMatcher(patterns: string | readonly string[]): (text: string) => boolean {
  const isMatch = picomatch(typeof patterns === 'string' ? patterns : [...patterns], {
    windows: false,
  });
  return (text) => isMatch(text);
}
