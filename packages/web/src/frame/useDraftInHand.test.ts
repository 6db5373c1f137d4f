import { expect, test } from 'vitest';
import { draftInHand } from './useDraftInHand';

const DRAFTS = [
  { id: 'old', name: 'old', author: '', edits: 1, updatedAt: '2026-11-01T00:00:00Z' },
  { id: 'new', name: 'new', author: '', edits: 1, updatedAt: '2026-11-02T00:00:00Z' },
];

test('the draft in hand is the one in the address, else the one changed last', () => {
  expect(draftInHand('old', DRAFTS)).toBe('old');
  expect(draftInHand('elsewhere', [])).toBe('elsewhere');
  expect(draftInHand(null, DRAFTS)).toBe('new');
  expect(draftInHand(null, [])).toBeNull();
});
