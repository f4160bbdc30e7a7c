import type { Page } from '@playwright/test';
import { choose, expect, expectAccessible, ready, test } from './fixtures.js';

const PACE = '60 times as fast';
const PHONE = { width: 390, height: 844 };

const state = (page: Page) => page.locator('.console-state');

/** From "Prepare this run" to the figures, ridden by the simulated logger. */
async function rideSimulated(page: Page): Promise<void> {
  await expect(state(page)).toHaveText('Prepare');
  await page.getByRole('button', { name: 'Ready to ride' }).click();
  await expect(state(page)).toHaveText('Ready');
  await choose(page, 'How fast', PACE);
  await page.getByRole('button', { name: 'Ride it simulated' }).click();
  await expect(state(page)).toHaveText('Finished', { timeout: 120_000 });
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(state(page)).toHaveText('Kept');
  await expect(page.getByRole('link', { name: 'Open the run' })).toBeVisible();
}

test('a question is planned, printed, ridden simulated in the planned order, and ends in figures', async ({ page }) => {
  test.setTimeout(600_000);
  await page.goto('/trials/new/question');
  await ready(page);
  await choose(page, 'Start from a template', 'Hub motor or mid');
  await page.getByLabel('Question', { exact: true }).fill('Which motor climbs Chapel Hill with less energy?');
  await choose(page, 'Course', 'Chapel Hill climb');
  await page.getByRole('button', { name: 'Save and choose setups' }).click();
  await expect(page.getByRole('heading', { level: 1, name: /climbs Chapel Hill/ })).toBeVisible();
  await choose(page, 'Add a setup', 'Corvane R2, 44');
  await expect(page.getByRole('cell', { name: /A Corvane R2, 44 V rear hub/ })).toBeVisible();
  await choose(page, 'Add a setup', 'Quillon M3, 52');
  await expect(page.getByRole('cell', { name: /B Quillon M3/ })).toBeVisible();
  await page.getByRole('link', { name: 'On to the plan' }).click();

  // The plan: too few runs are said to be too few; the order is judged as it is changed.
  await expect(page.getByText('Hill climb, Chapel Hill climb').first()).toBeVisible();
  await page.getByRole('spinbutton', { name: 'Runs of each setup' }).fill('2');
  await page.getByLabel('Outings', { exact: true }).fill('1');
  await expect(page.getByText(/With 2 runs each you could only see a difference above [\d.]+ %/)).toBeVisible();
  await expect(page.getByText('balanced', { exact: true })).toBeVisible();
  const board = page.getByRole('region', { name: 'Outing 1' });
  await expect(board.getByRole('listitem')).toHaveCount(4);
  const handle = board.getByRole('button', { name: /Move run 4/ });
  await handle.focus();
  for (const key of ['Space', 'ArrowUp', 'ArrowUp', 'Space']) {
    await page.keyboard.press(key);
    await page.waitForTimeout(150);
  }
  await expect(page.getByText('not balanced')).toBeVisible();
  await page.getByRole('button', { name: 'New balanced order' }).click();
  await expect(page.getByText('balanced', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Save the plan' }).click();
  await expect(page.getByRole('button', { name: 'Plan is saved' })).toBeVisible();

  // The sheet for the roadside, on A4.
  await page.getByRole('link', { name: 'Run sheet' }).click();
  await ready(page);
  await expect(page.getByText('Carts come out of Mason Yard')).toBeVisible();
  await expect(page.getByRole('row')).toHaveCount(5);
  const pdf = (await page.pdf({ preferCSSPageSize: true })).toString('latin1');
  const [, width, height] = /\/MediaBox \[0 0 ([\d.]+) ([\d.]+)\]/.exec(pdf)!;
  expect([Number(width), Number(height)].map(Math.round)).toEqual([842, 595]);
  expect(pdf.match(/\/Type \/Page\b/g)).toHaveLength(1);

  // The whole block, as the plan has it.
  await page.goto('/ride');
  for (let run = 1; run <= 4; run++) {
    await ready(page);
    const slot = page.getByRole('listitem').filter({ hasText: 'climbs Chapel Hill' });
    await expect(slot).toContainText(`Run ${run} of 4`);
    await slot.getByRole('button', { name: 'Prepare this run' }).click();
    await expect(page.getByText(`Run ${run} of 4`)).toBeVisible();
    await rideSimulated(page);
    if (run < 4) await page.getByRole('link', { name: 'Next run' }).click();
  }
  await page.getByRole('link', { name: 'To the plan' }).click();
  await expect(page.getByRole('img', { name: 'ridden' })).toHaveCount(4);
  await expect(page.getByRole('link', { name: 'Plan all 4 ridden' })).toBeVisible();
  await page.getByRole('link', { name: /^Verdict/ }).click();
  await expect(page.locator('.verdict-line').first()).toContainText(/energy for the same climb|Cannot tell yet/);
  await page.getByRole('link', { name: /^Runs \d+ counted/ }).click();
  await expect(page.getByRole('columnheader', { name: /^Energy per 100 m climbed/ })).toBeVisible();
  expect(await page.getByRole('table').getByRole('row').count()).toBeGreaterThanOrEqual(5);
});

test.describe('at the roadside', () => {
  test.use({ viewport: PHONE });

  test('two phones stay in step, marks wait while there is no connection, and by hand is enough for figures', async ({
    page,
    browser,
  }) => {
    test.setTimeout(300_000);
    await page.goto('/ride');
    await ready(page);
    await page.getByRole('button', { name: 'Ride outside a plan' }).click();
    await choose(page, 'Setup', 'Corvane R2, 44');
    await choose(page, 'Course', 'Chapel Hill climb');
    await choose(page, 'Test', 'Hill climb');
    await page.getByRole('button', { name: 'Prepare this ride' }).click();
    await expect(state(page)).toHaveText('Prepare');
    await expect(page.getByText('Carts come out of Mason Yard')).toBeVisible();
    await page.getByLabel('Start voltage').fill('50,1');
    await page.getByText('Charged full, then half an hour of rest').click();
    await page.getByLabel(/^Air/).fill('12');
    await expect(page.getByText(/2 of 6 done/)).toBeVisible();
    await expectAccessible(page);
    // Whatever the last ride had: this one is without a logger.
    const logger = page.getByText('Simulated logger').first();
    if (await logger.isVisible().catch(() => false)) {
      await page.getByRole('combobox', { name: 'Logger' }).focus();
      await page.keyboard.press('Backspace');
      await page.locator('.ant-select-clear').last().click({ force: true });
      await expect(page.getByText('None: read by hand')).toBeVisible();
    }
    await page.getByRole('button', { name: 'Ready to ride' }).click();
    await expect(state(page)).toHaveText('Ready');

    const helper = await (await browser.newContext({ viewport: PHONE })).newPage();
    await helper.goto(page.url());
    await expect(state(helper)).toHaveText('Ready');
    await helper.getByRole('button', { name: 'Start', exact: true }).click();
    await expect(state(page)).toHaveText('Running');
    await expectAccessible(page);

    // The rider marks by a key, the helper by a tap.
    await page.keyboard.press('g');
    await expect(helper.getByRole('list', { name: 'Marks' })).toContainText('start gate');
    await expect(helper.getByRole('button', { name: 'Finish gate' })).toBeVisible();
    await page.waitForTimeout(1500);
    await page.context().setOffline(true);
    await page.getByRole('button', { name: 'Finish gate' }).click();
    await expect(page.getByText('kept here, not sent yet').first()).toBeVisible();
    await page.context().setOffline(false);
    await expect(helper.getByRole('list', { name: 'Marks' })).toContainText('finish gate');
    await page.getByRole('button', { name: 'Brake!' }).click();
    const marked = page.getByRole('list', { name: 'Marks' }).getByRole('listitem').filter({ hasText: 'brake trouble' });
    await marked.getByRole('button', { name: 'Undo' }).click();
    await expect(page.getByRole('button', { name: 'Restore' })).toBeVisible();

    await helper.getByRole('button', { name: 'Finished' }).click();
    await expect(state(page)).toHaveText('Finished');
    // A second time is refused where it was overtaken, and the page shows how it stands.
    await page.getByText('Enter a time from paper').click();
    await page.getByPlaceholder('12:34.5').fill('10');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByPlaceholder('12:34.5').fill('3:34,5');
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByLabel('Socket energy to refill').fill('42');
    await expectAccessible(page);
    await page.getByRole('button', { name: 'Keep it' }).click();
    await expect(page.getByText('Climb time')).toBeVisible();
    await expect(state(helper)).toHaveText('Kept');
    await page.getByRole('link', { name: 'Open the run' }).click();
    await expect(page.getByText('Ridden without a logger')).toBeVisible();
    await expect(page.getByRole('heading', { name: 'Read by hand' })).toBeVisible();
    await helper.context().close();
  });

  test('a ride is aborted by a key with its reason', async ({ page }) => {
    await page.goto('/ride');
    await ready(page);
    await page.getByRole('button', { name: 'Ride outside a plan' }).click();
    await choose(page, 'Setup', 'Quillon M3, 52');
    await choose(page, 'Course', 'Level round');
    await page.getByRole('button', { name: 'Prepare this ride' }).click();
    await expect(state(page)).toHaveText('Prepare');
    // The page listens to keys a moment after its state is there.
    await expect(async () => {
      await page.keyboard.press('x');
      await expect(page.getByRole('button', { name: 'Rain' })).toBeVisible({ timeout: 3000 });
    }).toPass();
    await page.getByRole('button', { name: 'Rain' }).click();
    await page.getByLabel('Reason').fill('Rain set in.');
    await page.getByRole('button', { name: 'Abort the run' }).click();
    await expect(state(page)).toHaveText('Aborted');
    await expect(page.getByText('Aborted: Rain set in.')).toBeVisible();
  });
});

test('a gate is moved by drag and by keys, and a course is drawn', async ({ page }) => {
  await page.goto('/courses');
  await ready(page);
  await page.keyboard.press('n');
  await page.getByLabel('Name', { exact: true }).fill('Weir Lane strip');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Weir Lane strip' })).toBeVisible();
  await page.getByRole('button', { name: 'Draw the course' }).click();
  const paper = page.getByRole('application');
  await paper.click({ position: { x: 60, y: 250 } });
  await paper.click({ position: { x: 260, y: 120 } });
  await page.getByLabel(/Altitudes, one per line/).fill('0 10\n200 18');
  await page.getByRole('button', { name: 'Save the drawing' }).click();
  await expect(page.getByText('From drawn.')).toBeVisible();
  await page.getByRole('button', { name: 'Add start' }).click();
  await page.getByRole('button', { name: 'Add finish' }).click();
  const start = page.getByRole('slider', { name: 'Start' });
  await start.focus();
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowRight');
  await expect(start).toHaveAttribute('aria-valuenow', '30');
  const finish = page.getByRole('slider', { name: 'Finish' });
  const box = (await finish.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 30);
  await page.mouse.down();
  await page.mouse.move(box.x - 120, box.y + 30, { steps: 6 });
  await page.mouse.up();
  const at = Number(await finish.getAttribute('aria-valuenow'));
  expect(at).toBeGreaterThan(30);
  await page.getByRole('button', { name: 'Save gates' }).click();
  await expect(page.getByRole('button', { name: 'Save gates' })).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('slider', { name: 'Finish' })).toHaveAttribute('aria-valuenow', String(at));
});
