/**
 * The known word a typing slip most likely meant, or null when none is near: at most two edits away,
 * and fewer than half of the word. O(words x length²).
 * Source: V. Levenshtein, Binary codes capable of correcting deletions, insertions and reversals, 1966.
 */
export function nearestWord(word: string, known: readonly string[]): string | null {
  let best: string | null = null;
  let bestDistance = Math.min(3, Math.ceil(word.length / 2));
  for (const candidate of known) {
    const distance = editDistance(word, candidate);
    if (distance < bestDistance) {
      best = candidate;
      bestDistance = distance;
    }
  }
  return best;
}

function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      const swap = row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1);
      next.push(Math.min(swap, row[j]! + 1, next[j - 1]! + 1));
    }
    row = next;
  }
  return row[b.length]!;
}
