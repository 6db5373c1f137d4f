import { lineEnd, lineStart, withCommentsAbove } from './toml-lines.js';
import { tomlUnits } from './toml-units.js';

/**
 * The text with the lines of one unit as another text has them: the comments right above it and behind it come along.
 * Null where the unit does not stand on lines of its own in both. O(length).
 * @param key of the unit, as `unitKey` gives it
 */
export function withUnitLines(text: string, from: string, key: string): string | null {
  const [there, wanted] = [linesOf(text, key), linesOf(from, key)];
  if (there === null || wanted === null) return null;
  return text.slice(0, there[0]) + from.slice(...wanted) + text.slice(there[1]);
}

function linesOf(text: string, key: string): readonly [number, number] | null {
  const unit = tomlUnits(text)?.get(key);
  if (unit === undefined) return null;
  const start = lineStart(text, unit.whole[0]);
  const end = lineEnd(text, unit.whole[1]);
  const isAlone =
    text.slice(start, unit.whole[0]).trim() === '' &&
    /^[ \t]*(#.*)?$/.test(text.slice(unit.whole[1], end));
  return isAlone ? [withCommentsAbove(text, start, 0), end] : null;
}
