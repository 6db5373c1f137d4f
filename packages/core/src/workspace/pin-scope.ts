import type { Workspace } from './workspace.js';

/** What a pin holds for: everything, but for what the projects that it leaves out require themselves. */
export class PinScope {
  private readonly pins = new Map<
    string,
    { readonly version: string; readonly leftOut: ReadonlySet<string> }
  >();

  /** O(pins + projects that they name). */
  constructor({ shared, projects }: Pick<Workspace, 'shared' | 'projects'>) {
    for (const [name, { text, except }] of shared.pins) {
      const named = new Set(except.map((one) => one.text));
      const folders = projects.flatMap((one) =>
        named.has(one.name) || named.has(one.folder) ? [one.folder] : [],
      );
      this.pins.set(name, { version: text, leftOut: new Set(folders) });
    }
  }

  /**
   * The version to which a package is pinned; null: it is not pinned there.
   * @param folder of the project that requires it itself; null: something else asks
   */
  versionFor(name: string, folder: string | null): string | null {
    const pin = this.pins.get(name);
    return pin === undefined || (folder !== null && pin.leftOut.has(folder)) ? null : pin.version;
  }

  /** Does the pin leave no project out? Then no other release of the package can be used at all. */
  isWhole(name: string): boolean {
    return (this.pins.get(name)?.leftOut.size ?? 0) === 0;
  }

  /** The same for pins that hold for the same. */
  get key(): string {
    const lines = [...this.pins].map(([name, { version, leftOut }]) => [
      name,
      version,
      ...[...leftOut].sort(),
    ]);
    return JSON.stringify(lines.sort((a, b) => (a[0]! < b[0]! ? -1 : 1)));
  }
}
