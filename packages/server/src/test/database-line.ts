import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net';

/** The way from a server to its database, which can be cut and repaired. */
export class DatabaseLine {
  private readonly ends = new Set<Socket>();
  private server: Server | null = null;
  private port = 0;

  private constructor(private readonly target: URL) {}

  static async to(url: string): Promise<DatabaseLine> {
    const line = new DatabaseLine(new URL(url));
    await line.repair();
    return line;
  }

  /** The database's address through this line. */
  get url(): string {
    const url = new URL(this.target);
    url.hostname = '127.0.0.1';
    url.port = String(this.port);
    return url.toString();
  }

  async repair(): Promise<void> {
    const server = createServer((near) => {
      const far = connect(Number(this.target.port || 5432), this.target.hostname);
      for (const [one, other] of [
        [near, far],
        [far, near],
      ] as const) {
        this.ends.add(one);
        one.on('error', () => undefined);
        one.on('close', () => {
          this.ends.delete(one);
          other.destroy();
        });
        one.pipe(other);
      }
    });
    await new Promise<void>((resolve) => server.listen(this.port, '127.0.0.1', resolve));
    this.port = (server.address() as AddressInfo).port;
    this.server = server;
  }

  async cut(): Promise<void> {
    const { server } = this;
    this.server = null;
    for (const end of this.ends) end.destroy();
    await new Promise((resolve) => server?.close(resolve));
  }
}
