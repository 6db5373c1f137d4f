import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { archiveOf, integrityOf, type EntrySketch } from './archives.js';

/** What a test lets the server do in place of answering. @returns whether it has answered */
export type Fault = (
  request: IncomingMessage,
  response: ServerResponse,
  bytes: Buffer,
  times: number,
) => boolean;

/** Serves archives on loopback, and faults that tests ask for. */
export class ArchiveServer {
  private readonly archives = new Map<string, Buffer>();
  private readonly asked = new Map<string, number>();
  private server: Server | null = null;
  readonly faults = new Map<string, Fault>();
  readonly requests: { readonly path: string; readonly headers: IncomingMessage['headers'] }[] = [];

  static async start(): Promise<ArchiveServer> {
    const served = new ArchiveServer();
    served.server = createServer((request, response) => served.answer(request, response));
    await new Promise<void>((resolve) => served.server!.listen(0, '127.0.0.1', resolve));
    return served;
  }

  get url(): string {
    return `http://127.0.0.1:${(this.server!.address() as AddressInfo).port}`;
  }

  async stop(): Promise<void> {
    this.server!.closeAllConnections();
    await new Promise((resolve) => this.server!.close(resolve));
  }

  /** Puts an archive at a path. @returns its integrity */
  async put(path: string, entries: readonly EntrySketch[]): Promise<string> {
    const bytes = await archiveOf(entries);
    this.archives.set(path, bytes);
    return integrityOf(bytes);
  }

  timesAsked(path: string): number {
    return this.asked.get(path) ?? 0;
  }

  private answer(request: IncomingMessage, response: ServerResponse): void {
    const path = request.url!;
    this.requests.push({ path, headers: request.headers });
    const bytes = this.archives.get(path);
    const times = this.timesAsked(path) + 1;
    this.asked.set(path, times);
    if (bytes === undefined) return void response.writeHead(404).end();
    if (this.faults.get(path)?.(request, response, bytes, times) === true) return;
    const from = Number(/^bytes=(\d+)-$/.exec(request.headers.range ?? '')?.[1] ?? 0);
    if (from === 0) response.writeHead(200, { 'content-length': bytes.length }).end(bytes);
    else
      response
        .writeHead(206, { 'content-range': `bytes ${from}-${bytes.length - 1}/${bytes.length}` })
        .end(bytes.subarray(from));
  }
}
