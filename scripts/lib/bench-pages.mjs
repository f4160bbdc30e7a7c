import { gzipSync } from 'node:zlib';
import { CHROMIUM } from './debian.mjs';

/** The pages in the browser as a user meets them: ms until they are usable, and bytes of script of the first. */
export async function pageTimes(url, setupId) {
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({
    executablePath: CHROMIUM,
    chromiumSandbox: false,
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const page = await browser.newPage();
  // What is fetched beforehand for later does not count, however slow the machine.
  await page.addInitScript(() => {
    const wait = globalThis.setTimeout.bind(globalThis);
    globalThis.setTimeout = (work, ms = 0) => (ms > 1000 ? 0 : wait(work, ms));
  });
  let packed = 0;
  let raw = 0;
  const seen = [];
  page.on('response', (response) => {
    if (/\.js$/.test(new URL(response.url()).pathname))
      seen.push(response.body().then((body) => ((raw += body.length), (packed += gzipSync(body).length))));
  });
  const start = performance.now();
  await page.goto(`${url}/trials`);
  await page.getByRole('heading', { level: 1 }).waitFor();
  const usable = performance.now() - start;
  await page.waitForTimeout(500);
  await Promise.all(seen);
  page.removeAllListeners('response');
  const afterLoad = async (path, isReady) => {
    await page.goto(url + path);
    const loaded = performance.now();
    await isReady();
    return performance.now() - loaded;
  };
  const sums = () => page.getByRole('group', { name: 'Sums of this setup' }).waitFor();
  const leastOf = async (path) =>
    Math.min(...[await afterLoad(path, sums), await afterLoad(path, sums), await afterLoad(path, sums)]);
  const setup = await leastOf(`/bench/setups/${setupId}`);
  const compose = await leastOf(`/bench/setups/${setupId}/edit`);
  await browser.close();
  return { usable, packed, raw, setup, compose };
}
