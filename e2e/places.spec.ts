import { expect, expectAccessible, ready, test } from './fixtures.js';

interface Named {
  id: string;
}
const SIZES = [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
];

for (const viewport of SIZES) {
  test.describe(`at ${viewport.width} × ${viewport.height}`, () => {
    test.use({ viewport });

    test('every place opens, is accessible and fits the screen', async ({ page, request }) => {
      test.setTimeout(1_800_000);
      const first = async (path: string): Promise<string> =>
        ((await (await request.get(path)).json()) as Named[])[0]!.id;
      const [trial, setup, course] = [
        await first('/api/trials'),
        await first('/api/setups'),
        await first('/api/courses'),
      ];
      const { items } = (await (await request.get('/api/runs')).json()) as { items: Named[] };
      const places = [
        '/bench/setups',
        `/bench/setups/${setup}`,
        '/bench/bikes',
        '/bench/packs',
        '/bench/loggers',
        '/courses',
        `/courses/${course}`,
        '/trials',
        '/trials/new/question',
        `/trials/${trial}/question`,
        `/trials/${trial}/setups`,
        `/trials/${trial}/runs`,
        `/trials/${trial}/verdict`,
        '/runs',
        `/runs/${items[0]!.id}?figure=netConsumption`,
        '/import',
        '/quick-look/log',
        '/quick-look/table',
        '/no-such-place',
      ];
      for (const place of places) {
        await test.step(place, async () => {
          await page.goto(place);
          await ready(page);
          await expectAccessible(page);
          const overflow = await page.evaluate(
            () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
          );
          expect(overflow, `${place} is wider than the screen`).toBeLessThanOrEqual(1);
        });
      }
    });
  });
}

test('the dark theme is accessible too and stays after a reload', async ({ page }) => {
  await page.goto('/trials');
  await page.getByRole('button', { name: /Theme/ }).click();
  for (const place of ['/trials', '/runs', '/import', '/bench/packs']) {
    await page.goto(place);
    await ready(page);
    await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
    await expectAccessible(page);
  }
});

test('the rail leads only to places that work, by keys too', async ({ page }) => {
  await page.goto('/');
  await ready(page);
  await expect(page.getByRole('heading', { level: 1, name: 'Trials' })).toBeVisible();
  const names = await page.getByRole('navigation', { name: 'Places' }).getByRole('link').allTextContents();
  expect(names).toEqual(['Bench', 'Courses', 'Trials', 'Runs', 'Quick look']);
  await page.keyboard.press('g');
  await page.keyboard.press('r');
  await expect(page).toHaveURL(/\/runs$/);
  await ready(page);
  await page.keyboard.press('?');
  const help = page.getByRole('dialog', { name: 'Keys on this page' });
  await expect(help.getByText('Search the runs')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(help).toBeHidden();
});
