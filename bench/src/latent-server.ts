import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { setTimeout } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';

/** Serves archives by their number after a while, in a thread of its own: whoever fetches has a core to itself. */
export interface LatentServer {
  readonly archives: readonly Uint8Array[];
  readonly latencyMs: number;
}

const { archives, latencyMs } = workerData as LatentServer;
const server = createServer((request, response) => {
  void setTimeout(latencyMs).then(() => response.end(archives[Number(request.url!.slice(1))]));
});
server.listen(0, '127.0.0.1', () => {
  parentPort!.postMessage((server.address() as AddressInfo).port);
});
