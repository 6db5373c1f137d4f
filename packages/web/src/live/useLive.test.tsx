import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook } from '@testing-library/react';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { Job } from '../api/client';
import type { LiveEvent } from './stream';
import { useLive } from './useLive';

/** The browser's stream of events, told by hand. */
class FakeStream {
  static readonly all: FakeStream[] = [];
  onmessage: ((event: MessageEvent<string>) => void) | null = null;
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  isClosed = false;

  constructor(readonly address: string) {
    FakeStream.all.push(this);
  }

  close(): void {
    this.isClosed = true;
  }

  tell(event: LiveEvent): void {
    this.onmessage?.({ data: JSON.stringify(event) } as MessageEvent<string>);
  }
}

const JOB: Job = {
  id: 'j',
  kind: 'lock-history',
  state: 'running',
  done: 3,
  total: 10,
  trouble: null,
  updatedAt: '2026-11-01T00:00:00Z',
};

let queries: QueryClient;
let asked: string[];

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('EventSource', FakeStream);
  FakeStream.all.length = 0;
  queries = new QueryClient();
  asked = [];
  vi.spyOn(queries, 'invalidateQueries').mockImplementation((filter) => {
    asked.push(String(filter?.queryKey?.[0]));
    return Promise.resolve();
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

function listening() {
  const wrapper = ({ children }: { readonly children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  const hook = renderHook(() => useLive('small'), { wrapper });
  return { ...hook, stream: FakeStream.all[0]! };
}

const later = (ms: number): void => act(() => void vi.advanceTimersByTime(ms));

test('progress is shown as it is told, and nothing is asked again for it; the end asks for what it changed', () => {
  const { stream } = listening();
  queries.setQueryData(
    ['jobs', 'small'],
    [
      { ...JOB, done: 1 },
      { ...JOB, id: 'other' },
    ],
  );
  for (let done = 2; done < 9; done++) stream.tell({ topic: 'jobs', job: { ...JOB, done } });
  later(5_000);
  expect(asked).toEqual([]);
  expect(queries.getQueryData<Job[]>(['jobs', 'small'])).toMatchObject([
    { id: 'j', done: 8 },
    { id: 'other' },
  ]);
  stream.tell({ topic: 'jobs', job: { ...JOB, state: 'done' } });
  later(500);
  expect(asked.sort()).toEqual(['lock', 'machines', 'overview']);
});

test('however much happens, what it touches is asked again at most twice a second', () => {
  const { stream } = listening();
  for (let i = 0; i < 40; i++) {
    stream.tell({ topic: 'drafts' });
    later(50);
  }
  later(500);
  expect(asked.filter((key) => key === 'drafts').length).toBeLessThanOrEqual(5);
  expect(new Set(asked)).toEqual(new Set(['drafts', 'draft', 'review']));
});

test('after a gap everything is asked again; a page that is left listens no more', () => {
  const { stream, unmount } = listening();
  stream.onopen?.();
  later(500);
  expect(asked).toEqual(['jobs']);
  stream.onerror?.();
  stream.onopen?.();
  later(500);
  expect(asked).toContain('workspace');
  expect(asked).toContain('journal');
  unmount();
  expect(stream.isClosed).toBe(true);
});
