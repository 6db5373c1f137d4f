import { mkdir, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { execa } from 'execa';
import type { Prepared } from './rows.js';

/** A generated workspace on disk: a folder of registry documents and a bare repository with its files and sources. */
export async function writeWorld(
  { documents, files }: Pick<Prepared, 'documents' | 'files'>,
  folder: string,
  sources: ReadonlyMap<string, string> = new Map(),
): Promise<{ readonly documents: string; readonly repository: string }> {
  const registry = join(folder, 'registry');
  const work = join(folder, 'work');
  const repository = join(folder, 'world.git');
  await mkdir(registry, { recursive: true });
  for (const [name, text] of documents) await writeFile(join(registry, `${name}.json`), text);
  for (const [path, text] of [...files, ...sources]) {
    await mkdir(dirname(join(work, path)), { recursive: true });
    await writeFile(join(work, path), text);
  }
  // Nothing of the machine's own settings: filters for large files would change what is committed.
  const env = { GIT_CONFIG_GLOBAL: '/dev/null', GIT_CONFIG_NOSYSTEM: '1', GIT_ATTR_NOSYSTEM: '1' };
  const git = (...args: readonly string[]) => execa('git', args, { cwd: work, env });
  await git('init', '--quiet', '--initial-branch=main');
  await git('add', '--all');
  await git(
    '-c',
    'user.name=bench',
    '-c',
    'user.email=bench@brindlepeak.example',
    'commit',
    '--quiet',
    '--message',
    'A generated workspace',
  );
  await git('clone', '--quiet', '--bare', '.', repository);
  return { documents: registry, repository };
}
