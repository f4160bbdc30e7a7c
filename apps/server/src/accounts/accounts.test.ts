import type { Knex } from 'knex';
import request from 'supertest';
import { accessOf, ROUTES, type Account, type NewAccessKey, type Part, type Route } from '@ebrix/contract';
import { startTestApp, type TestApp } from '../testing/test-app.js';
import { KNEX } from '../database/database.module.js';
import { hashPassword, isPassword } from './secrets.js';
import { SignInLimits } from './sign-in-limits.js';

const PASSWORD = 'four words in a row';
let server: TestApp;
let owner: ReturnType<typeof request.agent>;
beforeAll(async () => {
  server = await startTestApp();
  owner = request.agent(server.app.getHttpServer());
});
afterAll(() => server.close());

const keyOf = async (role: string): Promise<string> =>
  (
    (
      await owner
        .post('/api/access-keys')
        .send({ label: `For ${role}`, role })
        .expect(201)
    ).body as NewAccessKey
  ).secret;

describe('before there is an account', () => {
  it('answers this machine as ever, and says so', async () => {
    const { body } = await server.api.get('/api/session').expect(200);
    expect(body).toEqual({ state: 'no-accounts', account: null });
    await server.api.post('/api/bench/riders').send({ name: 'Ottoline Vask' }).expect(201);
  });
  it('answers nobody who comes from elsewhere', async () => {
    const { body } = await server.api.get('/api/bench/riders').set('X-Forwarded-For', '192.0.2.7').expect(403);
    expect((body as { error: { message: string } }).error.message).toMatch(/npm run account -- add/);
    await server.api.post('/api/accounts').set('X-Forwarded-For', '192.0.2.7').send({}).expect(403);
  });
  it('makes the first an owner, and one first only', async () => {
    const first = { name: 'Ottoline Vask', role: 'reader', password: PASSWORD };
    const answers = await Promise.all([
      server.api.post('/api/accounts').send(first),
      server.api.post('/api/accounts').send({ ...first, name: 'Somebody else' }),
    ]);
    const codes = answers.map(({ status }) => status).sort();
    expect(codes[0]).toBe(201);
    expect([401, 403, 409]).toContain(codes[1]);
    const made = answers.find(({ status }) => status === 201)!.body as Account;
    expect(made.role).toBe('owner');
    await owner.get('/api/bench/riders').expect(401);
    await owner.post('/api/session').send({ name: made.name.toUpperCase(), password: PASSWORD }).expect(200);
    await owner.get('/api/bench/riders').expect(200);
  });
});

describe('roles', () => {
  const fill = (path: string): string =>
    `/api/${path.replace('{kind}', 'bikes').replace(/\{\w+\}/g, '01900000-0000-7000-8000-000000000001')}`;
  const tables = Object.entries<Route>(ROUTES);

  it('lets nobody through a route who did not sign in, but where anyone may', async () => {
    for (const [name, route] of tables) {
      if (accessOf(route) === 'anyone') continue;
      const { status } = await server.api[route.method](fill(route.path));
      expect([name, status]).toEqual([name, 401]);
    }
  });
  it('lets a reader write by no route, and a tester do nothing that is the owner’s', async () => {
    const [reader, tester] = [await keyOf('reader'), await keyOf('tester')];
    const refused = async (key: string, needed: readonly string[]): Promise<number> => {
      let count = 0;
      for (const [name, route] of tables) {
        if (!needed.includes(accessOf(route))) continue;
        const { status } = await server.api[route.method](fill(route.path)).set('Authorization', `Bearer ${key}`);
        expect([name, status]).toEqual([name, 403]);
        count++;
      }
      return count;
    };
    expect(await refused(reader, ['tester', 'owner'])).toBeGreaterThan(80);
    expect(await refused(tester, ['owner'])).toBeGreaterThan(2);
    await server.api.get('/api/runs').set('Authorization', `Bearer ${reader}`).expect(200);
    await server.api
      .post('/api/bench/riders')
      .set('Authorization', `Bearer ${tester}`)
      .send({ name: 'A second rider' })
      .expect(201);
  });
  it('gives a key no more than its account has, and takes it back', async () => {
    await owner.post('/api/accounts').send({ name: 'Quillon Ashe', role: 'reader', password: PASSWORD }).expect(201);
    const reader = request.agent(server.app.getHttpServer());
    await reader.post('/api/session').send({ name: 'quillon ashe', password: PASSWORD }).expect(200);
    await reader.post('/api/access-keys').send({ label: 'Too much', role: 'tester' }).expect(403);
    const made = (await reader.post('/api/access-keys').send({ label: 'A script', role: 'reader' }).expect(201))
      .body as NewAccessKey;
    const ask = () => server.api.get('/api/runs').set('Authorization', `Bearer ${made.secret}`);
    await ask().expect(200);
    await reader.delete(`/api/access-keys/${made.id}`).expect(204);
    await ask().expect(401);
  });
});

describe('signing in', () => {
  it('sets a cookie that no script reads, another each time, and ends it', async () => {
    const hands = request.agent(server.app.getHttpServer());
    const cookieOf = async (): Promise<string> => {
      const answer = await hands.post('/api/session').send({ name: 'Quillon Ashe', password: PASSWORD }).expect(200);
      return (answer.headers['set-cookie'] as unknown as string[])[0]!;
    };
    const first = await cookieOf();
    expect(first).toMatch(/HttpOnly/);
    expect(first).toMatch(/SameSite=Strict/);
    expect(await cookieOf()).not.toBe(first);
    // The one before is worth nothing any more.
    await server.api.get('/api/runs').set('Cookie', first.split(';')[0]!).expect(401);
    await hands.delete('/api/session').expect(200);
    await hands.get('/api/runs').expect(401);
  });
  it('says the same of a wrong name and a wrong password', async () => {
    const of = async (name: string) =>
      (await server.api.post('/api/session').send({ name, password: 'not the one' }).expect(401)).body as object;
    expect(await of('Quillon Ashe')).toEqual(await of('Nobody at all'));
  });
  it('makes guessing wait, of whatever name, even many at once', async () => {
    const tries = await Promise.all(
      Array.from({ length: 20 }, () => server.api.post('/api/session').send({ name: 'Guessed', password: 'wrong' })),
    );
    expect(tries.filter(({ status }) => status === 401)).toHaveLength(8);
    expect(tries.filter(({ status }) => status === 429)).toHaveLength(12);
    // Another server on the same database counts on from there, and reads no name in its table.
    const database = server.app.get<Knex>(KNEX);
    await expect(new SignInLimits(database).count('guessed', '192.0.2.9')).rejects.toThrow(/Too many/);
    await expect(new SignInLimits(database).count('another', '192.0.2.9')).resolves.toBeUndefined();
    expect(JSON.stringify(await database('sign_in_try').select())).not.toMatch(/guessed|192\.0\.2/i);
  });
  it('lets a device in by a code, once', async () => {
    const { code } = (await owner.post('/api/session/codes').expect(201)).body as { code: string };
    const phone = request.agent(server.app.getHttpServer());
    await phone.post('/api/session/code').send({ code }).expect(200);
    await phone.get('/api/runs').expect(200);
    await server.api.post('/api/session/code').send({ code }).expect(401);
    const devices = (await owner.get('/api/devices').expect(200)).body as { id: string; isThisOne: boolean }[];
    const other = devices.find(({ isThisOne }) => !isThisOne)!;
    await owner.delete(`/api/devices/${other.id}`).expect(204);
    await phone.get('/api/runs').expect(401);
  });
});

describe('accounts', () => {
  it('keeps an owner, refuses what was changed meanwhile, and ends sessions of who is blocked', async () => {
    const list = (await owner.get('/api/accounts').expect(200)).body as Account[];
    const own = list.find(({ role }) => role === 'owner')!;
    const other = list.find(({ name }) => name === 'Quillon Ashe')!;
    const demoted = { version: own.version, role: 'tester', isBlocked: false };
    await owner.put(`/api/accounts/${own.id}`).send(demoted).expect(409);
    const hands = request.agent(server.app.getHttpServer());
    await hands.post('/api/session').send({ name: 'Quillon Ashe', password: PASSWORD }).expect(200);
    const blocked = { version: other.version, role: 'reader', isBlocked: true };
    await owner.put(`/api/accounts/${other.id}`).send(blocked).expect(200);
    await owner.put(`/api/accounts/${other.id}`).send(blocked).expect(409);
    await hands.get('/api/runs').expect(401);
    await hands.post('/api/session').send({ name: 'Quillon Ashe', password: PASSWORD }).expect(401);
  });
  it('changes one’s own password only by the one before, and signs other devices out', async () => {
    const other = request.agent(server.app.getHttpServer());
    const name = ((await owner.get('/api/session')).body as { account: { name: string } }).account.name;
    await other.post('/api/session').send({ name, password: PASSWORD }).expect(200);
    await owner.put('/api/session/password').send({ before: 'wrong', after: 'a new one, long' }).expect(401);
    await owner.put('/api/session/password').send({ before: PASSWORD, after: 'a new one, long' }).expect(200);
    await other.get('/api/runs').expect(401);
    await owner.get('/api/runs').expect(200);
  });
  it('keeps passwords so that neither they nor their likeness can be seen', async () => {
    const [one, two] = await Promise.all([hashPassword('same words'), hashPassword('same words')]);
    expect(one).not.toBe(two);
    expect(await isPassword('same words', one)).toBe(true);
    expect(await isPassword('same word', one)).toBe(false);
  });
});

describe('history', () => {
  it('says who did what to a thing, and nothing in it can be changed', async () => {
    const rider = (await owner.post('/api/bench/riders').send({ name: 'A third rider' }).expect(201)).body as Part;
    await owner.put(`/api/bench/riders/${rider.id}/archive`).send({ version: 1, archived: true }).expect(200);
    const { body } = await owner.get('/api/history').query({ object: rider.id }).expect(200);
    expect((body as { operation: string }[]).map(({ operation }) => operation)).toEqual(['archivePart', 'addPart']);
    expect((body as { who: string }[])[0]!.who).not.toBe('');
    const other = (await owner.post('/api/bench/riders').send({ name: 'A fourth' }).expect(201)).body as Part;
    const both = await owner
      .get('/api/history')
      .query({ object: `${rider.id},${other.id}` })
      .expect(200);
    expect(both.body).toHaveLength(3);
    await owner.get('/api/history').query({ object: 'anything' }).expect(400);
  });
});

describe('loggers', () => {
  const lines = (logger: string, secret?: string): string =>
    `${JSON.stringify({ hello: { protocol: 1, logger, session: 's', channels: ['speed'], ...(secret && { secret }) } })}\n[0,0,12]\n`;
  const send = (text: string) =>
    server.api.post('/api/logger/lines').set('Content-Type', 'application/x-ndjson').send(text);

  it('are heard by their secret, the newest only', async () => {
    const box = (await owner.post('/api/bench/loggers').send({ name: 'Box 9' }).expect(201)).body as Part;
    await send(lines('Box 9')).expect(403);
    const renew = async () =>
      ((await owner.post(`/api/bench/loggers/${box.id}/secret`).expect(200)).body as { secret: string }).secret;
    const first = await renew();
    await send(lines('Box 9', first)).expect(200);
    const second = await renew();
    await send(lines('Box 9', first)).expect(403);
    await send(lines('Box 9', second)).expect(200);
  });
  it('are heard by a tester’s key, not by a reader’s', async () => {
    await send(lines('Box 9', await keyOf('tester'))).expect(200);
    await send(lines('Box 9', await keyOf('reader'))).expect(403);
  });
});
