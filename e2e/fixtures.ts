import { test as base, expect, type Page } from '@playwright/test';
import AxeBuilder from '@axe-core/playwright';

/** A page on which nothing may be written to the console and nothing may break. */
export const test = base.extend({
  page: async ({ page }, use) => {
    const complaints: string[] = [];
    page.on('console', (message) => {
      // A refused request is told on the page; the browser's own line about it is no fault of ours.
      if (message.type() === 'error' && !message.text().startsWith('Failed to load resource'))
        complaints.push(message.text());
    });
    page.on('pageerror', (error) => complaints.push(error.message));
    await use(page);
    expect(complaints).toEqual([]);
  },
});
export { expect };

export async function ready(page: Page): Promise<void> {
  await expect(page.locator('main h1')).toBeVisible();
  await expect(page.locator('[aria-label="Loading"]')).toHaveCount(0);
}

/** No violation that hinders someone seriously (WCAG 2.2 A and AA). */
export async function expectAccessible(page: Page, without: readonly string[] = []): Promise<void> {
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .disableRules([...without])
    .analyze();
  const serious = violations.filter(({ impact }) => impact === 'serious' || impact === 'critical');
  expect
    .soft(
      serious.map(
        ({ id, nodes }) =>
          `${id}: ${nodes
            .slice(0, 3)
            .map(({ html }) => html.slice(0, 140))
            .join(' | ')}`,
      ),
    )
    .toEqual([]);
}

/** A ride of ten minutes as CSV; the salt makes each file a new one. */
export function rideCsv(current: number, salt: number): string {
  const rows = ['time (s),speed (km/h),distance (m),voltage (V),current (A)'];
  for (let t = 0; t <= 600; t++)
    rows.push(
      [
        t,
        (21 + 0.4 * Math.sin(t / 20 + salt)).toFixed(2),
        (t * 5.833).toFixed(1),
        (39 - t / 900).toFixed(2),
        (current + 0.2 * Math.sin(t / 9 + salt)).toFixed(3),
      ].join(','),
    );
  return rows.join('\n');
}

export const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });

/** Picks an option of a select by typing, as a person at the keyboard would. */
export async function choose(page: Page, label: string, text: string, nth = 0): Promise<void> {
  const box = page.getByRole('combobox', { name: label, exact: true }).nth(nth);
  await box.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}
