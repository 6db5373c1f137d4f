import { createHash } from 'node:crypto';
import { readdir, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Repository } from 'typeorm';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { JobsService } from '../jobs/jobs.service.js';
import { TestServer } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import type { ArchiveLineDto, ArchivesDto } from './archives.dto.js';
import { until } from '../test/until.js';

const FILES = {
  'ledger.toml': 'format = 1\nname = "kept"\nprojects = ["apps/*"]\nregistry = "main"\n',
  'apps/web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "1.0.0"\nmast = "^1.0.0"\n',
};
const PACKAGES = {
  log: { '1.0.0': { json: '^1.0.0' } },
  json: { '1.0.0': {} },
  mast: { '1.0.0': {} },
};

const bytesOf = (name: string, version: string): string =>
  `what ${name} ${version} is made of `.repeat(100);
const hashOf = (name: string, version: string) =>
  createHash('sha512').update(bytesOf(name, version));
const integrityOf = (name: string, version: string): string =>
  `sha512-${hashOf(name, version).digest('base64')}`;
const digestOf = (name: string, version = '1.0.0'): string =>
  `sha512-${hashOf(name, version).digest('hex')}`;

let world: TestWorkspace;

/** A registry whose archives are what their integrities say. */
function serve(packages: Parameters<TestWorkspace['registry']['serve']>[0]): void {
  world.registry.serve(packages, integrityOf);
  for (const [name, releases] of Object.entries(packages))
    for (const version of Object.keys(releases))
      world.registry.lies.set(`/archives/${name}/${version}`, bytesOf(name, version));
}

async function opened(settings: Parameters<typeof TestServer.start>[0] = {}): Promise<void> {
  const server = await TestServer.start(settings);
  world = await TestWorkspace.open(FILES, PACKAGES, server, integrityOf);
  serve(PACKAGES);
}

/** The page, once a round is over. */
function page(query = ''): Promise<ArchivesDto> {
  return until(async () => {
    const found = await world.get<ArchivesDto>(`/archives${query}`);
    expect(found.isUpToDate).toBe(true);
    return found;
  });
}

/** Goes through everything again. */
async function checked(): Promise<ArchivesDto> {
  const { lookedAt } = await page();
  await world.server.http.post(world.at('/archives/check')).expect(204);
  return until(async () => {
    const found = await page();
    expect(found.lookedAt).not.toBe(lookedAt);
    return found;
  });
}

function line({ lines }: ArchivesDto, name: string): ArchiveLineDto {
  return lines.find((one) => one.name === name)!;
}

async function secretFor(scope: string): Promise<string> {
  const { body } = await world.server.http
    .post(world.at('/tokens'))
    .send({ name: scope, scopes: [scope], lastDay: '2099-01-01' })
    .expect(201);
  return (body as { secret: string }).secret;
}

describe('the mirror', () => {
  beforeEach(async () => {
    await opened();
    await world.post([{ kind: 'bring-up' }], 'Lock');
  });
  afterEach(async () => {
    await world.stop();
    await world.server.stop();
  });

  test('keeps what the lockfiles of all branches name, and sends it to whoever may have it', async () => {
    expect(await page()).toMatchObject({
      ...{ named: 3, missing: 0, gone: 0, unused: 0, archives: 3, branches: 1, unsound: 0 },
      lines: [
        { name: 'json', version: '1.0.0', branches: ['main'], elsewhere: 0, trouble: null },
        { name: 'log' },
        { name: 'mast' },
      ],
    });
    const lock = (await world.repository.file('ledger.lock')).replaceAll('mast', 'oast');
    const other = { ...PACKAGES, oast: { '1.0.0': {} } };
    serve(other);
    await world.repository.branch('storm', {
      'ledger.lock': lock.replace(integrityOf('mast', '1.0.0'), integrityOf('oast', '1.0.0')),
    });
    await world.server.http.post(world.at('/refresh')).expect(200);
    const both = await page();
    expect(both).toMatchObject({ named: 4, missing: 0, branches: 2 });
    expect(line(both, 'oast').branches).toEqual(['storm']);
    expect(line(both, 'log').branches).toEqual(['main', 'storm']);
    expect((await page('?search=OAS')).lines.map(({ name }) => name)).toEqual(['oast']);

    const ask = (digest: string, secret: string) =>
      world.server.stranger
        .get(world.at(`/archives/${digest}`))
        .set('authorization', `Bearer ${secret}`);
    const fetching = await secretFor('fetch');
    const sent = await ask(digestOf('log'), fetching).buffer(true).expect(200);
    expect(sent.headers['content-type']).toBe('application/gzip');
    expect((sent.body as Buffer).toString()).toBe(bytesOf('log', '1.0.0'));
    const rest = await ask(digestOf('log'), fetching).set('range', 'bytes=10-').expect(206);
    expect((rest.body as Buffer).toString()).toBe(bytesOf('log', '1.0.0').slice(10));
    expect(line(await page(), 'log').sentAt).not.toBeNull();
    await ask(digestOf('log'), await secretFor('read')).expect(403);
    for (const digest of [digestOf('log', '9.9.9'), '..%2fsecret.key', 'sha512-'])
      await ask(digest, fetching).expect(404);
  });

  test('sends nothing that is not as it should be, and fetches it anew', async () => {
    await page();
    const { archivesFolder } = world.server.settings;
    const file = join(archivesFolder, `${digestOf('log')}.tar.gz`);
    await writeFile(file, 'something else');
    await world.get(`/archives/${digestOf('log')}`, 404);
    expect(await page()).toMatchObject({ missing: 1 });
    await writeFile(join(archivesFolder, `${digestOf('json')}.tar.gz`), '');
    expect(await checked()).toMatchObject({ missing: 0, unsound: 1 });
    // A process that ended has left two files: one has been there for long.
    for (const name of ['.1b2c', `${digestOf('oast')}.tar.gz`]) {
      await writeFile(join(archivesFolder, name), 'half');
      await utimes(join(archivesFolder, name), new Date(0), new Date(0));
    }
    await writeFile(join(archivesFolder, '.3d4e'), 'half');
    await checked();
    expect((await readdir(archivesFolder)).sort()).toEqual(
      ['.3d4e', ...['json', 'log', 'mast'].map((name) => `${digestOf(name)}.tar.gz`)].sort(),
    );
    await world.server.http.get(world.at(`/archives/${digestOf('log')}`)).expect(200);
  });

  test('is up to date once no round is under way; a round that comes too late does nothing', async () => {
    const { lookedAt } = await page();
    const jobs = world.server.nest.get(JobsService);
    const [entity] = await world.server.nest.get(WorkspaceService).list();
    await jobs.finish(entity!, 'archives', 'lockfiles of a while ago');
    expect(await page()).toMatchObject({ lookedAt });

    await writeFile(join(world.server.settings.archivesFolder, `${digestOf('log')}.tar.gz`), '');
    let goOn = (): void => {};
    const fetching = new Promise<void>((begun) => {
      world.registry.before = async (path) => {
        if (path !== '/archives/log/1.0.0') return;
        await new Promise<void>((resolve) => {
          goOn = resolve;
          begun();
        });
      };
    });
    await world.server.http.post(world.at('/archives/check')).expect(204);
    await fetching;
    expect(await world.get('/archives')).toMatchObject({ isUpToDate: false, lookedAt });
    goOn();
    expect((await page()).lookedAt).not.toBe(lookedAt);
  });

  test('keeps what its registry has no more, and says so', async () => {
    await page();
    const { log: _, ...left } = PACKAGES;
    serve({ ...left, mast: { '1.0.1': {} } });
    world.registry.lies.delete('/archives/log/1.0.0');
    await world.server.query('UPDATE "package_document" SET "is_outdated" = true');
    const found = await checked();
    expect(found).toMatchObject({ named: 3, missing: 0, gone: 2 });
    expect((await page('?show=gone')).lines.map(({ name }) => name)).toEqual(['log', 'mast']);
    await world.server.http.get(world.at(`/archives/${digestOf('log')}`)).expect(200);
  });

  test('throws away what no lockfile names when a keeper says so', async () => {
    await page();
    await world.post(
      [{ kind: 'remove-requirement', projects: ['apps/web'], package: 'mast' }],
      'No mast',
    );
    const found = await page();
    expect(found).toMatchObject({ named: 2, unused: 1, archives: 3 });
    expect(found.unusedBytes).toBe(bytesOf('mast', '1.0.0').length);
    const machine = await world.server.stranger
      .get(world.at('/archives'))
      .set('authorization', `Bearer ${await secretFor('read')}`)
      .expect(200);
    expect((machine.body as ArchivesDto).lines.map(({ name }) => name)).toEqual(['json', 'log']);
    const clear = async (unusedForDays: number): Promise<unknown> =>
      (
        await world.server.http
          .post(world.at('/archives/clear'))
          .send({ unusedForDays })
          .expect(200)
      ).body;
    expect(await clear(30)).toEqual({ archives: 0, bytes: 0 });
    expect(await clear(0)).toEqual({ archives: 1, bytes: found.unusedBytes });
    expect(await page()).toMatchObject({ unused: 0, archives: 2 });
    expect(await readdir(world.server.settings.archivesFolder)).toHaveLength(2);
  });
});

describe('what cannot be kept is told, and the rest is kept:', () => {
  afterEach(async () => {
    await world.stop();
    await world.server.stop();
  });

  test('an archive that is not what the lockfile has', async () => {
    await opened();
    world.registry.lies.set('/archives/log/1.0.0', 'something else');
    await world.post([{ kind: 'bring-up' }], 'Lock');
    const found = await page('?show=missing');
    expect(found).toMatchObject({ named: 3, missing: 1, archives: 2 });
    expect(line(found, 'log').trouble).toMatch(/not what the lockfile has/);
    serve(PACKAGES);
    expect(await checked()).toMatchObject({ missing: 0 });
  });

  test('an address that a commit made up, and that the registry does not name', async () => {
    await opened();
    await world.post([{ kind: 'bring-up' }], 'Lock');
    await page();
    const lock = await world.repository.file('ledger.lock');
    await world.repository.commit(
      {
        'ledger.lock': lock
          .replace('/archives/log/1.0.0', 'http://127.0.0.1:9/inside')
          .replace(integrityOf('log', '1.0.0'), integrityOf('log', '6.6.6')),
      },
      'Elsewhere',
    );
    await world.server.http.post(world.at('/refresh')).expect(200);
    const found = await page('?show=missing');
    expect(found).toMatchObject({ missing: 1 });
    expect(found.lines[0]!.trouble).toMatch(/not where its registry main is/);
  });

  test('more than there is room for: what is unused goes first', async () => {
    const bytes = bytesOf('json', '1.0.0').length * 2 + 50;
    await opened({ archivesBytes: bytes });
    await world.post([{ kind: 'bring-up' }], 'Lock');
    const found = await page('?show=missing');
    expect(found).toMatchObject({ named: 3, missing: 1, archives: 2, mostBytes: bytes });
    expect(found.lines[0]!.trouble).toMatch(/no room/);
    await world.post(
      [{ kind: 'remove-requirement', projects: ['apps/web'], package: 'log' }],
      'No log',
    );
    expect(await page()).toMatchObject({ named: 1, missing: 0 });
  });

  test('more than there is room for, where one is noted while another counts what is kept', async () => {
    const { sum, upsert } = Repository.prototype;
    const [counts, notes] = [new Set<Promise<unknown>>(), new Set<Promise<unknown>>()];
    const counted = vi.spyOn(Repository.prototype, 'sum').mockImplementation(async function (
      this: Repository<object>,
      ...given
    ) {
      const count = sum.apply(this, given);
      counts.add(count);
      const kept = await count;
      await Promise.all(notes);
      return kept;
    });
    const noted = vi.spyOn(Repository.prototype, 'upsert').mockImplementation(function (
      this: Repository<object>,
      ...given
    ) {
      const note = Promise.all(counts).then(() => upsert.apply(this, given));
      notes.add(note);
      return note;
    });
    try {
      const bytes = bytesOf('json', '1.0.0').length * 2 + 50;
      await opened({ archivesBytes: bytes });
      await world.post([{ kind: 'bring-up' }], 'Lock');
      expect(await page()).toMatchObject({ named: 3, missing: 1, archives: 2 });
    } finally {
      counted.mockRestore();
      noted.mockRestore();
    }
  });

  test('nothing at all, where it is off', async () => {
    await opened({ archivesBytes: 0 });
    await world.post([{ kind: 'bring-up' }], 'Lock');
    expect(await page()).toMatchObject({ isOn: false, archives: 0 });
    const { body } = await world.server.http.post(world.at('/archives/check')).expect(409);
    expect(body).toMatchObject({ code: 'MIRROR_OFF' });
  });
});
