import { readFileSync } from 'node:fs';
import { choose, expect, expectAccessible, ready, test } from './fixtures.js';

test('two uses have different winners; a weight that is moved turns the answer, and is kept', async ({ page }) => {
  await page.goto('/decide');
  await ready(page);
  await page.getByRole('link', { name: 'Bread round, level' }).click();
  const answer = page.locator('.use-answer');
  await expect(answer).toContainText(/^Corvane R2/);
  await page.getByRole('link', { name: 'Milk round over the hill' }).click();
  await expect(answer).toContainText(/^Quillon M3/);
  await expectAccessible(page);

  await page.getByRole('button', { name: 'New use' }).click();
  await page.getByRole('button', { name: 'Remove Added mass' }).click();
  await page.getByRole('button', { name: 'Remove Cost of the conversion' }).click();
  const alone = await answer.textContent();
  await choose(page, 'Add something that counts', 'Cost of the conversion');
  const cost = page.getByRole('slider', { name: 'Weight of Cost of the conversion' });
  await cost.focus();
  await page.keyboard.press('End');
  await expect(answer).not.toHaveText(alone!);
  await page.getByRole('button', { name: 'What Cost of the conversion is worth' }).click();
  await page.getByRole('slider', { name: /^Corner 1/ }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('button', { name: 'Back to the usual curve' })).toBeVisible();
  await page.getByLabel('Name of the use').fill('Errands');
  await page.getByRole('button', { name: 'Save the use' }).click();
  await expect(page.getByRole('link', { name: 'Errands' })).toHaveAttribute('aria-current', 'page');
  await page.reload();
  await ready(page);
  await expect(page.getByRole('button', { name: 'Archive' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Archive' }).click();
  await expect(page.getByRole('button', { name: 'Restore' })).toBeVisible();
});

test('a list of purchases becomes what 100 km cost and when it has paid', async ({ page }) => {
  await page.goto('/decide/money');
  await ready(page);
  await choose(page, 'Setup', 'Quillon M3, 52 V mid motor');
  await expect(page.getByText(/Has paid against A second-hand moped after about/)).toBeVisible();
  const before = await page.locator('.cost-strip dd').first().textContent();
  await page.getByRole('button', { name: 'Add a line' }).click();
  await page.getByRole('group', { name: 'Purchases' }).getByRole('textbox').first().waitFor();
  const lines = page.locator('.of-purchases');
  await lines.last().getByLabel('What').fill('Chain ring');
  await lines.last().getByLabel('Price').fill('42,50');
  await page.getByRole('button', { name: 'Save the purchases' }).click();
  await expect(page.locator('.cost-strip dd').first()).not.toHaveText(before!);
  await expectAccessible(page);
});

test('a report is put together, shown, issued, and opens as a file without network or scripts', async ({
  page,
  browser,
}) => {
  await page.goto('/decide/reports/new');
  await ready(page);
  await choose(page, 'Trial', 'Which kit for the level round?');
  await page.getByLabel('Title').fill('For the co-operative');
  await page.getByRole('button', { name: 'Add own words' }).click();
  await page.getByRole('textbox', { name: /^Own words/ }).fill('Take the **hub** <script>alert(1)</script>');
  // The preview runs no scripts, and so cannot be looked through by one.
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Preview' }).click();
  await expect(page.locator('iframe')).toHaveAttribute('srcdoc', /<h1>For the co-operative<\/h1>/);
  await page.getByLabel('Issued by').fill('Ottoline Vask');
  await page.getByRole('button', { name: 'Issue', exact: true }).click();
  const row = page.getByRole('row', { name: /For the co-operative/ }).first();
  await expect(row).toBeVisible();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    row.getByRole('link', { name: 'Save as HTML' }).click(),
  ]);
  const offline = await browser.newContext({ javaScriptEnabled: false, offline: true });
  const alone = await offline.newPage();
  await alone.setContent(readFileSync(await file.path(), 'utf8'));
  await expect(alone.getByText('Everything in this report is a made-up example')).toBeVisible();
  await expect(alone.getByText('<script>alert(1)</script>')).toBeVisible();
  await expect(alone.getByText(/check your local rules/i)).toBeVisible();
  await offline.close();
});

test('the whole installation goes into one package, which says of itself that it is here already', async ({ page }) => {
  await page.goto('/decide/data');
  await ready(page);
  await expectAccessible(page);
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Make the data package' }).click(),
  ]);
  await page.getByLabel('Choose a data package').setInputFiles(await file.path());
  await expect(page.getByText(/Everything of an installation, made on/)).toBeVisible();
  await page.getByRole('button', { name: 'Leave it' }).click();
  await page
    .getByLabel('Choose a data package')
    .setInputFiles({ name: 'x.zip', mimeType: 'application/zip', buffer: Buffer.from('no') });
  await expect(page.getByText('This is not a zip file, or it is cut off. Nothing was stored.')).toBeVisible();
});

test('what other testers found stands beside the own answer', async ({ page }) => {
  await page.goto('/trials');
  await ready(page);
  await page.getByRole('link', { name: 'Which kit for the level round?' }).first().click();
  await page.getByRole('link', { name: /^Verdict/ }).click();
  const elsewhere = page.locator('details.elsewhere').first();
  await expect(elsewhere.getByRole('table').first()).toContainText('All together');
  await expect(elsewhere).toContainText('With 3 testers that is hardly known');
});

test('deciding works on a phone', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  for (const path of ['/decide/uses', '/decide/money', '/decide/reports', '/decide/data']) {
    await page.goto(path);
    await ready(page);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  }
});
