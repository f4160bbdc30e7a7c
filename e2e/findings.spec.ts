import { choose, expect, file, outingCsv, ready, test } from './fixtures.js';

const salt = Date.now() % 100_000;

test('the log of an outing becomes five runs, each of its kind', async ({ page }) => {
  await page.goto('/import');
  await ready(page);
  await page
    .getByLabel('Choose log files')
    .last()
    .setInputFiles([file('outing.csv', outingCsv(salt))]);
  await expect(page.getByRole('heading', { name: 'outing.csv' })).toBeVisible();
  await choose(page, 'Setup', 'Corvane R2, 44');
  await choose(page, 'Course', 'Quay straight');
  await choose(page, 'Outing', 'Sunday on the quay');
  await page.getByRole('button', { name: 'Split into several runs' }).click();
  const runs = page.getByRole('region', { name: 'Runs in outing.csv' });
  await expect(runs.getByRole('heading', { name: '5 of 5 runs selected' })).toBeVisible();
  for (const [k, kind] of [
    'Range and consumption',
    'Assist response',
    'Coast-down',
    'Hill climb',
    'Assist levels',
  ].entries())
    await expect(runs.getByRole('row').nth(k + 1)).toContainText(kind);
  await runs.getByRole('checkbox', { name: 'Run 1' }).uncheck();
  await expect(page.getByRole('button', { name: 'Make 4 runs' })).toBeVisible();
  await runs.getByRole('checkbox', { name: 'Run 1' }).check();
  await page.getByRole('button', { name: 'Make 5 runs' }).click();
  const row = page.getByRole('listitem').filter({ hasText: 'outing.csv' });
  await expect(row.getByText('done.')).toBeVisible({ timeout: 60_000 });
  await row.getByRole('link', { name: 'Open the first of 5 runs' }).click();
  await expect(page.getByText('Range and consumption', { exact: false }).first()).toBeVisible();
  const { items } = (await (await page.request.get('/api/runs?text=outing.csv&pageSize=50')).json()) as {
    items: { testKind: string; id: string }[];
  };
  expect(items.map(({ testKind }) => testKind).sort()).toEqual([
    'assist-levels',
    'assist-response',
    'coast-down',
    'hill-climb',
    'range',
  ]);
});

test('an edge of a pass is dragged, the figures follow, and undo brings the old ones back', async ({ page }) => {
  const { items } = (await (await page.request.get('/api/runs?kind=top-speed&text=top-speed')).json()) as {
    items: { id: string }[];
  };
  await page.goto(`/runs/${items[0]!.id}`);
  await ready(page);
  const speed = page.getByRole('button', { name: /Two-way top speed/ }).first();
  await expect(speed).toBeVisible();
  const before = await speed.textContent();
  const edge = page.getByRole('slider', { name: 'Start of Pass 1, there' });
  const at = Number(await edge.getAttribute('aria-valuenow'));
  await edge.scrollIntoViewIfNeeded();
  const box = (await edge.boundingBox())!;
  const x = box.x + box.width / 2;
  await page.mouse.move(x, box.y + 8);
  await page.mouse.down();
  // Back into the time when the bike still gathers speed: the mean falls.
  await page.mouse.move(x - 120, box.y + 8, { steps: 8 });
  await page.mouse.up();
  const undo = page.getByRole('button', { name: /^Undo: Pass 1, there: start moved/ });
  await expect(undo).toBeVisible();
  await expect(speed).not.toHaveText(before!, { timeout: 30_000 });
  await expect(page.getByText('Recalculating …')).toHaveCount(0, { timeout: 30_000 });
  await expect
    .poll(async () =>
      Number(await page.getByRole('slider', { name: 'Start of Pass 1, there' }).getAttribute('aria-valuenow')),
    )
    .toBeLessThan(at - 5);
  // The hand goes from the chart to the button: what is read at the cursor must not move it away meanwhile.
  const overChart = (await undo.boundingBox())!;
  await page.mouse.move(4, 4);
  await expect(page.getByText('min:s from the start')).toBeVisible();
  expect((await undo.boundingBox())!.y).toBe(overChart.y);
  await undo.click();
  await expect(speed).toHaveText(before!, { timeout: 30_000 });
  await page.getByText(/^Corrections \(/).click();
  await expect(page.getByText('(undone)').first()).toBeVisible();
  await expect(page.getByText(/^Earlier values/)).toBeVisible();
});

test('an edge is moved with the keys', async ({ page }) => {
  const { items } = (await (await page.request.get('/api/runs?kind=coast-down&text=coast-down')).json()) as {
    items: { id: string }[];
  };
  await page.goto(`/runs/${items[0]!.id}`);
  await ready(page);
  const edge = page.getByRole('slider', { name: 'End of Coast 2, back' });
  await edge.focus();
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowLeft');
  await page.keyboard.press('Enter');
  const undo = page.getByRole('button', { name: /^Undo: Coast 2, back: end moved/ });
  await expect(undo).toBeVisible();
  await undo.click();
  await expect(undo).toHaveCount(0);
});
