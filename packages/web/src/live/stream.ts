import type { Job } from '../api/client';

/** What happened in a workspace; a stream that was lost for a while tells `missed` when it is there again. */
export interface LiveEvent {
  readonly topic: string;
  readonly job?: Job;
}

/**
 * Hears what happens in a workspace. All tabs of a browser share one stream: the first opens it and passes on what it
 * hears; when that tab is closed, another takes its place. A browser lets a server have six connections, and each stream
 * is one.
 * @returns ends the listening
 */
export function listen(slug: string, take: (event: LiveEvent) => void): () => void {
  const name = `deep-ledger events ${slug}`;
  // Where a page is not served securely, a browser shares nothing between its tabs.
  if (!('locks' in navigator)) return open(slug, take);
  const over = new AbortController();
  const channel = new BroadcastChannel(name);
  channel.onmessage = ({ data }: MessageEvent<LiveEvent>) => take(data);
  const lead = (): Promise<void> =>
    new Promise((resolve) => {
      // A new stream begins with `jobs`; whoever had another before learns from `missed` that there was a gap.
      const close = open(slug, (event) => {
        take(event);
        channel.postMessage(event);
      });
      channel.postMessage({ topic: 'missed' });
      over.signal.addEventListener('abort', () => {
        close();
        resolve();
      });
    });
  navigator.locks.request(name, { signal: over.signal }, lead).catch((error: unknown) => {
    if (!over.signal.aborted) throw error;
  });
  return () => {
    over.abort();
    channel.close();
  };
}

function open(slug: string, take: (event: LiveEvent) => void): () => void {
  const stream = new EventSource(`/api/workspaces/${encodeURIComponent(slug)}/events`);
  let wasLost = false;
  stream.onmessage = ({ data }: MessageEvent<string>) => take(JSON.parse(data) as LiveEvent);
  stream.onerror = () => {
    wasLost = true;
  };
  // The stream does not repeat what happened before it was there, or while it was down.
  stream.onopen = () => {
    take({ topic: wasLost ? 'missed' : 'jobs' });
    wasLost = false;
  };
  return () => stream.close();
}
