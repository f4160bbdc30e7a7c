import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { connect, createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { chromium, type BrowserContext, type Page } from '@playwright/test';
import type { Course, Part, Ride, RideOverview, RunDetail, SetupDetail } from '@ebrix/contract';
import { CHROMIUM } from './chromium.js';
import { expect, test } from './fixtures.js';

/** An installation of its own, shared over TLS by an authority that the phone was told to trust. */
const ROOT = resolve(import.meta.dirname, '..');
const PASSWORD = 'four words in a row';
const M = 1 / 111_320;
const STARTS_WITHIN_MS = 240_000;

let folder: string;
let installation: ChildProcess;
let port: number;
let sharePort: number;
let opened: BrowserContext | undefined;

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((done) => void server.listen(0, '127.0.0.1', done));
  const { port: free } = server.address() as AddressInfo;
  await new Promise((done) => server.close(done));
  return free;
}
const here = (path: string): string => `http://127.0.0.1:${port}/api/${path}`;

test.beforeAll(async () => {
  test.setTimeout(STARTS_WITHIN_MS + 60_000);
  folder = mkdtempSync(join(tmpdir(), 'ebrix-shared-'));
  [port, sharePort] = [await freePort(), await freePort()];
  installation = spawn(process.execPath, ['scripts/start.mjs', '--share', '--empty'], {
    cwd: ROOT,
    detached: true,
    stdio: 'ignore',
    env: {
      ...process.env,
      EBRIX_DATA: join(folder, 'data'),
      PORT: String(port),
      EBRIX_SHARE_PORT: String(sharePort),
      EBRIX_HOSTS: 'localhost',
    },
  });
  await expect
    .poll(
      () =>
        fetch(here('health')).then(
          ({ status }) => status,
          () => 0,
        ),
      { timeout: STARTS_WITHIN_MS },
    )
    .toBe(200);
  const trusted = join(folder, '.pki', 'nssdb');
  mkdirSync(trusted, { recursive: true });
  execFileSync('certutil', ['-d', `sql:${trusted}`, '-N', '--empty-password']);
  const authority = join(folder, 'data', 'share', 'authority.pem');
  execFileSync('certutil', ['-d', `sql:${trusted}`, '-A', '-t', 'C,,', '-n', 'Ebrix', '-i', authority]);
});
test.afterAll(async () => {
  await opened?.close();
  const ended = new Promise((done) => installation.once('exit', done));
  installation.kill('SIGTERM');
  await ended;
  rmSync(folder, { recursive: true, force: true });
});

/** A phone's browser: its home says whom it trusts, its profile is what a kill leaves. */
const phone = async (at = 0): Promise<BrowserContext> =>
  (opened = await chromium.launchPersistentContext(join(folder, 'profile'), {
    executablePath: CHROMIUM,
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking'],
    env: { ...(process.env as Record<string, string>), HOME: folder },
    viewport: { width: 390, height: 844 },
    locale: 'en-GB',
    permissions: ['geolocation'],
    geolocation: { latitude: 0.001 + 5 * at * M, longitude: 0.001, accuracy: 5 },
    baseURL: `https://localhost:${sharePort}`,
  }));

async function benchToRide(): Promise<{ setup: SetupDetail; course: Course }> {
  const post = async <T>(path: string, body: object): Promise<T> => {
    const answer = await fetch(here(path), {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
    return (await answer.json()) as T;
  };
  const bike = await post<Part>('bench/bikes', { name: 'Round bike', massKg: 24 });
  const settings = {};
  const revision = { bikeId: bike.id, kitId: null, packIds: [], settings, change: 'As bought' };
  const setup = await post<SetupDetail>('setups', { name: 'As bought', revision });
  const course = await post<Course>('courses', {
    name: 'Level round',
    kind: 'loop',
    surface: 'asphalt',
    lengthM: 2000,
  });
  // What is left to check by hand of a bike without a kit.
  await post(`revisions/${setup.revisions[0]!.id}/marks`, {
    ids: ['clearance-brakes', 'clearance-helmet'],
    kind: 'passed',
    by: 'Bram Tellow',
  });
  await post('accounts', { name: 'Bram Tellow', role: 'owner', password: PASSWORD });
  return { setup, course };
}
async function ride(context: BrowserContext, page: Page, from: number, fixes: number): Promise<void> {
  for (let k = from; k < from + fixes; k++) {
    await context.setGeolocation({ latitude: 0.001 + 5 * k * M, longitude: 0.001, accuracy: 5 });
    await page.waitForTimeout(400);
  }
}
const heading = (page: Page) => page.getByRole('heading', { level: 1 });

test('a phone signs in over TLS, leads a ride while the server is gone, and brings it back after both were killed', async () => {
  await benchToRide();
  // With the first account the other port opens.
  await expect.poll(() => openPort(sharePort), { timeout: 60_000 }).toBe(true);
  let context = await phone();
  let page = await context.newPage();
  await page.goto('/ride');
  await page.getByLabel('Name').fill('Bram Tellow');
  await page.getByLabel('Password').fill(PASSWORD);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Password')).toHaveCount(0);
  await page.goto('/along');
  expect(await page.evaluate(() => isSecureContext)).toBe(true);
  await page.getByLabel('What this phone is called').fill('the blue one');
  await page.getByRole('button', { name: /Setups and courses only/ }).click();
  await expect(page.getByText('Ride outside the plan')).toBeVisible();
  await page.waitForFunction(async () => {
    const [name] = (await caches.keys()).filter((key) => key.includes('precache'));
    return name !== undefined && (await (await caches.open(name)).keys()).length > 8;
  });

  // The server dies, and so does the phone's browser in mid-ride. Its starter brings the server back by itself.
  await context.setOffline(true);
  await page.goto('/along');
  await page.getByText('Ride outside the plan').click();
  await page.getByRole('button', { name: 'Prepare this ride' }).click();
  await page.getByRole('button', { name: 'Ready' }).click();
  await ride(context, page, 0, 8);
  await expect(heading(page)).toHaveText('Running');
  killServer();
  await context.close();
  context = await phone(8);
  await context.setOffline(true);
  page = await context.newPage();
  await page.goto('/along');
  await expect(heading(page)).toHaveText('Running');
  await ride(context, page, 8, 8);
  await page.getByRole('button', { name: 'Finished' }).click();
  await page.getByLabel('Trip distance, km').fill('0.1');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByText('One ride waits on this phone')).toBeVisible();
  await expect.poll(() => openPort(sharePort), { timeout: 60_000 }).toBe(true);
  await context.setOffline(false);
  await expect(async () => {
    const send = page.getByRole('button', { name: 'Send now' });
    if (await send.isVisible()) await send.click();
    await expect(page.getByText('waits on this phone')).toHaveCount(0, { timeout: 3000 });
  }).toPass({ timeout: 60_000 });

  // By the browser itself: only it trusts the authority.
  const ask = <T>(path: string): Promise<T> =>
    page.evaluate((of) => fetch(`/api/${of}`).then((answer) => answer.json() as Promise<T>), path);
  const { recent } = await ask<RideOverview>('rides');
  expect(recent).toHaveLength(1);
  await expect.poll(async () => (await ask<Ride>(`rides/${recent[0]!.id}`)).runId).not.toBeNull();
  const run = await ask<RunDetail>(`runs/${(await ask<Ride>(`rides/${recent[0]!.id}`)).runId}`);
  const way = run.allFigures.find(({ key }) => key === 'distance')!;
  // Fifteen steps of five metres, and the way over the kill as it lies.
  expect(way.value).toBeGreaterThan(0.04);
  expect(way.value).toBeLessThan(0.1);
  await context.close();
});

function openPort(number: number): Promise<boolean> {
  return new Promise((done) => {
    const socket = connect(number, '127.0.0.1');
    socket.once('connect', () => {
      socket.destroy();
      done(true);
    });
    socket.once('error', () => done(false));
  });
}

/** The server is a child of its starter. */
function killServer(): void {
  for (const name of readdirSync('/proc').filter((one) => /^\d+$/.test(one))) {
    const read = (file: string): string => {
      try {
        return readFileSync(`/proc/${name}/${file}`, 'utf8');
      } catch {
        return '';
      }
    };
    const parent = read('stat').split(') ').at(-1)?.split(' ')[1];
    if (parent === String(installation.pid) && read('cmdline').includes('apps/server/dist/bundle/main.js'))
      process.kill(Number(name), 'SIGKILL');
  }
}
