import { CHROMIUM, ensureChromium } from './lib/debian.mjs';
import { installPackages } from './lib/install.mjs';
import { root, runScript, say } from './lib/say.mjs';

/* global document -- within the page */
const url = process.env.EBRIX_URL || 'http://127.0.0.1:4180';

/** One picture per main view, 1280 × 800, of a running Ebrix with its demo data and nothing else. */
await runScript(async () => {
  installPackages();
  ensureChromium();
  const { chromium } = await import('@playwright/test');
  const browser = await chromium.launch({
    executablePath: CHROMIUM,
    chromiumSandbox: false,
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, locale: 'en-GB' });
  const get = async (path) => (await fetch(`${url}/api/${path}`)).json();
  const trial = (await get('trials')).find(({ question }) => question.startsWith('Which kit'));
  const courses = await get('courses');
  const course = courses.find(({ kind }) => kind === 'climb');
  const hillTrial = (await get('trials')).find(({ question }) => question.startsWith('Mid motor'));
  const run = (await get('runs?text=Dromel&sort=date&order=up')).items.find(({ warningCount }) => warningCount > 1);
  const ride = await (await fetch(`${url}/api/runs/${run.id}/file`)).text();
  const csv = {
    name: 'ride-of-today.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(ride.replace('speed (km/h)', 'speed').replace(/\n$/, '\n\n')),
  };
  const plain = { ...csv, buffer: Buffer.from(ride) };

  const shoot = async (name, path, act) => {
    await page.goto(url + path);
    await page.locator('main h1').waitFor();
    await page.waitForFunction(() => !document.querySelector('[aria-label="Loading"], .spinner, .ant-spin-spinning'));
    if (act) await act();
    await page.waitForTimeout(700);
    await page.screenshot({ path: `${root}/docs/screenshots/${name}.png` });
    say(`docs/screenshots/${name}.png`);
  };
  /** A ride at half its way; it is aborted afterwards, so that the demo stays as it was. */
  const shootConsole = async () => {
    await page.goto(`${url}/ride`);
    await page.getByRole('button', { name: 'Prepare this run' }).first().click();
    await page.getByRole('button', { name: 'Ready to ride' }).click();
    await page.getByRole('combobox', { name: 'How fast' }).focus();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.type('20 times');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Ride it simulated' }).click();
    await page.locator('.console-state[data-state=running]').waitFor();
    await page.waitForTimeout(12_000);
    await page.getByRole('button', { name: 'Event' }).click();
    await page.mouse.move(5, 5);
    await page.waitForTimeout(1200);
    await page.screenshot({ path: `${root}/docs/screenshots/console.png` });
    say('docs/screenshots/console.png');
    await page.getByRole('button', { name: 'Abort' }).click();
    await page.getByLabel('Reason').fill('Only for the picture.');
    await page.getByRole('button', { name: 'Abort the run' }).click();
    await page.locator('.console-state[data-state=aborted]').waitFor();
  };
  /** A phone that leads a ride by itself, its position fed by the browser's own emulation; thrown away afterwards. */
  const shootAlong = async () => {
    const north = (metres) => ({ latitude: 0.001 + metres / 111_320, longitude: 0.001, accuracy: 4 });
    const phone = await browser.newContext({
      viewport: { width: 390, height: 844 },
      locale: 'en-GB',
      permissions: ['geolocation'],
      geolocation: north(0),
    });
    const screen = await phone.newPage();
    await screen.goto(`${url}/along`);
    await screen.getByLabel('What this phone is called').fill('the blue one');
    await screen
      .getByRole('button', { name: /outing 1/ })
      .first()
      .click();
    await screen.getByRole('button', { name: 'Prepare this run' }).click();
    await screen.getByRole('button', { name: 'Ready' }).click();
    for (let k = 1; k < 22; k++) {
      await phone.setGeolocation(north(6.2 * k));
      await screen.waitForTimeout(1000);
    }
    await screen.getByRole('button', { name: 'Event' }).click();
    await screen.waitForTimeout(400);
    await screen.screenshot({ path: `${root}/docs/screenshots/along.png` });
    say('docs/screenshots/along.png');
    await phone.close();
    for (const { id, name } of await get('bench/loggers'))
      if (name.startsWith('Phone ')) await fetch(`${url}/api/bench/loggers/${id}`, { method: 'DELETE' });
  };
  await shoot('trials', '/trials');
  await shoot('verdict', `/trials/${trial.id}/verdict`);
  await shoot('run', `/runs/${run.id}`, () => page.mouse.move(700, 300));
  const kept = (await get('forecasts')).find(({ title }) => title.includes('bread'));
  await shoot('forecast', `/forecast?${kept.question.address}`, () =>
    page.getByRole('region', { name: 'Answer' }).and(page.locator('[aria-busy=false]')).waitFor(),
  );
  await shoot('notebook', '/notebook', async () => {
    const rides = ['Corvane R2, 44 V rear hub', 'Old front hub'].flatMap((name, k) =>
      ['2026-04-12', '2026-04-19'].flatMap((day, d) =>
        [0, 1].map((n) =>
          [
            day,
            name,
            'Level round',
            'steady',
            `${9.4 + 0.1 * n}`,
            `0:2${5 - k + n}`,
            `5 ${3 - k}`,
            `50.2 ${(47.5 - 1.9 * k + 0.1 * d).toFixed(1)}`,
          ].join('\t'),
        ),
      ),
    );
    await page.getByLabel('Paste rows from a spreadsheet').fill(rides.join('\n'));
    await page.getByLabel('Bars when full', { exact: true }).fill('5');
    await page.getByLabel('Pack of Old front hub, V and Ah').fill('44 V 10 Ah');
  });
  await page.evaluate(() => sessionStorage.clear());
  await shoot('decide', '/decide/uses', () => page.getByRole('link', { name: 'Milk round over the hill' }).click());
  await shoot('logbook', '/logbook/faults');
  const [report] = await get('reports');
  await shoot('report', `/decide/reports/${report.id}`, async () => {
    await page.getByRole('button', { name: 'Preview' }).click();
    await page.locator('iframe').waitFor();
  });
  await shoot('runs', '/runs');
  await shoot('bench', '/bench/setups');
  const setups = await get('setups');
  const idOf = (name) => setups.find((setup) => setup.name.startsWith(name)).id;
  const [planned, corvane] = [idOf('Dromel D5 on'), idOf('Corvane R2, 44')];
  await shoot('checks', `/bench/setups/${planned}/checks`);
  await shoot('fitting', `/bench/setups/${corvane}/fitting`, () =>
    page.getByRole('button', { name: /^5\. Brake disc/ }).click(),
  );
  await shoot('course', `/courses/${course.id}`);
  await shoot('plan', `/trials/${hillTrial.id}/plan`, () => page.locator('.recharts-line-curve').waitFor());
  await shoot('quick-look-log', '/quick-look/log', async () => {
    await page.locator('input[type=file]').setInputFiles([plain]);
    await page.locator('.figure-strip').waitFor();
  });
  await shoot('import', '/import', async () => {
    await page.locator('input[type=file]').setInputFiles([csv]);
    await page.getByText('Columns and units').waitFor();
  });
  await shoot('upkeep', '/upkeep/backups');
  await shootConsole();
  await shootAlong();
  // The staged file was only for the picture.
  for (const { id, fileName } of await get('imports'))
    if (fileName === csv.name) await fetch(`${url}/api/imports/${id}`, { method: 'DELETE' });
  await browser.close();
});
