import { test as base, expect, type Page } from '@playwright/test';
import axe from 'axe-core';

/** A page on which nothing may be written to the console and nothing may break. */
export const test = base.extend({
  page: async ({ page }, use) => {
    const complaints: string[] = [];
    page.on('console', (message) => {
      // A refused request is told on the page; the browser's own line about it is no fault of ours.
      // The preview of a report runs no scripts, and the browser says so when the test itself tries to look into it.
      const isNoFault = /^(Failed to load resource|Blocked script execution in 'about:srcdoc')/.test(message.text());
      if (message.type() === 'error' && !isNoFault) complaints.push(message.text());
    });
    page.on('pageerror', (error) => complaints.push(error.message));
    await use(page);
    expect(complaints).toEqual([]);
  },
});
export { expect };

export async function ready(page: Page): Promise<void> {
  // Looked for as often as the page is drawn: asked over and over with pauses between, it would be seen up to a second late.
  await page.waitForFunction(() => {
    const heading = document.querySelector('main h1');
    return heading?.checkVisibility() && document.querySelector('[aria-label="Loading"]') === null;
  });
}

/**
 * What is fading in or out is brought to its end, not waited for: an animation of something that is never drawn again
 * would keep its promise for ever. A few rounds, since one end may begin another.
 */
async function settleMotion(page: Page): Promise<void> {
  await page.evaluate(async () => {
    for (let round = 0; round < 5; round++) {
      const moving = document
        .getAnimations()
        .filter(
          ({ effect, playState }) => effect?.getComputedTiming().endTime !== Infinity && playState !== 'finished',
        );
      for (const animation of moving) animation.finish();
      if (round > 0 && moving.length === 0) break;
      await new Promise((resolve) => setTimeout(resolve, 40));
    }
  });
}

/** A button that begins to save while it is looked at is fainter for that moment; what is wrong stays wrong. */
const LOOKS = 3;

/** No violation that hinders someone seriously (WCAG 2.2 A and AA). */
export async function expectAccessible(page: Page, without: readonly string[] = []): Promise<void> {
  let found: string[] = [];
  for (let look = 0; look < LOOKS; look++) {
    found = await seriousViolations(page, without);
    if (found.length === 0) break;
  }
  expect.soft(found).toEqual([]);
}

async function seriousViolations(page: Page, without: readonly string[]): Promise<string[]> {
  // A button that is saving is drawn fainter until it may be pressed again.
  await expect(page.locator('.ant-btn-loading, .button[aria-busy="true"]')).toHaveCount(0);
  await settleMotion(page);
  // Asked where it stands: the frames in the pages run no scripts, and what passed need not travel.
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(axe.source);
  const violations = await page.evaluate(async (rules) => {
    const { axe: own } = window as unknown as { axe: typeof axe };
    const options = { iframes: false, preload: false, resultTypes: ['violations' as const] };
    const found = await own.run(document, {
      ...options,
      runOnly: { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] },
      rules: Object.fromEntries(rules.map((rule) => [rule, { enabled: false }])),
    });
    return found.violations.map(({ id, impact, nodes }) => ({ id, impact, nodes: nodes.map(({ html }) => html) }));
  }, without);
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .slice(0, 3)
          .map((html) => html.slice(0, 140))
          .join(' | ')}`,
    );
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

/** One log of a whole outing: an ordinary ride, four starts, two coasts, a climb and three levels, with stops between them. */
export function outingCsv(salt: number): string {
  const rows: string[] = [];
  let [t, way, altitude] = [0, 0, 20];
  interface Moment {
    v: number;
    amps?: number;
    rpm?: number;
    level?: number;
    brake?: number;
    grade?: number;
  }
  const put = (seconds: number, at: (s: number) => Moment): void => {
    for (let k = 0; k < seconds * 5; k++) {
      const { v, amps = 0, rpm = 0, level = 3, brake = 0, grade = 0 } = at(k / 5);
      way += v / 5;
      altitude += (grade * v) / 5;
      rows.push(
        [
          t.toFixed(1),
          Math.max(0, v * 3.6 + (v > 0 ? 0.1 * Math.sin(7 * t + salt) : 0)).toFixed(2),
          way.toFixed(1),
          (altitude + 0.2 * Math.sin(3 * t + salt)).toFixed(1),
          (41 - 0.11 * amps + 0.02 * Math.sin(5 * t)).toFixed(2),
          (amps + 0.04 * Math.sin(11 * t)).toFixed(2),
          rpm,
          level,
          brake,
        ].join(','),
      );
      t += 0.2;
    }
  };
  const stand = (seconds: number): void => put(seconds, () => ({ v: 0, brake: 1 }));
  stand(10);
  put(200, (s) => ({ v: Math.min(6, s), amps: 5, rpm: 60 }));
  stand(40);
  for (let k = 0; k < 4; k++) {
    put(10, (s) => ({ v: Math.min(5, s), amps: s < 0.5 ? 0 : 8, rpm: 50 }));
    put(4, (s) => ({ v: Math.max(0, 5 - 1.25 * s), brake: 1 }));
    stand(5);
  }
  stand(40);
  for (let k = 0; k < 2; k++) {
    put(10, (s) => ({ v: Math.min(9, s), amps: 9, rpm: 70 }));
    put(30, (s) => ({ v: Math.max(3, 9 - 0.19 * s) }));
    put(4, (s) => ({ v: Math.max(0, 3 - s), brake: 1 }));
    stand(6);
  }
  stand(40);
  put(120, (s) => ({ v: Math.min(4, 1 + s), amps: 10, rpm: 60, grade: 0.06 }));
  stand(40);
  for (const level of [1, 2, 3]) put(60, () => ({ v: 4 + level, amps: 1 + 2 * level, rpm: 60, level }));
  stand(10);
  return [
    'time (s),speed (km/h),distance (m),altitude (m),voltage (V),current (A),cadence (rpm),assist level,brake',
    ...rows,
  ].join('\n');
}

export const file = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });

/** Picks an option of a select by typing, as a person at the keyboard would. */
export async function choose(page: Page, label: string, text: string, nth = 0): Promise<void> {
  const box = page.getByRole('combobox', { name: label, exact: true }).nth(nth);
  const list = page.locator('.ant-select-dropdown:visible');
  const marked = list.locator('.ant-select-item-option-active').filter({ hasText: text });
  await box.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.type(text);
  // The list may still be on its way.
  await expect(list.locator('.ant-select-item-option').filter({ hasText: text }).first()).toBeVisible();
  // On a slow machine it is drawn a moment before one of it is marked, and Enter would choose nothing.
  await expect(async () => {
    if ((await marked.count()) === 0) await page.keyboard.press('ArrowDown');
    await expect(marked.first()).toBeVisible({ timeout: 1000 });
    await page.keyboard.press('Enter');
    // It closes, or shows it as chosen.
    await expect(marked.and(page.locator(':not(.ant-select-item-option-selected)'))).toHaveCount(0, { timeout: 2000 });
  }).toPass();
}
