import { expect, ready, test } from './fixtures.js';

test('a run is left out with its reason and brought back by undo', async ({ page }) => {
  await page.goto('/runs?text=Dromel');
  await ready(page);
  await page.getByRole('table').getByRole('link').first().click();
  await page.getByRole('button', { name: 'Leave out' }).click();
  const dialog = page.getByRole('dialog', { name: 'Leave this run out' });
  await dialog.getByRole('button', { name: 'Leave out' }).click();
  await expect(dialog.getByText('Write the reason, if only a word.')).toBeVisible();
  await dialog.getByLabel('Why').fill('Rode a detour past the quay.');
  await dialog.getByRole('button', { name: 'Leave out' }).click();
  await expect(page.getByText('Left out of comparisons: Rode a detour past the quay.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Left out of comparisons: Rode a detour')).toBeHidden();
  await expect(page.getByText('Left out earlier and included again')).toBeVisible();
});

test('a figure opens its derivation, the chart zooms by drag, and the address keeps both', async ({ page }) => {
  await page.goto('/runs?text=morning');
  await ready(page);
  await page.getByRole('table').getByRole('link').first().click();
  await page
    .getByRole('button', { name: /^Net consumption: .*How it was calculated/ })
    .first()
    .click();
  const derivation = page.getByRole('region', { name: 'How Net consumption was calculated' });
  await expect(derivation).toContainText('(energy out − energy regenerated) ÷ distance');
  await expect(derivation.getByRole('row', { name: /current gain/ })).toBeVisible();

  const chart = page.getByLabel(/^Strip recorder/);
  await chart.scrollIntoViewIfNeeded();
  const box = (await chart.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.4, box.y + 60);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.6, box.y + 60, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Show the whole ride' })).toBeVisible();
  await expect(page).toHaveURL(/figure=netConsumption.*from=\d/);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Show the whole ride' })).toBeVisible();
  await chart.focus();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Show the whole ride' })).toBeHidden();
});

test('filters and sorting live in the address', async ({ page }) => {
  await page.goto('/runs');
  await ready(page);
  await page.keyboard.press('/');
  await page.keyboard.type('tyres');
  await expect(page).toHaveURL(/text=tyres/);
  await page.getByRole('columnheader', { name: /^Net/ }).getByRole('button').click();
  await expect(page).toHaveURL(/sort=netConsumption&order=up|order=up&sort=netConsumption/);
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Search' })).toHaveValue('tyres');
  await expect(page.getByRole('columnheader', { name: /^Net/ })).toHaveAttribute('aria-sort', 'ascending');
});

test('units change everywhere at once, and stored data stays as it is', async ({ page }) => {
  await page.goto('/trials');
  await page.getByText('Which kit for the level round?').click();
  await expect(page.locator('.verdict-line').first()).toContainText('energy per km');
  await page.getByRole('button', { name: /Units: metric/ }).click();
  await expect(page.locator('.verdict-line').first()).toContainText('energy per mile');
  await expect(page.getByText(/net consumption, Wh\/mi/)).toBeVisible();
  await page.goto('/runs');
  await expect(page.getByRole('columnheader', { name: /Distance, mi/ })).toBeVisible();
  await page.getByRole('button', { name: /Units: imperial/ }).click();
  await expect(page.getByRole('columnheader', { name: /Distance, km/ })).toBeVisible();
});

test('a verdict shows what the runs left out would have changed', async ({ page }) => {
  await page.goto('/trials');
  await page.getByText('Do puncture-proof tyres cost energy?').click();
  await expect(page.getByRole('heading', { name: 'Runs left out' })).toBeVisible();
  await expect(page.getByRole('link', { name: /left out$/ }).first()).toBeVisible();
});
