import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { chromium, expect, test, type Browser, type Page } from '@playwright/test';
import { CHROMIUM } from './chromium.js';

/** What a page of another site tries from within the same browser; each is refused, and nothing is stored. */
const ebrix = new URL(process.env['EBRIX_URL'] ?? 'http://127.0.0.1:4180');
let site: Server;
let browser: Browser;
let page: Page;

test.beforeAll(async () => {
  site = createServer((_request, response) =>
    response.setHeader('Content-Type', 'text/html').end('<!doctype html><title>Another site</title><p>Hello.'),
  );
  await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve));
  browser = await chromium.launch({
    executablePath: CHROMIUM,
    chromiumSandbox: false,
    args: ['--no-sandbox', '--host-resolver-rules=MAP *.example 127.0.0.1'],
  });
  page = await browser.newPage();
  await page.goto(`http://shop.example:${(site.address() as AddressInfo).port}/`);
});
test.afterAll(async () => {
  await browser.close();
  await new Promise((resolve) => site.close(resolve));
});

const riders = async (): Promise<number> =>
  ((await (await fetch(new URL('/api/bench/riders', ebrix))).json()) as unknown[]).length;

test('a name that another site maps to this machine opens nothing', async () => {
  const mapped = await browser.newPage();
  const answer = await mapped.goto(`http://rebound.example:${ebrix.port}/api/runs`);
  expect(answer!.status()).toBe(421);
  expect(await mapped.content()).not.toContain('"items"');
  await mapped.close();
});

test('a form of another site stores nothing', async () => {
  const before = await riders();
  const form = await browser.newPage();
  await form.goto(page.url());
  await form.setContent(
    `<form method="post" enctype="text/plain" action="${new URL('/api/bench/riders', ebrix).href}"><input name='{"name":"Forged","notes":"' value='"}'></form>`,
  );
  const answer = form.waitForResponse((response) => response.url().includes('/api/bench/riders'));
  await form.evaluate(() => document.forms[0]!.submit());
  expect((await answer).status()).toBe(403);
  expect(await riders()).toBe(before);
  await form.close();
});

test('a request of another site’s script stores nothing and reads nothing', async () => {
  const before = await riders();
  const outcomes = await page.evaluate(async (base) => {
    const tried = async (path: string, init: RequestInit): Promise<string> => {
      try {
        const answer = await fetch(base + path, init);
        return answer.type === 'opaque' ? 'unseen' : `read ${answer.status}`;
      } catch {
        return 'refused';
      }
    };
    const body = JSON.stringify({ name: 'Forged' });
    return Promise.all([
      tried('api/runs', {}),
      tried('api/bench/riders', { method: 'POST', body, headers: { 'Content-Type': 'application/json' } }),
      tried('api/bench/riders', { method: 'POST', body, mode: 'no-cors' }),
      tried('api/demo', { method: 'POST', mode: 'no-cors' }),
      tried('api/bench/riders/01900000-0000-7000-8000-000000000001', { method: 'DELETE' }),
    ]);
  }, ebrix.href);
  expect(outcomes.filter((outcome) => outcome.startsWith('read'))).toEqual([]);
  expect(await riders()).toBe(before);
});

test('a socket of another site is not opened', async () => {
  const outcome = await page.evaluate(
    (address) =>
      new Promise<string>((resolve) => {
        const socket = new WebSocket(address);
        socket.onopen = () => resolve('open');
        socket.onerror = () => resolve('refused');
      }),
    `ws://${ebrix.host}/api/logger/stream`,
  );
  expect(outcome).toBe('refused');
});

test('a stream of another site is not opened', async () => {
  const outcome = await page.evaluate(
    (address) =>
      new Promise<string>((resolve) => {
        const source = new EventSource(address);
        source.onopen = () => resolve('open');
        source.onerror = () => resolve('refused');
        setTimeout(() => source.close(), 3000);
      }),
    new URL('/api/imports/events', ebrix).href,
  );
  expect(outcome).toBe('refused');
});

test('a frame of another site shows nothing', async () => {
  const framed = await browser.newPage();
  await framed.goto(page.url());
  await framed.setContent(`<iframe src="${ebrix.href}trials"></iframe>`);
  await framed.waitForTimeout(2000);
  const [, frame] = framed.frames();
  const shown = await frame!.evaluate(() => document.body?.innerText ?? '').catch(() => '');
  expect(shown).not.toContain('Trials');
  await framed.close();
});

test('a script or a style that another site loads from here is refused', async () => {
  // Real ones: from its own pages they load.
  const html = await (await fetch(ebrix)).text();
  const asset = (kind: string): string => new RegExp(`"(/assets/[^"]+\\.${kind})"`).exec(html)![1]!;
  for (const [tag, attribute, path] of [
    ['script', 'src', asset('js')],
    ['link', 'href', asset('css')],
  ] as const) {
    const outcome = await page.evaluate(
      ([name, where, address]: readonly string[]) =>
        new Promise<string>((resolve) => {
          const element = document.createElement(name!);
          element.onload = () => resolve('loaded');
          element.onerror = () => resolve('refused');
          element.setAttribute('rel', 'stylesheet');
          element.setAttribute(where!, address!);
          document.body.append(element);
        }),
      [tag, attribute, new URL(path, ebrix).href],
    );
    expect([tag, outcome]).toEqual([tag, 'refused']);
  }
});
