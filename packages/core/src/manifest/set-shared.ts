import type { TextEdit } from '../text/index.js';
import { nodeAt, planAddEntry, planSetString, printString } from './edit-toml.js';
import { parseToml, type TomlNode, type TomlTable } from './toml-document.js';

/** What a new shared file begins with. */
export const NEW_SHARED_FILE = 'format = 1\n\n[shared]\n';

/**
 * Plans the change of a package's shared version in `ledger.shared.toml`: in [shared], or in the lockstep
 * set or the line of [everywhere] that agrees on it.
 * @returns null if the text cannot be read
 */
export function planSetShared(
  text: string,
  name: string,
  range: string,
): readonly TextEdit[] | null {
  const parsed = parseToml(text);
  if (!parsed.ok) return null;
  const places = [
    lockstepPathOf(parsed.root, name),
    ['shared', name],
    ['everywhere', name, 'range'],
  ];
  const node = places.reduce(
    (found: TomlNode | null, path) => found ?? (path && nodeAt(parsed.root, path)),
    null,
  );
  if (node === null) return [planAddEntry(text, parsed.root, ['shared'], name, printString(range))];
  if (node.kind !== 'string') return null;
  return node.value === range ? [] : [planSetString(text, node.span, range)];
}

function lockstepPathOf(root: TomlTable, name: string): readonly string[] | null {
  const sets = nodeAt(root, ['lockstep']);
  if (sets?.kind !== 'table') return null;
  for (const set of sets.entries.keys()) {
    const packages = nodeAt(root, ['lockstep', set, 'packages']);
    if (packages?.kind !== 'array') continue;
    if (packages.items.some((item) => item.kind === 'string' && item.value === name)) {
      return ['lockstep', set, 'range'];
    }
  }
  return null;
}
