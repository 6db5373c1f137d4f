import { randomUUID } from 'node:crypto';
import { getDataSourceToken } from '@nestjs/typeorm';
import { pino } from 'pino';
import supertest from 'supertest';
import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { createApp } from '../create-app.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { PASSWORD, TestServer, type SignedIn } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { AccountsService } from './accounts.service.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';

let world: TestWorkspace;
let server: TestServer;
let editor: SignedIn;
let second: SignedIn;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
  server = world.server;
  editor = await server.signedIn('lift', 'editor');
  second = await server.signedIn('gate', 'editor');
});
afterAll(() => world.stop());

interface Invited {
  readonly account: { readonly id: string; readonly isInvited: boolean };
  readonly secret: string;
}

async function invite(name: string, role = 'editor'): Promise<Invited> {
  const { body } = await server.http
    .post('/api/accounts')
    .send({ name, shownName: `${name} crew`, email: `${name}@brindlepeak.example`, role })
    .expect(201);
  return body as Invited;
}

function signIn(name: string, password: string) {
  return server.stranger.post('/api/session').send({ name, password });
}

describe('signing in', () => {
  test('gives a cookie that scripts and other sites do not get, and the value for changes', async () => {
    const { headers, body } = await signIn(' Lift ', PASSWORD).expect(200);
    expect(headers['set-cookie']![0]).toMatch(
      /^deep-ledger-session=[\w-]{43}; Max-Age=1209600; Path=\/api; [^]*HttpOnly; SameSite=Strict$/,
    );
    expect(body).toMatchObject({ account: { name: 'lift', role: 'editor' } });
    expect(JSON.stringify(body)).not.toMatch(/argon2|password/);
  });

  test('behind an https address the cookie is for TLS alone', async () => {
    const app = await createApp(
      { ...server.settings, publicUrl: 'https://ledger.brindlepeak.example' },
      pino({ level: 'silent' }),
    );
    await app.listen(0, '127.0.0.1');
    const { headers } = await supertest(app.getHttpServer())
      .post('/api/session')
      .set('host', 'ledger.brindlepeak.example')
      .send({ name: 'lift', password: PASSWORD })
      .expect(200);
    expect(headers['set-cookie']![0]).toContain('; Secure');
    await app.close();
  });

  test('a wrong password and an unknown name get the same answer', async () => {
    const wrong = await signIn('lift', 'not this one').expect(401);
    const unknown = await signIn('nobody', PASSWORD).expect(401);
    expect(wrong.body).toEqual(unknown.body);
  });

  test('after five failures a name is refused for a while, on every server; others are not', async () => {
    await invite('marmot');
    for (let i = 0; i < 5; i++) await signIn('marmot', `wrong ${i}`).expect(401);
    const { body } = await signIn('marmot', PASSWORD).expect(429);
    expect(body).toMatchObject({
      code: 'TOO_MANY_ATTEMPTS',
      detail: expect.stringMatching(/Try again in \d+ minutes\./) as string,
    });
    const app = await createApp(server.settings, pino({ level: 'silent' }));
    await app.listen(0, '127.0.0.1');
    await supertest(app.getHttpServer())
      .post('/api/session')
      .send({ name: 'marmot', password: PASSWORD })
      .expect(429);
    await app.close();
    await signIn('lift', PASSWORD).expect(200);
  });

  test('signing out ends the session at once', async () => {
    const mine = await server.signedIn('roster', 'reader');
    await server.as(mine).get('/api/accounts').expect(200);
    await server.as(mine).delete('/api/session').expect(204);
    await server.as(mine).get('/api/accounts').expect(401);
    const { body } = await server.as(mine).get('/api/session').expect(200);
    expect(body).toMatchObject({ account: null, csrf: null, isEmpty: false });
  });

  test('another session’s value for changes does not count', async () => {
    const mixed = { cookie: editor.cookie, csrf: second.csrf };
    const { body } = await server.as(mixed).post(world.at('/drafts')).send({}).expect(403);
    expect(body).toMatchObject({ code: 'CSRF_MISSING' });
  });
});

describe('a one-time link', () => {
  test('lets somebody choose a password, once', async () => {
    const { secret, account } = await invite('snow');
    expect(account.isInvited).toBe(true);
    const looked = await server.stranger.post('/api/one-time-link').send({ secret }).expect(200);
    expect(looked.body).toEqual({ name: 'snow' });
    const short = await server.stranger
      .post('/api/one-time-link/password')
      .send({ secret, password: 'short' })
      .expect(400);
    expect((short.body as { detail: string }).detail).toMatch(/at least 10 characters/);
    await server.stranger
      .post('/api/one-time-link/password')
      .send({ secret, password: PASSWORD })
      .expect(200);
    await signIn('snow', PASSWORD).expect(200);
    const again = await server.stranger
      .post('/api/one-time-link/password')
      .send({ secret, password: 'another password' })
      .expect(403);
    expect(again.body).toMatchObject({ code: 'LINK_UNKNOWN' });
  });

  test('a newer one takes the place of an older; choosing ends the sessions there were', async () => {
    const mine = await server.signedIn('telemetry', 'reader');
    const { body } = await server.as(mine).get('/api/session');
    const { id } = (body as { account: { id: string } }).account;
    const links: string[] = [];
    for (let i = 0; i < 2; i++) {
      const made = await server.http.post(`/api/accounts/${id}/link`).send({}).expect(201);
      links.push((made.body as Invited).secret);
    }
    const use = (secret: string) =>
      server.stranger
        .post('/api/one-time-link/password')
        .send({ secret, password: 'a new password' });
    await use(links[0]!).expect(403);
    await use(links[1]!).expect(200);
    await server.as(mine).get('/api/accounts').expect(401);
  });

  test('the first keeper is made by one, told while nobody can sign in', async () => {
    const empty = await TestServer.start({ isEmpty: true });
    const { body } = await empty.stranger.get('/api/session').expect(200);
    expect(body).toMatchObject({ account: null, isEmpty: true });
    const secret = await empty.nest.get(AccountsService, { strict: false }).link(null);
    const looked = await empty.stranger.post('/api/one-time-link').send({ secret }).expect(200);
    expect(looked.body).toEqual({ name: null });
    const nameless = await empty.stranger
      .post('/api/one-time-link/password')
      .send({ secret, password: PASSWORD })
      .expect(422);
    expect(nameless.body).toMatchObject({ code: 'FIRST_KEEPER_UNNAMED' });
    const person = { name: 'roost', shownName: 'Roost crew', email: 'roost@brindlepeak.example' };
    const made = await empty.stranger
      .post('/api/one-time-link/password')
      .send({ secret, password: PASSWORD, ...person })
      .expect(200);
    expect(made.body).toMatchObject({ account: { name: 'roost', role: 'keeper' } });
    await empty.stranger
      .post('/api/one-time-link/password')
      .send({ secret, password: PASSWORD, ...person, name: 'other' })
      .expect(403);
    await empty.stop();
  });
});

describe('accounts', () => {
  test('a password is changed by who knows it; other sessions end', async () => {
    const one = await server.signedIn('avalanche', 'reader');
    const { headers } = await signIn('avalanche', PASSWORD).expect(200);
    const elsewhere = { cookie: headers['set-cookie']![0]!.split(';')[0]!, csrf: '' };
    const change = (now: string) =>
      server.as(one).put('/api/session/password').send({ now, password: 'under the third lift' });
    await change('a guess').expect(422);
    await change(PASSWORD).expect(204);
    await server.as(one).get('/api/accounts').expect(200);
    await server.as(elsewhere).get('/api/accounts').expect(401);
    await signIn('avalanche', 'under the third lift').expect(200);
  });

  test('the last keeper can neither step down nor be disabled', async () => {
    const { body } = await server.http.get('/api/accounts').expect(200);
    const keepers = (body as { id: string; role: string; isActive: boolean }[]).filter(
      ({ role, isActive }) => role === 'keeper' && isActive,
    );
    expect(keepers).toHaveLength(1);
    for (const change of [{ role: 'editor' }, { isActive: false }]) {
      const refused = await server.http.patch(`/api/accounts/${keepers[0]!.id}`).send(change);
      expect(refused.status).toBe(409);
      expect(refused.body).toMatchObject({ code: 'LAST_KEEPER' });
    }
  });

  test('a taken name, a role that is none and a name to sign in with are refused in words', async () => {
    const send = (more: object) =>
      server.http.post('/api/accounts').send({
        name: 'pine',
        shownName: 'Pine',
        email: 'pine@brindlepeak.example',
        role: 'reader',
        ...more,
      });
    expect((await send({ name: 'lift' }).expect(409)).body).toMatchObject({ code: 'NAME_TAKEN' });
    await send({ role: 'owner' }).expect(400);
    await send({ name: 'two words' }).expect(400);
    await send({ email: 'nowhere' }).expect(400);
  });
});

describe('approval by a second person', () => {
  const RANGE = { kind: 'set-range', package: 'log', range: '^2.1.0', projects: ['apps/web'] };

  async function drafted(): Promise<SeenDraft & { id: string }> {
    const as = server.as(editor);
    const created = await as.post(world.at('/drafts')).send({}).expect(201);
    const { id } = created.body as { id: string };
    const { body } = await as.post(world.at(`/drafts/${id}/edits`)).send({ edits: [RANGE] });
    return body as SeenDraft & { id: string };
  }

  test('is asked for before a post, of the draft as it stands, and not of those who had a part', async () => {
    await server.http
      .put(world.at('/settings'))
      .send({ needsApproval: true })
      .expect(200)
      .expect(({ body }) => expect(body).toMatchObject({ needsApproval: true }));
    const first = await drafted();
    const { id, revision } = first;
    const post = (draft: SeenDraft) =>
      server.http
        .post(world.at(`/drafts/${id}/post`))
        .send({ ...seen(draft), message: 'Level log' });
    expect((await post(first).expect(409)).body).toMatchObject({ code: 'APPROVAL_MISSING' });
    const approve = (who: SignedIn, at: number) =>
      server
        .as(who)
        .put(world.at(`/drafts/${id}/approval`))
        .send({ ...seen(first), revision: at });
    expect((await approve(editor, revision).expect(409)).body).toMatchObject({ code: 'OWN_DRAFT' });
    expect((await approve(second, revision - 1).expect(409)).body).toMatchObject({
      code: 'DRAFT_CHANGED',
    });
    await approve(second, revision).expect(200);
    // A change after the approval asks for another.
    await server
      .as(editor)
      .post(world.at(`/drafts/${id}/undo`))
      .send({})
      .expect(200);
    const again = await server
      .as(editor)
      .post(world.at(`/drafts/${id}/redo`))
      .send({})
      .expect(200);
    const later = again.body as SeenDraft;
    expect((await post(later).expect(409)).body).toMatchObject({
      detail: expect.stringContaining('Since it was approved') as string,
    });
    const review = await approve(second, later.revision).expect(200);
    expect(review.body).toMatchObject({
      needsApproval: true,
      isApproved: true,
      approvals: [{ name: 'gate crew', isCurrent: true, isMine: true }],
    });
    await post(later).expect(201);
    expect(
      await world.repository.git(
        'log',
        '-1',
        '--format=%an|%cn|%(trailers:key=Approved-by)',
        'main',
      ),
    ).toBe('lift crew|platform crew|Approved-by: gate crew <gate@brindlepeak.example>\n\n');
    await server.http.put(world.at('/settings')).send({ needsApproval: false }).expect(200);
  });

  test('comments stand by their edit, and by nothing once it is gone; one removes one’s own', async () => {
    const { id, revision } = await drafted();
    const comment = (body: object) =>
      server
        .as(second)
        .post(world.at(`/drafts/${id}/comments`))
        .send(body);
    await comment({ text: 'Is the kiosk ready?', entry: 0 }).expect(200);
    await comment({ text: '  ' }).expect(400);
    await comment({ text: 'x', entry: 7 }).expect(422);
    const { body } = await comment({ text: 'Fine by us.' }).expect(200);
    expect(body).toMatchObject({
      comments: [
        { name: 'gate crew', text: 'Is the kiosk ready?', entry: 0, isOfGoneEdit: false },
        { text: 'Fine by us.', entry: null, isOfGoneEdit: false },
      ],
    });
    await server
      .as(editor)
      .put(world.at(`/drafts/${id}/entries`))
      .send({ revision, entries: [] })
      .expect(200);
    const after = await server
      .as(editor)
      .get(world.at(`/drafts/${id}/review`))
      .expect(200);
    const [first] = (after.body as { comments: { id: string }[] }).comments;
    expect(first).toMatchObject({ entry: null, isOfGoneEdit: true, isMine: false });
    await server
      .as(editor)
      .delete(world.at(`/drafts/${id}/comments/${first!.id}`))
      .expect(404);
    await server
      .as(second)
      .delete(world.at(`/drafts/${id}/comments/${first!.id}`))
      .expect(200);
  });

  test('an editor prepares and cannot post', async () => {
    const draft = await drafted();
    const { body } = await server
      .as(editor)
      .post(world.at(`/drafts/${draft.id}/post`))
      .send({ ...seen(draft), message: 'x' })
      .expect(403);
    expect(body).toMatchObject({
      detail: 'lift crew is signed in as editor; this takes a keeper.',
    });
  });
});

describe('what is kept and told of secrets', () => {
  test('the audit record says who did what; failed sign-ins too; without bodies', async () => {
    await signIn('prowler', 'my own secret').expect(401);
    const { body } = await server.http.get('/api/audit').expect(200);
    const { entries } = body as { entries: { action: string; actor: string; subject: string }[] };
    const of = (action: string) => entries.find((one) => one.action === action);
    expect(of('signInFailed')).toMatchObject({ actorKind: 'nobody', actor: 'prowler' });
    expect(of('postDraft')).toMatchObject({ actor: 'platform crew', workspace: world.slug });
    expect(of('approveDraft')).toMatchObject({ actor: 'gate crew' });
    expect(JSON.stringify(body)).not.toContain('secret');
    const older = await server.http.get('/api/audit').query({ before: 2 }).expect(200);
    expect((older.body as { entries: object[] }).entries).toHaveLength(1);
  });

  test('no secret is in the database, in an answer about it, or in the log', async () => {
    const lines: string[] = [];
    const log = pino({ level: 'trace' }, { write: (line: string) => void lines.push(line) });
    const app = await createApp(server.settings, log);
    await app.listen(0, '127.0.0.1');
    const asked = supertest(app.getHttpServer());
    const { headers, body } = await asked
      .post('/api/session')
      .send({ name: 'platform', password: PASSWORD })
      .expect(200);
    const cookie = headers['set-cookie']![0]!.split(';')[0]!;
    const { csrf } = body as { csrf: string };
    const made = await asked
      .post(world.at('/tokens'))
      .set({ cookie, 'x-csrf-token': csrf })
      .send({ name: 'nightly', scopes: ['read'], lastDay: '2099-01-01' })
      .expect(201);
    const { secret } = made.body as { secret: string };
    await asked.get(world.at('/alignment')).set('authorization', `Bearer ${secret}`).expect(200);
    await asked
      .get(world.at('/alignment'))
      .set('authorization', `Bearer ${randomUUID()}`)
      .expect(401);
    const listed = await asked.get(world.at('/tokens')).set({ cookie }).expect(200);
    await app.close();
    const secrets = [PASSWORD, cookie.split('=')[1]!, csrf, secret];
    const database = server.nest.get<DataSource>(getDataSourceToken());
    const kept: unknown[] = [];
    for (const table of ['account', 'session', 'token', 'audit', 'one_time_link'])
      kept.push(await database.query(`SELECT * FROM "${table}"`));
    for (const one of secrets) {
      expect(lines.join('')).not.toContain(one);
      expect(JSON.stringify(kept)).not.toContain(one);
      expect(listed.text).not.toContain(one);
    }
    expect(lines.length).toBeGreaterThan(4);
    expect(JSON.stringify(kept)).toContain('$argon2id$');
  });
});
