import type { Locator, Page } from '@playwright/test';
import { expect, expectAccessible, ready, rideCsv, test } from './fixtures.js';

/** An installation without any data: what a newcomer sees. */
test.use({ baseURL: process.env['EBRIX_EMPTY_URL'] ?? 'http://127.0.0.1:4181' });
// The first page is empty once.
test.describe.configure({ retries: 0, mode: 'serial' });

/** Clicks and fields, counted as a person would. */
function counter() {
  let count = 0;
  return {
    get count() {
      return count;
    },
    click: async (target: Locator): Promise<void> => {
      count++;
      await target.click();
    },
    fill: async (target: Locator, text: string): Promise<void> => {
      count++;
      await target.fill(text);
    },
  };
}

/** Distance, bars, volts at rest, minutes: as noted in the saddle. */
const FRONT = [
  '18.8|5 3|41.9 38.4|0:50',
  '18.8|5 3|41.9 38.5|0:51',
  '18.7|5 3|41.8 38.3|0:50',
  '18.8|5 3|41.9 38.4|0:49',
];
const OLD = [
  '18.8|5 2|41.9 36.6|0:47',
  '18.9|5 2|41.9 36.5|0:48',
  '18.8|5 2|41.8 36.5|0:48',
  '18.8|5 2|41.9 36.6|0:47',
];

test('two conversions are compared from a notebook alone, in at most 40 clicks and fields', async ({ page }) => {
  const hands = counter();
  await page.goto('/');
  await expect(page.getByText('What do you have in hand?')).toBeVisible();
  await expectAccessible(page);
  await hands.click(page.getByRole('link', { name: 'A notebook full of rides' }));
  const cell = (label: string, row: number) => page.getByLabel(`${label}, row ${row}`);
  for (const [k, line] of [...FRONT, ...OLD].entries()) {
    const row = k + 1;
    const [distance, bars, volts, time] = line.split('|') as [string, string, string, string];
    // The name is carried down until another takes over.
    if (row === 1) await hands.fill(cell('Setup', row), 'Front hub');
    if (row === FRONT.length + 1) await hands.fill(cell('Setup', row), 'Old kit');
    await hands.fill(cell('Distance', row), distance);
    await hands.fill(cell('Bars, before and after', row), bars);
    await hands.fill(cell('Volts at rest, before and after', row), volts);
    await hands.fill(cell('Time', row), time);
  }
  await hands.fill(page.getByLabel('Bars when full', { exact: true }), '5');
  await hands.fill(page.getByLabel('Pack of Front hub, V and Ah'), '36 11');
  await hands.fill(page.getByLabel('Pack of Old kit, V and Ah'), '36 10');
  await expectAccessible(page);
  await hands.click(page.getByRole('button', { name: 'Store 8 rides' }));
  await expect(page.getByText('8 rides are stored as runs.')).toBeVisible();
  await hands.click(page.getByRole('button', { name: 'Compare Front hub, Old kit' }));
  await expect(page.locator('.verdict-line').first()).toContainText(
    /Front\shub\suses\s(about\s)?\d+\s%\sless\senergy\sper\skm\sthan\sOld\skit/,
  );
  await expect(page.getByText('8 counted')).toBeVisible();
  expect(hands.count).toBeLessThanOrEqual(40);
});

test('a page pasted twice is not taken twice, and a cell that cannot be read is named', async ({ page }) => {
  await page.goto('/notebook');
  await ready(page);
  const paste = page.getByLabel('Paste rows from a spreadsheet');
  await paste.fill(
    'Day\tSetup\tDistance\tBars\tTime\n2026-05-01\tFront hub\tfar\t5 3\t25 min\n2026-05-02\tFront hub\t9.4\t5 3\t25 min',
  );
  await page.getByLabel('Bars when full', { exact: true }).fill('5');
  await page.getByRole('button', { name: 'Store 2 rides' }).click();
  await expect(page.getByRole('alert')).toContainText('Row 1, Distance: “far” is not a number.');
  await page.getByLabel('Distance, row 1').fill('9.3');
  await page.getByRole('button', { name: 'Store 2 rides' }).click();
  await expect(page.getByText('2 rides are stored as runs.')).toBeVisible();
  await page.getByRole('button', { name: 'Another page of the notebook' }).click();
  await paste.fill('Day,Setup,Distance,Bars,Time\n2026-05-01,Front hub,9.3,5 3,25 min');
  await page.getByRole('button', { name: 'Store 1 ride' }).click();
  await expect(page.getByText('1 was here already and not taken twice')).toBeVisible();
});

const logs = (page: Page, side: string) =>
  page.getByRole('region', { name: `Side ${side}` }).locator('input[type=file]');
const csv = (name: string, current: number, salt: number) => ({
  name,
  mimeType: 'text/csv',
  buffer: Buffer.from(rideCsv(current, salt)),
});

test('two log files are compared in quick look in at most eight clicks and fields, and nothing is stored', async ({
  page,
}) => {
  const hands = counter();
  await page.goto('/trials/new/question');
  await hands.click(page.getByRole('link', { name: 'Quick look' }));
  await hands.click(page.getByRole('link', { name: 'Compare rides' }));
  await hands.fill(page.getByLabel('Name of side A'), 'Front hub');
  await hands.fill(page.getByLabel('Name of side B'), 'Old kit');
  // Choosing a file is a click each.
  await logs(page, 'A').setInputFiles(csv('a.csv', 5.2, 1));
  await logs(page, 'B').setInputFiles(csv('b.csv', 6.6, 2));
  await expect(page.locator('.verdict-line')).toContainText(
    /On these two rides Front hub uses \d+ % less energy per km than Old kit.*one ride each cannot say/,
  );
  expect(hands.count + 2).toBeLessThanOrEqual(8);
  await expectAccessible(page);
  const before = (await (await page.request.get('/api/runs')).json()) as { total: number };
  expect(before.total).toBe(10);
  // More rides a side: a comparison with an interval.
  await logs(page, 'A').setInputFiles([csv('a2.csv', 5.3, 3), csv('a3.csv', 5.1, 4)]);
  await logs(page, 'B').setInputFiles([csv('b2.csv', 6.5, 5), csv('b3.csv', 6.7, 6)]);
  await expect(page.locator('.verdict-line').first()).toContainText('and it matters');
  await page.getByRole('button', { name: 'Keep these rides' }).click();
  // These logs tell no day: it is asked, for a day of one’s own would make them another outing.
  for (const name of ['Front hub', 'Old kit']) await page.getByLabel(`Day of the rides of ${name}`).fill('2026-05-09');
  await page.getByRole('button', { name: 'Make setups and runs of them' }).click();
  // “Front hub” and “Old kit” are setups since the first test: runs of theirs are made.
  await expect(page.getByText('6 rides are stored as runs.')).toBeVisible();
  await page.getByRole('button', { name: /^Compare Front hub/ }).click();
  await expect(page.locator('.verdict-line').first()).toContainText('less energy per km');
});

test('lead-acid blocks on a trailer go through their checks, asked for a fuse and a hitch but for no BMS', async ({
  page,
}) => {
  const make = async (path: string, body: object): Promise<{ id: string }> => {
    const answer = await page.request.post(`/api/${path}`, { data: body });
    expect(answer.ok()).toBe(true);
    return (await answer.json()) as { id: string };
  };
  const bike = await make('bench/bikes', { name: 'Coal bike', massKg: 19, frontTyreLimitKg: 90, rearTyreLimitKg: 90 });
  const kit = await make('bench/kits', {
    name: 'Front hub 48',
    motorKind: 'front-hub',
    currentLimitA: 20,
    cutoffV: 43,
  });
  const pack = await make('bench/packs', {
    name: 'Four blocks of 12 V',
    chemistry: 'lead-acid',
    nominalVoltageV: 48,
    seriesCells: 24,
    capacityAh: 20,
    massKg: 26,
    mountKind: 'trailer',
  });
  const trailer = await make('bench/add-ons', {
    name: 'Two-wheel trailer',
    kind: 'trailer',
    place: 'trailer',
    massKg: 9,
    limitKg: 40,
  });
  const setup = await make('setups', {
    name: 'Coal bike with blocks',
    revision: {
      bikeId: bike.id,
      kitId: kit.id,
      packIds: [pack.id],
      addOnIds: [trailer.id],
      settings: {},
      change: 'As first fitted',
    },
  });
  await page.goto(`/bench/setups/${setup.id}/checks`);
  await ready(page);
  const check = (id: string) => page.locator(`#check-${id}`);
  await expect(page.getByRole('region', { name: 'Measure these first' })).toBeVisible();
  await expect(check('protection-current')).toHaveCount(0);
  await expect(check('fuse')).toContainText('fuse of every pack');
  await expect(check('wire-heat')).toContainText('likely passes');
  await expect(check('wire-heat')).toContainText('Taken as usual: wires of 4 mm²');
  await check('trailer-hitch').getByRole('button', { name: 'Checked: it is right' }).click();
  await page.getByLabel('Your name').fill('Ottoline Vask');
  await page.getByRole('button', { name: 'Confirm', exact: true }).click();
  await page.getByText(/^\d+ passed$/).click();
  await expect(check('trailer-hitch')).toContainText('Confirmed by Ottoline Vask');
  await expect(check('trailer-load')).toContainText('26 kg of packs + 0 kg payload = 26 kg of 40 kg');
  await expectAccessible(page);
});
