import type { Chain, Chains } from './chains.js';

/** The chains to several nodes together, shortest first, those of one length in the order of the nodes. */
export function* mergedChains(chains: Chains, ends: readonly number[]): Generator<Chain> {
  const open = ends.map((end) => {
    const source = chains.to(end);
    return { source, next: source.next() };
  });
  for (;;) {
    let shortest: (typeof open)[number] | null = null;
    for (const one of open) {
      if (one.next.done === true) continue;
      if (shortest === null || one.next.value.length < (shortest.next.value as Chain).length)
        shortest = one;
    }
    if (shortest === null) return;
    yield shortest.next.value as Chain;
    shortest.next = shortest.source.next();
  }
}
