import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';

/** Events that come close together are answered at once. */
const GATHER_MS = 400;

/** What is asked again when something of a topic happens; a topic that is not here concerns the whole workspace. */
const KEYS: Readonly<Record<string, readonly string[]>> = {
  drafts: ['drafts', 'draft', 'review'],
  jobs: ['jobs', 'overview', 'lock', 'drift-line', 'machines'],
  reports: ['machines', 'workspace'],
  tokens: ['tokens', 'audit'],
  settings: ['workspace', 'review'],
};
const ALL = ['workspace', 'drafts', 'draft', 'review', 'journal', 'lock', 'machines', 'branches'];

/** Keeps what the page shows up to date with what others do. */
export function useLive(slug: string): void {
  const queries = useQueryClient();
  useEffect(() => {
    const stream = new EventSource(`/api/workspaces/${encodeURIComponent(slug)}/events`);
    const waiting = new Set<string>();
    let timer: ReturnType<typeof setTimeout> | null = null;
    let wasLost = false;
    const flush = (): void => {
      timer = null;
      for (const key of waiting) void queries.invalidateQueries({ queryKey: [key, slug] });
      waiting.clear();
    };
    const take = (keys: readonly string[]): void => {
      for (const key of keys) waiting.add(key);
      if (waiting.size > 0) timer ??= setTimeout(flush, GATHER_MS);
    };
    stream.onmessage = ({ data }: MessageEvent<string>) => {
      const { topic } = JSON.parse(data) as { topic: string };
      take(KEYS[topic] ?? ALL);
    };
    stream.onerror = () => {
      wasLost = true;
    };
    // What happened before the stream was there, or while it was down, is not told afterwards.
    stream.onopen = () => {
      take(wasLost ? ALL : KEYS['jobs']!);
      wasLost = false;
    };
    return () => {
      stream.close();
      if (timer !== null) clearTimeout(timer);
    };
  }, [slug, queries]);
}
