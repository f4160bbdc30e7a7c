import { deflateSync } from 'node:zlib';
import { choose, expect, expectAccessible, ready, test } from './fixtures.js';
import type { APIRequestContext, Page } from '@playwright/test';

interface Named {
  readonly id: string;
  readonly name: string;
}
async function idOf(request: APIRequestContext, name: string): Promise<string> {
  const setups = (await (await request.get('/api/setups')).json()) as Named[];
  return setups.find((setup) => setup.name === name)!.id;
}
const json = (name: string, text: string) => ({ name, mimeType: 'application/json', buffer: Buffer.from(text) });

/** Puts the focus on something by Tab alone, as a person without a mouse has to. */
async function tabTo(page: Page, name: string): Promise<void> {
  for (let k = 0; k < 120; k++) {
    await page.keyboard.press('Tab');
    const here = await page.evaluate(() => {
      const element = document.activeElement;
      return element?.getAttribute('aria-label') ?? element?.textContent ?? '';
    });
    if (here === name) return;
  }
  throw new Error(`Tab does not reach "${name}"`);
}

test('a setup is built from parts, meets a failing check, is mended, and passes its safety checks by keyboard', async ({
  page,
}) => {
  test.setTimeout(180_000);
  await page.goto('/bench/setups');
  await ready(page);
  await page.keyboard.press('n');
  await expect(page.getByRole('heading', { name: 'New setup' })).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('Dromel D5 on the small pack');
  await choose(page, 'Bike', 'Round bike 3, step');
  await choose(page, 'Kit', 'Dromel');
  await choose(page, 'Packs', 'Fennock 44');
  await page.keyboard.press('Escape');
  await choose(page, 'Charger', '50.4');
  await choose(page, 'Limits to meet', 'Town');
  const live = page.getByRole('complementary', { name: 'Sums and checks' });
  await expect(live.getByText('44 V pack on a 52 V kit: too low')).toBeVisible();
  await expect(live.getByText('19 A × 1.2 = 22.8 A; BMS carries 22 A')).toBeVisible();
  await page.getByRole('button', { name: 'Save setup' }).click();

  // The wrong pack is seen before anything is bought: choose the right one, fill in how it is put together.
  await expect(page.getByText(/checks that can hurt someone keep this bike off the road/)).toBeVisible();
  await page.getByRole('link', { name: 'Change parts or fit' }).click();
  await expect(page.getByRole('heading', { name: /^New revision of/ })).toBeVisible();
  // The tag takes its pack's name when the parts have come, and may be redrawn under the pointer just then.
  const packs = page.locator('.ant-select-selection-item-remove, .ant-select-item-remove');
  await expect(packs).toHaveCount(1);
  await expect(async () => {
    if ((await packs.count()) > 0) await packs.first().click();
    await expect(packs).toHaveCount(0, { timeout: 1500 });
  }).toPass();
  await choose(page, 'Packs', 'Fennock 52 V 13');
  await page.keyboard.press('Escape');
  await choose(page, 'Charger', '58.8');
  for (const [label, value] of [
    ['Inner washers, left', '1.5'],
    ['Inner washers, right', '1,5'],
    ['Cog spacer thickness', '1'],
    ['Number of cog spacers', '2'],
    ['Disc bolt length', '11'],
    ['Washers under disc', '0'],
    ['Rotor thickness', '1.8'],
    ['Heaviest rider', '78'],
    ['Heaviest payload', '18'],
    ['Speed limit setting', '25'],
  ] as const)
    await page.getByLabel(label, { exact: true }).fill(value);
  await expect(live.getByText(/The bolts bite into the cover/)).toBeVisible();
  await page.getByLabel('Washers under disc', { exact: true }).fill('0.8');
  await expect(live.getByText(/The bolts bite into the cover/)).toBeHidden();
  await expect(live.getByText('can hurt someone')).toHaveCount(0);
  await page.getByLabel('What changed').fill('Right pack and charger, washers under the disc');
  await page.getByRole('button', { name: 'Save as revision 2' }).click();
  await expect(page.getByText('Nothing that can hurt someone is failed or open.')).toBeVisible();
  await expectAccessible(page);

  // The safety checks, without a mouse: the sixth step by its key, then Tab and Enter.
  await page.keyboard.press('6');
  await expect(page.getByText(/Do not ride yet: 8 safety checks still to do/)).toBeVisible();
  await tabTo(page, 'Pass: Torque arm and axle nuts');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Ottoline Vask');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('listitem', { name: 'Torque arm and axle nuts: passed' })).toBeVisible();
  for (const gate of [
    'Both brakes',
    'Brake cuts the motor',
    'Cables',
    'Battery locked and held',
    'Lithium pack',
    'Helmet',
  ]) {
    // The next open check has the focus; the name is remembered, so Enter twice is enough.
    await expect(page.getByRole('button', { name: `Pass: ${gate}` })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('button', { name: 'Passed', exact: true })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('listitem', { name: `${gate}: passed` })).toBeVisible();
  }
  await tabTo(page, 'Waive in writing: First metres');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Ridden on the yard since March.');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/All safety checks of revision 2 are passed or waived/)).toBeVisible();

  await page.keyboard.press('7');
  await expect(page.getByRole('row', { name: /Right pack and charger/ })).toContainText(
    'Fennock 44 V 11.6 Ah → Fennock 52 V 13.2 Ah',
  );
});

test('two windows editing one setup end in a clear choice, with nothing lost', async ({ page, context, request }) => {
  test.setTimeout(120_000);
  const id = await idOf(request, 'Corvane R2, puncture-proof tyres');
  const edit = async (one: Page, limit: string, change: string): Promise<void> => {
    await one.getByLabel('Current limit setting').fill(limit);
    await one.getByLabel('What changed').fill(change);
  };
  const other = await context.newPage();
  for (const one of [page, other]) {
    await one.goto(`/bench/setups/${id}/edit`);
    await ready(one);
    await expect(one.getByLabel('Current limit setting')).toBeVisible();
  }
  await edit(other, '13', 'Limit for the long round');
  await other.getByRole('button', { name: 'Save as revision 2' }).click();
  await expect(other.getByRole('heading', { name: 'Corvane R2, puncture-proof tyres' })).toBeVisible();

  await edit(page, '12', 'Limit for the hot days');
  await page.getByRole('button', { name: 'Save as revision 2' }).click();
  const choice = page.getByRole('alert');
  await expect(choice).toContainText('Revision 2 was saved meanwhile: “Limit for the long round”.');
  await expect(choice.getByRole('row', { name: 'Current limit setting' })).toContainText('13 A');
  await expect(choice.getByRole('row', { name: 'Current limit setting' })).toContainText('12 A');
  await expect(page.getByLabel('What changed')).toHaveValue('Limit for the hot days');
  await page.reload();
  await expect(page.getByLabel('What changed')).toHaveValue('Limit for the hot days');
  // After the reload this window knows of revision 2, and says so by the number it would save.
  await page.getByRole('button', { name: 'Save as revision 3' }).click();
  await page.goto(`/bench/setups/${id}/history`);
  await ready(page);
  await expect(page.getByRole('row', { name: /Limit for the hot days/ })).toContainText('13 A → 12 A');
  await expect(page.getByRole('row', { name: /Limit for the long round/ })).toBeVisible();
});

test('a setup travels as one file, and a bad one is refused in plain words', async ({ page, request }) => {
  const id = await idOf(request, 'Quillon M3, 52 V mid motor');
  const file = await (await request.get(`/api/setups/${id}/file`)).text();
  await page.goto('/bench/setups');
  await ready(page);
  const input = page.getByLabel('Setup file');
  await input.setInputFiles([json('half.json', file.slice(0, 200))]);
  await expect(page.getByRole('alert')).toContainText('not valid JSON');
  await expect(page.getByRole('alert')).toContainText('Nothing was stored.');
  await input.setInputFiles([json('heavy.json', file.replace(/"massKg":4.9/, '"massKg":-4.9'))]);
  await expect(page.getByRole('alert')).toContainText('kit.massKg: Must be above 0.');
  await input.setInputFiles([json('setup.json', file)]);
  await expect(page.getByRole('heading', { name: 'Quillon M3, 52 V mid motor (2)' })).toBeVisible();
  await expect(page.getByText('8 of 9 to do')).toBeVisible();
});

test('a photo is kept small, and one that unfolds too far is refused', async ({ page, request }) => {
  const id = await idOf(request, 'Corvane R2, 44 V rear hub');
  await page.goto(`/bench/setups/${id}`);
  await ready(page);
  const input = page.getByLabel('Photo file');
  await input.setInputFiles([{ name: 'bomb.png', mimeType: 'image/png', buffer: png(50_000, 64) }]);
  await expect(page.getByRole('alert')).toContainText('million pixels');
  await page.getByLabel('Caption of the next photo').fill('Washers on the left');
  await input.setInputFiles([{ name: 'washers.png', mimeType: 'image/png', buffer: png(24, 24) }]);
  await expect(page.getByRole('img', { name: 'Washers on the left' })).toBeVisible();
  await page.getByRole('button', { name: 'Remove Washers on the left' }).click();
  await expect(page.getByRole('img', { name: 'Washers on the left' })).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('img', { name: 'Washers on the left' })).toBeVisible();
  await page.getByRole('button', { name: 'Remove Washers on the left' }).click();
});

test('a fitting clock survives a reload, and steps move by keyboard', async ({ page, request }) => {
  const id = await idOf(request, 'Dromel D5 on bread bike 5');
  await page.goto(`/bench/setups/${id}/fitting`);
  await ready(page);
  await page.getByRole('button', { name: 'Start the clock: Unpack, weigh and photograph' }).click();
  await expect(page.getByText(/the clock runs on “Unpack/)).toBeVisible();
  await page.reload();
  await ready(page);
  await expect(page.getByRole('timer')).toHaveText(/0:0[1-9]|0:[1-5]\d|[1-9]:\d\d/);
  await page.getByRole('button', { name: 'Stop the clock: Unpack, weigh and photograph' }).click();
  await expect(page.getByText(/the clock runs on/)).toBeHidden();

  await page.getByRole('button', { name: /^Move “Bike on the stand/ }).focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(300);
  await page.keyboard.press('ArrowDown');
  await page.waitForTimeout(300);
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: '2. Remove the rear wheel' })).toBeVisible();
  await page.reload();
  await ready(page);
  await expect(page.getByRole('button', { name: '3. Bike on the stand, battery away' })).toBeVisible();
});

test('a setup shows two failing checks and waivers, in both unit systems, and prints for the toolbox', async ({
  page,
  request,
}) => {
  const id = await idOf(request, 'Dromel D5 on bread bike 5');
  await page.goto(`/bench/setups/${id}/checks`);
  await ready(page);
  await expect(page.getByText('2 failed, 3 waived, 30 passed')).toBeVisible();
  await expect(page.locator('#check-handlebar-room')).toContainText('Waived by Ottoline Vask');
  await page.keyboard.press('1');
  const sums = page.getByRole('group', { name: 'Sums of this setup' });
  await expect(sums).toContainText('123.5 kg');
  await page.getByRole('button', { name: /Units: metric/ }).click();
  // 123.506 kg ÷ 0.45359237, and 25 km/h ÷ 1.609344.
  await expect(sums).toContainText('272.3 lb');
  await expect(page.getByRole('row', { name: /Assist ends at/ })).toContainText('15.5 mph');
  await page.getByRole('button', { name: /Units: imperial/ }).click();

  await page.goto(`/bench/setups/${id}/toolbox`);
  await ready(page);
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeHidden();
  await expect(page.getByText('☐ Both brakes')).toBeVisible();
  const pdf = await page.pdf({ format: 'A4', margin: { top: '12mm', bottom: '12mm', left: '12mm', right: '12mm' } });
  expect(pdf.toString('latin1').match(/\/Type\s*\/Page\b/g)!.length).toBeLessThanOrEqual(2);
});

/** A black PNG of `side`² pixels by its header, with the data of `rows` rows: more of the header's than are there is a bomb. */
function png(side: number, rows: number): Buffer {
  const table = Array.from({ length: 256 }, (_, n) => {
    let c = n;
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
    return c >>> 0;
  });
  const crc = (bytes: Buffer): number =>
    (bytes.reduce((c, byte) => table[(c ^ byte) & 0xff]! ^ (c >>> 8), 0xffffffff) ^ 0xffffffff) >>> 0;
  const chunk = (type: string, data: Buffer): Buffer => {
    const body = Buffer.concat([Buffer.from(type), data]);
    const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
    length.writeUInt32BE(data.length);
    sum.writeUInt32BE(crc(body));
    return Buffer.concat([length, body, sum]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(side, 0);
  head.writeUInt32BE(side, 4);
  head.set([8, 0, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(Buffer.alloc((side + 1) * rows))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}
