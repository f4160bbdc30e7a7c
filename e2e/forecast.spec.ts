import { choose, expect, expectAccessible, ready, test } from './fixtures.js';

const KEPT = 'The loaded round';

test('from a setup to a forecast: slider, address, kept, set against the ride', async ({ page, request, browser }) => {
  const setups = (await (await request.get('/api/setups')).json()) as { id: string; name: string }[];
  // A first try that failed midway left its own behind.
  const left = (await (await request.get('/api/forecasts')).json()) as { id: string; title: string }[];
  for (const { id, title } of left) if (title === KEPT) await request.delete(`/api/forecasts/${id}`);
  const corvane = setups.find(({ name }) => name.startsWith('Corvane R2, 44'))!;
  await page.goto(`/bench/setups/${corvane.id}`);
  await ready(page);
  await page.getByRole('link', { name: 'Forecast' }).last().click();
  await choose(page, 'Course', 'Chapel Hill round');
  const answer = page.locator('.use-answer');
  await expect(answer).toContainText(/5\.6 km in .* \(.* to .*\), out of the battery/);
  await expect(page.getByRole('region', { name: 'Answer' })).toHaveAttribute('aria-busy', 'false');
  await expectAccessible(page);

  const before = (await answer.textContent())!;
  const load = page.getByRole('slider', { name: /All there is/ });
  await load.focus();
  for (let k = 0; k < 25; k++) await page.keyboard.press('ArrowRight');
  await expect(answer).not.toHaveText(before);
  await expect(page.getByText(/Ridden so far with .* kg; here/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'Answer' })).toHaveAttribute('aria-busy', 'false');
  const words = (await answer.textContent())!;

  // The address is the whole question: another window answers the same.
  const other = await browser.newPage();
  await other.goto(page.url());
  await expect(other.locator('.use-answer')).toHaveText(words);
  await other.close();

  await page.getByRole('button', { name: 'Keep this forecast' }).click();
  await page.getByLabel('What it is for').fill(KEPT);
  await page.getByRole('button', { name: 'Keep it' }).click();
  const kept = page.locator('.kept > li').filter({ hasText: KEPT });
  await expect(kept).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep it' })).toBeHidden();
  await choose(page, `Ride of ${KEPT}`, 'Level round');
  await expect(kept.getByText(/Ridden on/)).toBeVisible();
  await expect(kept.getByText(/side its span/).first()).toBeVisible();
  await page.reload();
  await expect(kept.getByText(/Ridden on/)).toBeVisible();
  await kept.getByRole('button', { name: 'Take the ride away' }).click();
  await expect(kept.getByText('Set against a ride')).toBeVisible();
  await kept.getByRole('button', { name: /^Delete/ }).click();
  await page.getByRole('button', { name: 'Delete', exact: true }).last().click();
  await expect(kept).toHaveCount(0);
});

test('a climb gets too hot with the bread and not without, and a steep one says what was never ridden', async ({
  page,
}) => {
  await page.goto('/forecast');
  await ready(page);
  const warmth = async (title: string): Promise<number> => {
    const text = await page.locator('.kept > li').filter({ hasText: title }).textContent();
    return Number(/highest motor temperature (\d+)/.exec(text!)![1]);
  };
  // As they were kept: the demo's limit is 95 °C.
  await expect(page.getByRole('link', { name: 'Windmill road with 48 kg of bread' })).toBeVisible();
  expect(await warmth('Windmill road with 48 kg of bread')).toBeGreaterThan(95);
  expect(await warmth('Windmill road on a warm day')).toBeLessThan(95);
  await page.getByRole('link', { name: 'Windmill road with 48 kg of bread' }).click();
  await expect(page.locator('.use-answer')).toContainText('out of the battery');
  await expect(page.getByText(/Ridden so far with .* kg; here/)).toBeVisible();
  await choose(page, 'Course', 'A slope of my own');
  await page.getByLabel('Slope', { exact: true }).fill('14');
  await expect(page.getByText(/Steepest you rode: .* %; here 14 %/)).toBeVisible();
  await page.getByLabel('Length of the slope').fill('20');
  await expect(page.locator('.use-answer')).toBeVisible();
});
