import { GitEnded, runGit, type GitAnswer, type GitCall } from './run-git.js';

/** What the server wants: a call of git, or that the one of this number be stopped. */
export type Order =
  | {
      readonly id: number;
      readonly args: readonly string[];
      readonly call: Omit<GitCall, 'signal'>;
    }
  | { readonly id: number; readonly isStop: true };

/** What came of a call. */
export type Report = { readonly id: number } & (
  | { readonly answer: GitAnswer }
  | { readonly ended: Pick<GitEnded, 'isStopped' | 'limitMs'> }
  | { readonly failed: string }
);

const stops = new Map<number, AbortController>();

async function outcome(
  { id, args, call }: Extract<Order, { call: unknown }>,
  signal: AbortSignal,
): Promise<Report> {
  try {
    return { id, answer: await runGit(args, { ...call, signal }) };
  } catch (error) {
    if (error instanceof GitEnded)
      return { id, ended: { isStopped: error.isStopped, limitMs: error.limitMs } };
    return { id, failed: (error as Error).message };
  }
}

process.on('message', (order: Order) => {
  if ('isStop' in order) {
    stops.get(order.id)?.abort();
    return;
  }
  const stop = new AbortController();
  stops.set(order.id, stop);
  void outcome(order, stop.signal).then((report) => {
    stops.delete(order.id);
    // A server that is gone is told nothing; what git has begun is brought to its end.
    if (process.connected) process.send!(report, undefined, undefined, () => undefined);
  });
});

// A signal for all processes of a terminal is the server's to heed: it ends its calls, and then this process.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => undefined);
