import type { Unanswered } from '../resolve/index.js';

/**
 * The explanations of all requirements without an answer, those with the same cause told as one: the
 * first requirement, how many more there are, then the cause.
 */
export function groupExplanations(
  unanswered: readonly Unanswered[],
): readonly (readonly string[])[] {
  const groups = new Map<
    string,
    { readonly head: string; readonly causes: readonly string[]; more: number }
  >();
  for (const { sentences } of unanswered) {
    const [head = '', ...causes] = sentences;
    const key = causes.join('\n');
    const group = groups.get(key);
    if (group === undefined) groups.set(key, { head, causes, more: 0 });
    else group.more += 1;
  }
  return [...groups.values()].map(({ head, causes, more }) => {
    const others = more === 1 ? 'One more requirement fails' : `${more} more requirements fail`;
    return more === 0 ? [head, ...causes] : [head, `${others} for the same reason.`, ...causes];
  });
}
