import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';

/** A host that takes every call and says nothing. */
export class SilentHost {
  private readonly calls = new Set<Socket>();
  /** How many have called so far. */
  called = 0;

  private constructor(private readonly server: Server) {}

  static async listening(): Promise<SilentHost> {
    const server = createServer();
    const host = new SilentHost(server);
    server.on('connection', (socket) => {
      host.called += 1;
      host.calls.add(socket);
      socket.on('error', () => undefined);
      socket.on('close', () => host.calls.delete(socket));
      // Without reading, it would not be heard that the other end has gone.
      socket.resume();
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    return host;
  }

  /** How many wait for an answer at this moment. */
  get open(): number {
    return this.calls.size;
  }

  /** As `127.0.0.1:PORT`. */
  get place(): string {
    return `127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  async stop(): Promise<void> {
    for (const socket of this.calls) socket.destroy();
    await new Promise((resolve) => this.server.close(resolve));
  }
}
