import { execFile, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { connect, createServer, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import knex, { type Knex } from 'knex';
import request from 'supertest';
import { urlOfDatabase } from '../database/connect.js';
import { freePort } from '../testing/free-port.js';
import { startProcess, untilTrue } from '../testing/processes.js';

const EXAMPLES = join(__dirname, '../../../../examples/loggers');
const run = promisify(execFile);

let admin: Knex;
let database: Knex;
let name: string;
let server: ChildProcess;
let port: number;
let folder: string;
let weather: { port: number; cuts: () => number; close: () => void };

beforeAll(async () => {
  const cluster = process.env['EBRIX_TEST_DATABASE'];
  if (!cluster) throw new Error('Server tests need EBRIX_TEST_DATABASE, which `npm test` sets.');
  folder = mkdtempSync(join(tmpdir(), 'boxes-'));
  name = `test_${randomBytes(6).toString('hex')}`;
  admin = knex({ client: 'pg', connection: cluster, pool: { min: 0, max: 1 } });
  await admin.raw(`create database ${name}`);
  const databaseUrl = urlOfDatabase(cluster, name);
  port = await freePort();
  server = await startProcess('main.js', databaseUrl, port);
  database = knex({ client: 'pg', connection: databaseUrl, pool: { min: 0, max: 1 } });
  weather = await badNetwork(port);
});
afterAll(async () => {
  weather.close();
  server.kill('SIGKILL');
  await database.destroy();
  await admin.raw(`drop database ${name} with (force)`);
  await admin.destroy();
  rmSync(folder, { recursive: true, force: true });
});

/** A line between box and server that breaks: before the request is through, or behind it, so that the answer never comes. */
async function badNetwork(to: number): Promise<{ port: number; cuts: () => number; close: () => void }> {
  let connections = 0;
  let cuts = 0;
  const proxy: Server = createServer((box) => {
    const kind = connections++ % 4;
    const far = connect(to, '127.0.0.1');
    const cut = (): void => {
      cuts++;
      box.destroy();
      far.destroy();
    };
    box.on('error', () => undefined);
    far.on('error', () => undefined);
    box.on('data', (piece) => {
      if (kind === 1) return cut();
      far.write(piece);
    });
    far.on('data', (piece) => {
      if (kind === 2) return cut();
      box.write(piece);
    });
    far.on('end', () => box.end());
    box.on('end', () => far.end());
  });
  const own = await freePort();
  await new Promise<void>((resolve) => proxy.listen(own, '127.0.0.1', resolve));
  return { port: own, cuts: () => cuts, close: () => proxy.close() };
}

async function storedOf(session: string): Promise<number[]> {
  const rows = await database('sample_chunk as c')
    .join('logger_session as s', 's.id', 'c.session_id')
    .where('s.name', session)
    .select<{ lines: string }[]>('c.lines');
  return rows
    .flatMap(({ lines }) => lines.split('\n').map((line) => (JSON.parse(line) as [number])[0]))
    .sort((a, b) => a - b);
}
const addLogger = (box: string) =>
  request(`http://127.0.0.1:${port}`).post('/api/bench/loggers').send({ name: box }).expect(201);

describe('the example boxes, over a line that breaks every second time', () => {
  it('in plain Python: every line is stored, and once', async () => {
    await addLogger('Python box');
    const before = weather.cuts();
    const { stdout } = await run('python3', [
      join(EXAMPLES, 'logger.py'),
      `http://127.0.0.1:${weather.port}`,
      'Python box',
      '--seconds',
      '6',
      '--rate',
      '40',
    ]);
    const { session, lines } = JSON.parse(stdout) as { session: string; lines: number };
    expect(lines).toBeGreaterThan(20);
    expect(weather.cuts()).toBeGreaterThan(before);
    expect(await storedOf(session)).toEqual(Array.from({ length: lines }, (_, n) => n));
    await untilTrue(async () => {
      const stored = await database('logger_session').where({ name: session }).first<{ is_ended: boolean }>('is_ended');
      return stored?.is_ended === true ? true : undefined;
    }, 'its goodbye is noted');
  });

  it('in C++ for a microcontroller, on this machine with stand-ins for its pins: likewise, and a sensor that is off is missing', async () => {
    await addLogger('Small box');
    const program = join(folder, 'box');
    const options = ['-std=c++17', '-O1', '-Wall', '-Wextra', '-Werror'];
    await run('g++', [...options, join(EXAMPLES, 'box_on_host.cpp'), '-o', program]);
    const before = weather.cuts();
    const { stdout } = await run(program, ['127.0.0.1', String(weather.port), 'Small box', '7']);
    const { session, lines, lost } = JSON.parse(stdout) as { session: string; lines: number; lost: number };
    expect([lost, lines > 20]).toEqual([0, true]);
    expect(weather.cuts()).toBeGreaterThan(before);
    expect(await storedOf(session)).toEqual(Array.from({ length: lines }, (_, n) => n));
    const stored = await database('logger_session').where({ name: session }).first<{ bad: number }>('bad');
    expect(stored).toEqual({ bad: 0 });
  });

  it('say why they are refused', async () => {
    const answer = await run('python3', [
      join(EXAMPLES, 'logger.py'),
      `http://127.0.0.1:${port}`,
      'Nobody',
      '--seconds',
      '1',
    ]).catch((error: { stderr: string }) => error.stderr);
    expect(answer).toContain('There is no logger');
  });
});
