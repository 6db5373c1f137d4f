import { describe, expect, test } from 'vitest';
import type { Finding } from '../api/client';
import { findingsSections, worstOf } from './findings-sections';
import type { ShownCause } from './findings-view';
import { KIND_WORDS } from './kind-words';

function cause(key: string, ...list: readonly (readonly [Finding['kind'], Finding['severity']])[]) {
  const findings = list.map(([kind, severity], i) => ({ id: `${key} ${i}`, kind, severity }));
  return { key, says: key, findings } as unknown as ShownCause;
}

describe('findings in sections', () => {
  test('every kind has one', () => {
    for (const kind of Object.keys(KIND_WORDS) as Finding['kind'][])
      expect(findingsSections([cause(kind, [kind, 'note'])])).toHaveLength(1);
  });

  test('a cause stands under that of its worst finding, and is counted once', () => {
    const mixed = cause('a', ['behind', 'note'], ['unmet-peer', 'warning'], ['behind', 'note']);
    expect(worstOf(mixed).kind).toBe('unmet-peer');
    expect(findingsSections([mixed, cause('b', ['behind', 'note'])])).toEqual([
      {
        title: 'Several copies',
        causes: [mixed],
        findings: 3,
        bySeverity: { error: 0, warning: 1, note: 2 },
      },
      {
        title: 'Behind',
        causes: [expect.objectContaining({ key: 'b' })],
        findings: 1,
        bySeverity: { error: 0, warning: 0, note: 1 },
      },
    ]);
  });

  test('causes keep their order', () => {
    const [section] = findingsSections([
      cause('b', ['behind', 'note']),
      cause('a', ['behind', 'note']),
    ]);
    expect(section!.causes.map(({ key }) => key)).toEqual(['b', 'a']);
  });
});
