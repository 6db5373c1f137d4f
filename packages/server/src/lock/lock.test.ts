import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { lockSum } from '@deep-ledger/core';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { TODAY } from '../test/test-server.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import type { SignedIn } from '../test/test-server.js';
import { until } from '../test/until.js';

let world: TestWorkspace;

interface LockBody {
  readonly state: string;
  readonly sum: string;
  readonly reasons: readonly { readonly message: string }[];
  readonly copies: readonly {
    readonly name: string;
    readonly version: string;
    readonly demands: number;
    readonly since: number | null;
    readonly isOneOfSeveral: boolean;
  }[];
  readonly targets: readonly { readonly target: string; readonly copies: number }[];
  readonly commits: readonly { readonly subject: string; readonly entered: number }[];
  readonly job: { readonly id: string; readonly state: string } | null;
}

/** Asks again until it is as it should be. */
async function asked<T>(ask: () => Promise<T>, is: (found: T) => boolean): Promise<T> {
  return until(async () => {
    const found = await ask();
    if (!is(found)) throw new Error(`it did not come: ${JSON.stringify(found)}`);
    return found;
  });
}

const lock = (): Promise<LockBody> => world.get<LockBody>('/lock');

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
});
afterAll(() => world.stop());

test('a stale lockfile says why, and repairing it is a draft that can be posted', async () => {
  const before = await lock();
  expect(before).toMatchObject({
    state: 'stale',
    reasons: [{ message: expect.stringContaining('There is no ledger.lock yet') as string }],
  });
  const { body } = await world.server.http.post(world.at('/lock/repair')).send({}).expect(201);
  const { id } = body as { id: string };
  const draft = await world.get<SeenDraft & { edits: object[] }>(`/drafts/${id}`);
  expect(draft.edits).toMatchObject([{ edit: { kind: 'bring-up' } }]);
  await world.server.http
    .post(world.at(`/drafts/${id}/post`))
    .send({ ...seen(draft), message: 'Lock' })
    .expect(201);
  expect(await lock()).toMatchObject({ state: 'consistent' });
  const again = await world.server.http.post(world.at('/lock/repair')).send({}).expect(409);
  expect(again.body).toMatchObject({ code: 'NOTHING_TO_REPAIR' });
});

test('each copy says since when it is there and through which commit', async () => {
  const first = await asked(lock, ({ job, commits }) => job === null && commits.length === 1);
  expect(first.commits).toMatchObject([{ subject: 'Lock', entered: 3 }]);
  expect(first.copies.map(({ name, version, since }) => `${name} ${version} ${since}`)).toEqual([
    'json 1.1.0 0',
    'log 1.1.0 0',
    'log 2.1.0 0',
  ]);
  expect(first.copies.map(({ isOneOfSeveral }) => isOneOfSeveral)).toEqual([false, true, true]);
  await world.post(
    [{ kind: 'set-range', package: 'log', range: '^1.0.0', projects: ['apps/web'] }],
    'Web goes back',
  );
  const second = await asked(lock, ({ commits }) => commits.length === 2);
  expect(second.copies.map(({ name, since }) => `${name} ${since}`)).toEqual(['json 0', 'log 0']);
  expect(second.commits[1]).toMatchObject({ subject: 'Web goes back', entered: 0, left: 1 });
});

test('any two days are compared by what the branch held then', async () => {
  const today = new Date().toISOString().slice(0, 10);
  const same = await world.get<{ from: object; to: object }>(`/comparison?from=${today}&to=main`);
  expect(same.from).toEqual(same.to);
  await world.get('/comparison?from=2001-01-01&to=main', 404);
});

test('a branch is listed by itself', async () => {
  await world.repository.branch('quiet', { 'README.md': 'quiet\n' });
  await world.server.http.post(world.at('/refresh')).expect(200);
  const { lines } = await world.get<{ lines: object[] }>('/machines');
  expect(lines).toMatchObject([
    { kind: 'branch', name: 'quiet', lock: { state: 'here' }, installed: null, isFaded: false },
  ]);
  await world.repository.git('branch', '-D', 'quiet');
  await world.server.http.post(world.at('/refresh')).expect(200);
});

test('work that nobody does any more is taken up again; what is stopped stays so until it is asked for', async () => {
  const job = () => world.get<{ id: string; kind: string; state: string }[]>('/jobs');
  await asked(job, (all) => all.every(({ state }) => state === 'done'));
  const [last] = (await job()).filter(({ kind }) => kind === 'lock-history');
  /** The history is unknown, to the database and to a server that has just begun, and somebody works on it. */
  const unknown = async (lease: string): Promise<void> => {
    await world.server.halt();
    await world.server.boot();
    await world.server.query(`DELETE FROM "lock_commit"`);
    await world.server.query(
      `UPDATE "job" SET "state" = 'running', "claimed_by" = '${randomUUID()}',
         "lease_until" = now() + interval '${lease}' WHERE "id" = '${last!.id}'`,
    );
  };
  await unknown('-1 second');
  await asked(lock, ({ job: now, commits }) => now === null && commits.length === 2);
  await unknown('5 minutes');
  await world.server.http.delete(world.at(`/jobs/${last!.id}`)).expect(204);
  expect(await lock()).toMatchObject({ commits: [], job: { state: 'stopped' } });
  await world.server.http.post(world.at(`/jobs/${last!.id}/again`)).expect(204);
  await asked(lock, ({ job: now, commits }) => now === null && commits.length === 2);
  await world.server.http.delete(world.at(`/jobs/${last!.id}`)).expect(404);
});

test('a copy tells who demands it, and its sum', async () => {
  const detail = await world.get('/lock/copies/json/1.1.0');
  expect(detail).toMatchObject({
    integrity: expect.stringMatching(/^sha512-/) as string,
    demands: [
      { owner: 'apps/kit', isProject: true, range: '^1.0.0' },
      { owner: 'apps/web', isProject: true, range: '^1.0.0' },
    ],
  });
  await world.get('/lock/copies/json/9.9.9', 404);
});

test('a lockfile with the marks of a merge is repaired from both sides', async () => {
  const text = await world.repository.git('show', 'main:ledger.lock');
  const marked = `<<<<<<< ours\n${text}=======\n${text.replaceAll('json 1.1.0', 'json 1.0.0').replaceAll('by 1.1.0', 'by 1.1.0')}>>>>>>> theirs\n`;
  await world.repository.commit({ 'ledger.lock': marked }, 'A merge that went wrong');
  await world.server.http.post(world.at('/refresh')).expect(200);
  expect(await lock()).toMatchObject({ state: 'broken', copies: [] });
  const { body } = await world.server.http.post(world.at('/lock/repair')).send({}).expect(201);
  const { id } = body as { id: string };
  const draft = await world.get<SeenDraft>(`/drafts/${id}`);
  await world.server.http
    .post(world.at(`/drafts/${id}/post`))
    .send({ ...seen(draft), message: 'Repaired' })
    .expect(201);
  expect(await world.repository.git('show', 'main:ledger.lock')).toBe(text);
});

describe('machines', () => {
  const report = (body: object) => world.server.http.post(world.at('/reports')).send(body);

  test('places each answer in the history, says what it lacks, and keeps one for each name', async () => {
    const head = lockSum(await world.repository.git('show', 'main:ledger.lock'));
    const { commits } = await asked(
      lock,
      ({ job, commits: all }) => job === null && all.length > 2,
    );
    const [first] = commits as unknown as { sum: string }[];
    const behind = async (): Promise<unknown> =>
      (await world.get<{ machinesBehind: number }>('')).machinesBehind;
    await report({ kind: 'build', name: 'nightly', lockSum: head }).expect(204);
    expect(await behind()).toBe(0);
    await report({
      kind: 'build',
      name: 'nightly',
      lockSum: head,
      installedSum: 'ab'.repeat(32),
    }).expect(204);
    expect(await behind()).toBe(1);
    await report({ kind: 'build', name: 'nightly', lockSum: head }).expect(204);
    await report({
      kind: 'machine',
      name: 'desk',
      branch: 'main',
      lockSum: head,
      installedSum: first!.sum,
    }).expect(204);
    await report({ kind: 'machine', name: 'kiosk', lockSum: 'a'.repeat(64) }).expect(204);
    await report({ kind: 'machine', name: 'kiosk', lockSum: 'b'.repeat(64) }).expect(204);
    const { lines } = await world.get<{ lines: object[] }>('/machines');
    expect(lines).toMatchObject([
      { name: 'nightly', lock: { state: 'here' }, installed: null, isFaded: false },
      {
        name: 'desk',
        lock: { state: 'here' },
        installed: { state: 'behind', lacks: [], keeps: ['log 2.1.0'] },
      },
      { name: 'kiosk', lock: { state: 'elsewhere', sum: 'b'.repeat(64) } },
    ]);
    const wrong = await report({ kind: 'machine', name: 'x', lockSum: 'short' }).expect(400);
    expect((wrong.body as { detail: string }).detail).toMatch(/64 hexadecimal digits/);
  });

  test('that report a commit which nobody here knows yet have the repository looked at', async () => {
    const seenHead = async () => (await world.get<{ commit: string }>('/machines')).commit;
    await world.server.http.post(world.at('/refresh')).expect(200);
    const before = await seenHead();
    await world.repository.commit({ 'README.md': 'pushed a moment ago\n' }, 'Past the server');
    const pushed = await world.repository.head();
    expect(await seenHead()).toBe(before);
    const desk = { kind: 'machine', name: 'desk', lockSum: 'c'.repeat(64) };
    await report({ ...desk, commit: before }).expect(204);
    expect(await seenHead()).toBe(before);
    await report({ ...desk, commit: pushed }).expect(204);
    expect(await seenHead()).toBe(pushed);
  });

  test('old answers fade and then go', async () => {
    const age = (days: number) =>
      world.server.query(
        `UPDATE "report" SET "at" = now() - interval '${days} days' WHERE "name" = 'kiosk'`,
      );
    const kiosk = async () => {
      const { lines } = await world.get<{ lines: { name: string; isFaded: boolean }[] }>(
        '/machines',
      );
      return lines.find(({ name }) => name === 'kiosk');
    };
    await age(8);
    expect(await kiosk()).toMatchObject({ isFaded: true });
    await age(31);
    expect(await kiosk()).toBeUndefined();
  });
});

describe('drift', () => {
  test('is what a resolution without the lockfile would change, by whose range', async () => {
    await world.post([{ kind: 'pin', package: 'json', version: '1.0.0' }], 'Pin json');
    await world.post([{ kind: 'unpin', package: 'json' }], 'No pin');
    const drift = await world.get<object>(`/drift?day=${TODAY}`);
    expect(drift).toMatchObject({
      day: TODAY,
      from: null,
      same: 1,
      lines: [
        {
          name: 'json',
          from: '1.0.0',
          to: '1.1.0',
          step: 'minor',
          direction: 'up',
          demands: [
            { owner: 'apps/kit', isProject: true, range: '^1.0.0' },
            { owner: 'apps/web', isProject: true, range: '^1.0.0' },
          ],
        },
      ],
    });
    expect(await world.get(`/drift?day=${TODAY}&from=${TODAY}`)).toMatchObject({ lines: [] });
    expect(await world.get('/drift?day=2001-01-01')).toMatchObject({
      lines: [],
      explanation: expect.arrayContaining([
        'On 2001-01-01 nothing would answer the manifests.',
      ]) as object,
    });
    await world.get('/drift?day=soon', 400);
  });
});

describe('merging branches', () => {
  interface Preview {
    readonly kind: string;
    readonly ours: { readonly commit: string };
    readonly theirs: { readonly commit: string };
    readonly result: string | null;
    readonly conflicts: readonly object[];
    readonly message: string;
  }
  const preview = async (from: string, decisions: object[] = []): Promise<Preview> => {
    const { body } = await world.server.http
      .post(world.at('/merges/preview'))
      .send({ from, decisions })
      .expect(200);
    return body as Preview;
  };
  const KIT = FILES['apps/kit/ledger.project.toml'];

  test('what both sides changed is decided, the rest merges by itself, in one commit with both parents', async () => {
    const { repository, server } = world;
    await repository.branch('trial', {
      'apps/kit/ledger.project.toml': KIT.replace('json = "^1.0.0"', 'json = "~1.0.0"'),
      'README.md': 'small, on trial\n',
    });
    await repository.commit(
      { 'apps/kit/ledger.project.toml': KIT.replace('json = "^1.0.0"', 'json = "^1.1.0"') },
      'Kit wants the newer json',
    );
    await server.http.post(world.at('/refresh')).expect(200);
    const branches = await world.get<object[]>('/merges/branches');
    expect(branches).toMatchObject([{ name: 'trial', isMerged: false }]);
    const first = await preview('trial');
    expect(first).toMatchObject({
      kind: 'conflicts',
      conflicts: [
        {
          file: 'apps/kit/ledger.project.toml',
          path: ['needs', 'json'],
          base: '"^1.0.0"',
          ours: '"^1.1.0"',
          theirs: '"~1.0.0"',
          decided: null,
          package: 'json',
          chains: [['apps/kit', 'json 1.0.0']],
        },
      ],
    });
    const decisions = [
      { file: 'apps/kit/ledger.project.toml', path: ['needs', 'json'], side: 'theirs' },
    ];
    const settled = await preview('trial', decisions);
    expect(settled).toMatchObject({ kind: 'merged', conflicts: [{ decided: 'theirs' }] });
    const post = (more: object = {}) =>
      server.http.post(world.at('/merges/post')).send({
        from: 'trial',
        decisions,
        ours: settled.ours.commit,
        theirs: settled.theirs.commit,
        result: settled.result,
        message: settled.message,
        ...more,
      });
    expect((await post({ ours: 'a'.repeat(40) }).expect(409)).body).toMatchObject({
      code: 'BRANCH_MOVED',
    });
    expect((await post({ decisions: [] }).expect(409)).body).toMatchObject({
      code: 'MERGE_UNDECIDED',
    });
    await server.http.put(world.at('/settings')).send({ needsApproval: true }).expect(200);
    expect((await post().expect(409)).body).toMatchObject({ code: 'APPROVAL_MISSING' });
    const second = await server.signedIn('gate', 'editor');
    const approval = {
      from: 'trial',
      decisions,
      ours: settled.ours.commit,
      theirs: settled.theirs.commit,
      result: settled.result,
    };
    const approve = (who: SignedIn, more: object = {}) =>
      server
        .as(who)
        .put(world.at('/merges/approval'))
        .send({ ...approval, ...more });
    expect((await approve(second, { result: '0'.repeat(64) }).expect(409)).body).toMatchObject({
      code: 'MERGE_DIFFERS',
    });
    await server.http.put(world.at('/merges/approval')).send(approval).expect(204);
    // One’s own word is not a second person’s.
    expect((await post().expect(409)).body).toMatchObject({ code: 'APPROVAL_MISSING' });
    await approve(second).expect(204);
    expect(await preview('trial', decisions)).toMatchObject({
      review: {
        needsApproval: true,
        isApproved: true,
        approvals: [{ name: 'platform crew', isMine: true }, { name: 'gate crew' }],
      },
    });
    // An approval is of one result: another decision needs another.
    const others = [{ ...decisions[0]!, side: 'ours' }];
    const other = await preview('trial', others);
    expect(
      (await post({ decisions: others, result: other.result }).expect(409)).body,
    ).toMatchObject({ code: 'APPROVAL_MISSING' });
    const { body } = await post().expect(201);
    await server.http.put(world.at('/settings')).send({ needsApproval: false }).expect(200);
    expect(await repository.git('log', '-1', '--format=%(trailers:key=Approved-by)', 'main')).toBe(
      'Approved-by: gate crew <gate@brindlepeak.example>\n\n',
    );
    const { commit } = body as { commit: string };
    expect((await repository.git('log', '-1', '--format=%P', commit)).trim()).toBe(
      `${settled.ours.commit} ${settled.theirs.commit}`,
    );
    expect(await repository.git('show', `${commit}:README.md`)).toBe('small, on trial\n');
    expect(await repository.git('show', `${commit}:apps/kit/ledger.project.toml`)).toContain(
      'json = "~1.0.0"',
    );
    expect(await lock()).toMatchObject({ state: 'consistent' });
    expect(await preview('trial')).toMatchObject({ kind: 'nothing' });
    const journal = await world.get<{ entries: object[] }>('/journal');
    expect(journal.entries[0]).toMatchObject({
      commit,
      post: { edits: [{ subject: 'trial', verb: 'merged into' }] },
    });
  });

  test('files that are not ours and are in conflict are named, and nothing is written', async () => {
    const { repository, server } = world;
    await repository.branch('words', { 'README.md': 'their words\n' });
    await repository.commit({ 'README.md': 'our words\n' }, 'Our words');
    await server.http.post(world.at('/refresh')).expect(200);
    const found = await preview('words');
    expect(found).toMatchObject({ kind: 'merged', otherConflicts: ['README.md'] });
    const head = await repository.head();
    const { body } = await server.http
      .post(world.at('/merges/post'))
      .send({
        from: 'words',
        decisions: [],
        ours: found.ours.commit,
        theirs: found.theirs.commit,
        result: found.result,
        message: 'x',
      })
      .expect(409);
    expect(body).toMatchObject({ code: 'MERGE_OTHER_FILES' });
    expect(await repository.head()).toBe(head);
  });

  test('a branch that is not there, and one that has nothing in common', async () => {
    const missing = await world.server.http
      .post(world.at('/merges/preview'))
      .send({ from: 'nowhere', decisions: [] })
      .expect(404);
    expect(missing.body).toMatchObject({ code: 'POINT_UNKNOWN' });
  });
});
