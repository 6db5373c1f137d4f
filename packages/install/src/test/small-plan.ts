import type { InstallPlan, PlannedCopy, PlannedLink } from '@deep-ledger/core';
import type { ArchiveServer } from './archive-server.js';

/** A copy told briefly: what it needs by name, and whether whoever gets it can do without. */
export interface CopySketch {
  readonly version?: string;
  readonly needs?: readonly string[];
  readonly isOptional?: boolean;
  readonly files?: Readonly<Record<string, string>>;
}

export const TERMS = { lockSum: 'sum', target: 'linux-x64', isDev: true, folder: 'packages' };

/** A plan of copies that see each other by name, and of projects; its archives are put on a server. */
export async function planOn(
  server: ArchiveServer,
  copies: Readonly<Record<string, CopySketch>>,
  projects: Readonly<Record<string, readonly string[]>>,
): Promise<InstallPlan> {
  const versionOf = (name: string): string => copies[name]!.version ?? '1.0.0';
  const folderOf = (name: string): string =>
    `${name.replace(/\W/g, '+')}-${versionOf(name)}-${(copies[name]!.needs ?? []).map((one) => versionOf(one)).join('_')}`;
  const linkTo = (name: string): PlannedLink =>
    name in copies
      ? { name, to: { kind: 'copy', folder: folderOf(name) } }
      : { name, to: { kind: 'project', folder: `libs/${name}` } };
  const planned: PlannedCopy[] = [];
  for (const [name, { needs = [], isOptional = false, files = {} }] of Object.entries(copies)) {
    const version = versionOf(name);
    const archive = `/archives/${encodeURIComponent(name)}/${version}`;
    const integrity = await server.put(
      archive,
      Object.entries({ 'index.js': `module.exports = '${name} ${version}';\n`, ...files }).map(
        ([path, text]) => ({ name: path, text }),
      ),
    );
    planned.push({
      folder: folderOf(name),
      ...{ name, version, registry: 'main', archive, integrity, isOptional },
      links: needs.map(linkTo),
    });
  }
  return {
    copies: planned.sort((a, b) => (a.folder < b.folder ? -1 : 1)),
    projects: Object.entries(projects)
      .map(([folder, names]) => ({ folder, links: names.map(linkTo) }))
      .sort((a, b) => (a.folder < b.folder ? -1 : 1)),
  };
}
