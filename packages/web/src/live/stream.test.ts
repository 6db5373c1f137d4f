import { waitFor } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { listen, type LiveEvent } from './stream';

/** Streams that are open, by the order in which they were. */
const streams: FakeStream[] = [];

class FakeStream {
  onmessage: ((event: MessageEvent<string>) => void) | null = null;
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;

  constructor() {
    streams.push(this);
  }

  close(): void {
    streams.splice(streams.indexOf(this), 1);
  }

  tell(event: LiveEvent): void {
    this.onmessage?.({ data: JSON.stringify(event) } as MessageEvent<string>);
  }
}

/** One lock at a time, as the Web Locks interface gives it out. */
function fakeLocks() {
  let last: Promise<unknown> = Promise.resolve();
  return {
    request: (_: string, { signal }: { signal: AbortSignal }, work: () => Promise<void>) => {
      const turn = last.then(() => (signal.aborted ? undefined : work()));
      last = turn.catch(() => undefined);
      return turn;
    },
  };
}

beforeEach(() => {
  streams.length = 0;
  vi.stubGlobal('EventSource', FakeStream);
  vi.stubGlobal('navigator', { locks: fakeLocks() });
});
afterEach(() => {
  vi.unstubAllGlobals();
});

/** A tab with what it has heard. */
function tab() {
  const heard: string[] = [];
  return { heard, leave: listen('small', ({ topic }) => heard.push(topic)) };
}

test('all tabs share one stream; when the tab that has it is left, another opens one and all learn of the gap', async () => {
  const [first, second, third] = [tab(), tab(), tab()];
  await waitFor(() => expect(streams).toHaveLength(1));
  streams[0]!.tell({ topic: 'drafts' });
  await waitFor(() => {
    for (const { heard } of [first, second, third]) expect(heard).toContain('drafts');
  });
  expect(streams).toHaveLength(1);
  const gaps = (): number => third.heard.filter((topic) => topic === 'missed').length;
  const before = gaps();
  first.leave();
  await waitFor(() => expect(gaps()).toBe(before + 1));
  expect(streams).toHaveLength(1);
  streams[0]!.tell({ topic: 'tokens' });
  await waitFor(() => {
    for (const { heard } of [second, third]) expect(heard).toContain('tokens');
  });
  expect(first.heard).not.toContain('tokens');
  second.leave();
  third.leave();
  await waitFor(() => expect(streams).toHaveLength(0));
});

test('where a browser shares nothing between its tabs, each has a stream of its own', () => {
  vi.stubGlobal('navigator', {});
  const [first, second] = [tab(), tab()];
  expect(streams).toHaveLength(2);
  streams[0]!.tell({ topic: 'drafts' });
  expect([first.heard, second.heard]).toEqual([['drafts'], []]);
  first.leave();
  second.leave();
  expect(streams).toHaveLength(0);
});
