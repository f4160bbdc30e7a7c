import { expect, file, ready, rideCsv, test } from './fixtures.js';

test('a log shows its channels and figures, and nothing is stored', async ({ page, request }) => {
  const runs = async (): Promise<number> =>
    ((await (await request.get('/api/runs')).json()) as { total: number }).total;
  const before = await runs();
  await page.goto('/quick-look');
  await ready(page);
  await page
    .getByLabel('Choose a log')
    .last()
    .setInputFiles([file('look.csv', rideCsv(5, 7))]);
  await expect(page.getByRole('button', { name: /^Net consumption: / }).first()).toBeVisible();
  await expect(page.getByText("pack's capacity and voltage are not known")).toBeVisible();
  await page.getByLabel('Pack capacity').fill('13');
  await page.getByLabel('Nominal voltage').fill('36');
  await page.getByRole('button', { name: 'Recalculate with these' }).click();
  await expect(page.getByRole('button', { name: /^Range to cut-off: / })).toBeVisible();
  expect(await runs()).toBe(before);
});

test('a file that must be asked about is read once it is answered', async ({ page }) => {
  await page.goto('/quick-look/log');
  await ready(page);
  await page
    .getByLabel('Choose a log')
    .last()
    .setInputFiles([file('asked.csv', rideCsv(5, 8).replace('speed (km/h)', 'speed'))]);
  await expect(page.getByRole('alert')).toContainText('In which unit is speed');
  await page.getByRole('combobox', { name: 'Unit of speed' }).focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Read it this way' }).click();
  await expect(page.getByRole('button', { name: /^Mean moving speed: / }).first()).toBeVisible();
});

test('a table of results gives a verdict', async ({ page }) => {
  await page.goto('/quick-look/table');
  await ready(page);
  const csv =
    'kit,Wh per km\n' +
    [9.1, 9.3, 9.2, 9.4].map((v) => `Corvane,${v}`).join('\n') +
    '\n' +
    [10.4, 10.6, 10.5, 10.8].map((v) => `Dromel,${v}`).join('\n');
  await page
    .getByLabel('Choose a table')
    .last()
    .setInputFiles([file('results.csv', csv)]);
  await page.getByRole('button', { name: 'Compare' }).click();
  await expect(page.locator('.verdict-line').first()).toContainText(
    /Corvane has 13 % less Wh per km than Dromel, and it matters/,
  );
});

test('a file that is no log gets its sentence', async ({ page }) => {
  await page.goto('/quick-look/log');
  await ready(page);
  await page
    .getByLabel('Choose a log')
    .last()
    .setInputFiles([file('empty.csv', '')]);
  await expect(page.getByRole('alert')).toContainText('The file is empty');
});
