import { randomBytes } from 'node:crypto';
import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { request as ask } from 'node:https';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import knex, { type Knex } from 'knex';
import { urlOfDatabase } from '../database/connect.js';
import { freePort } from '../testing/free-port.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';
import { CONFIG, type Config } from '../common/config.js';
import { requireSafeHost, shareWhenClosed } from '../sharing.js';
import { accountCommand } from './command.js';
import { Door } from './door.js';

const run = promisify(execFile);
const SHARE = join(__dirname, '../../../../scripts/lib/share.mjs');

async function said(url: string, ...words: string[]): Promise<{ code: number; out: string }> {
  let out = '';
  const keep = (chunk: string | Uint8Array): boolean => {
    out += String(chunk);
    return true;
  };
  const spies = [process.stdout, process.stderr].map((stream) => jest.spyOn(stream, 'write').mockImplementation(keep));
  try {
    return { code: await accountCommand(url, words), out };
  } finally {
    for (const spy of spies) spy.mockRestore();
  }
}

describe('npm run account', () => {
  let admin: Knex;
  let url: string;
  const name = `test_${randomBytes(6).toString('hex')}`;
  beforeAll(async () => {
    admin = knex({ client: 'pg', connection: process.env['EBRIX_TEST_DATABASE']!, pool: { min: 0, max: 1 } });
    await admin.raw(`create database ${name}`);
    url = urlOfDatabase(process.env['EBRIX_TEST_DATABASE']!, name);
  });
  afterAll(async () => {
    await admin.raw(`drop database ${name} with (force)`);
    await admin.destroy();
  });

  it('makes the first an owner whatever was asked, and the next a tester unless said', async () => {
    expect((await said(url, 'list')).out).toMatch(/no accounts/);
    const first = await said(url, 'add', 'Ottoline Vask', '--role', 'reader', '--generate');
    expect(first).toMatchObject({ code: 0, out: expect.stringMatching(/as owner\. Password: pass_\w{20}/) as string });
    await said(url, 'add', 'Quillon Ashe', '--generate');
    expect((await said(url, 'list')).out).toBe('Ottoline Vask: owner\nQuillon Ashe: tester\n');
  });
  it('says in a sentence what it cannot do, and changes nothing then', async () => {
    const before = (await said(url, 'list')).out;
    for (const [words, sentence] of [
      [['add', 'ottoline VASK', '--generate'], /already/],
      [['add', ''], /Give a name/],
      [['add', 'Bram Tellow', '--role', 'king', '--generate'], /one of reader, tester, owner/],
      [['role', 'Ottoline Vask', 'reader'], /last owner/],
      [['block', 'Ottoline Vask'], /last owner/],
      [['password', 'Nobody'], /There is no account "Nobody"/],
      [['frobnicate'], /Usage/],
    ] as const) {
      const answer = await said(url, ...words);
      expect(answer.code).toBe(1);
      expect(answer.out).toMatch(sentence);
    }
    expect((await said(url, 'list')).out).toBe(before);
  });
  it('sets passwords, roles, blocks and lets in again', async () => {
    expect((await said(url, 'password', 'quillon ashe', '--generate')).out).toMatch(/signed out everywhere/);
    expect((await said(url, 'role', 'Quillon Ashe', 'owner')).code).toBe(0);
    expect((await said(url, 'block', 'Ottoline Vask')).code).toBe(0);
    expect((await said(url, 'list')).out).toBe('Ottoline Vask: owner, blocked\nQuillon Ashe: owner\n');
    expect((await said(url, 'unblock', 'Ottoline Vask')).code).toBe(0);
  });
});

describe('sharing', () => {
  let server: TestApp;
  let folder: string;
  beforeAll(async () => {
    server = await startTestApp();
    folder = mkdtempSync(join(tmpdir(), 'ebrix-share-'));
  });
  afterAll(async () => {
    await server.close();
    rmSync(folder, { recursive: true, force: true });
  });
  const prepared = async (): Promise<{ certificate: string; key: string; authority: string; addresses: string[] }> => {
    const { stdout } = await run(process.execPath, [
      '--input-type=module',
      '-e',
      `import { prepareSharing } from '${SHARE}'; console.log(JSON.stringify(await prepareSharing('${folder}', 1)));`,
    ]);
    return JSON.parse(stdout.trim().split('\n').at(-1)!) as Awaited<ReturnType<typeof prepared>>;
  };
  const get = (port: number, path: string, ca: Buffer): Promise<number> =>
    new Promise((resolve, reject) => {
      const request = ask({ host: '127.0.0.1', port, path, ca, checkServerIdentity: () => undefined }, (response) => {
        response.resume();
        resolve(response.statusCode!);
      });
      request.on('error', reject);
      request.end();
    });

  it('makes its authority and certificate once, readable by their owner only', async () => {
    const [first, second] = [await prepared(), await prepared()];
    expect(first.addresses[0]).toMatch(/^https:\/\//);
    const bytes = readFileSync(first.certificate);
    expect(readFileSync(second.certificate)).toEqual(bytes);
    expect((await run('stat', ['-c', '%a', first.key])).stdout.trim()).toBe('600');
  });

  it('opens its port only once there is an account, and then asks everybody to sign in', async () => {
    const { certificate, key, authority } = await prepared();
    const port = await freePort();
    const config: Config = {
      ...server.app.get<Config>(CONFIG),
      EBRIX_SHARE_PORT: port,
      EBRIX_TLS_CERT: certificate,
      EBRIX_TLS_KEY: key,
    };
    const ca = readFileSync(authority);
    const notes: string[] = [];
    const sharing = shareWhenClosed(server.app, config, (note) => notes.push(note));
    try {
      expect(notes[0]).toMatch(/Not shared yet/);
      await expect(get(port, '/api/health', ca)).rejects.toThrow(/ECONNREFUSED/);
      const first = { name: 'Ottoline Vask', role: 'owner', password: 'four words in a row' };
      await server.api.post('/api/accounts').send(first).expect(201);
      expect(server.app.get(Door).isClosed()).toBe(true);
      while (notes.length < 2) await new Promise((resolve) => setTimeout(resolve, 50));
      expect(await get(port, '/api/health', ca)).toBe(200);
      expect(await get(port, '/api/runs', ca)).toBe(401);
    } finally {
      sharing.close();
    }
  });

  it('refuses plain http beyond this machine unless a proxy is named', () => {
    const config = server.app.get<Config>(CONFIG);
    expect(() => requireSafeHost({ ...config, HOST: '0.0.0.0' })).toThrow(/without encryption/);
    expect(() => requireSafeHost({ ...config, HOST: '0.0.0.0', EBRIX_PROXIES: ['10.0.0.1'] })).not.toThrow();
    expect(() => requireSafeHost({ ...config, HOST: '127.0.0.1' })).not.toThrow();
  });
});
