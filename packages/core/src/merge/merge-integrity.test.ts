import { expect, test } from 'vitest';
import type { Resolution } from '../resolve/index.js';
import { mergeAnswers } from './merge-answers.js';

function holding(integrity: string): Resolution {
  const copy = {
    name: 'json',
    version: '1.0.0',
    registry: 'main',
    archive: '/archives/json/1.0.0',
    integrity,
    targets: [],
    deprecated: null,
    requirements: [],
    peers: [],
  };
  return { projects: [], copies: [copy] };
}

test('a merge takes the side that changed an integrity, and both orders of the sides agree', () => {
  const values = ['sha512-a', 'sha512-b', 'sha512-c'];
  const triples = values.flatMap((b) => values.flatMap((o) => values.map((t) => [b, o, t])));
  for (const [b, o, t] of triples as [string, string, string][]) {
    const merged = mergeAnswers(holding(b), holding(o), holding(t)).copies[0]!.integrity;
    const swapped = mergeAnswers(holding(b), holding(t), holding(o)).copies[0]!.integrity;
    expect(swapped).toBe(merged);
    expect([o, t]).toContain(merged);
    if (o === b) expect(merged).toBe(t);
    if (t === b) expect(merged).toBe(o);
  }
});
