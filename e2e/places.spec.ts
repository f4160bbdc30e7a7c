import type { Page } from '@playwright/test';
import { NEVER_DRAWN } from '../apps/web/library-styles/pruned.js';
import { expect, expectAccessible, ready, test } from './fixtures.js';

interface Named {
  id: string;
}
const NOWHERE = '/no-such-place';
const NOWHERE_HEADING = 'Page not found';
const DESK = { width: 1280, height: 800 };
const PHONE = { width: 390, height: 844 };

/** To a place as a link leads there, without the app being loaded anew; by way of nowhere, so that its heading is seen to come. */
async function goWithin(page: Page, place: string): Promise<void> {
  if (!(await page.evaluate(() => 'ebrixIsOpen' in window))) {
    await page.goto(NOWHERE);
    await page.evaluate(() => Object.assign(window, { ebrixIsOpen: true }));
  }
  for (const to of [NOWHERE, place]) {
    await page.evaluate((address) => {
      window.history.pushState(null, '', address);
      window.dispatchEvent(new PopStateEvent('popstate'));
    }, to);
    const nowhere = page.getByRole('heading', { level: 1, name: NOWHERE_HEADING });
    if (to === NOWHERE) await expect(nowhere).toBeVisible();
    else if (place !== NOWHERE) await expect(nowhere).toHaveCount(0);
  }
}

/** Classes on the page for which the build left the library's rules out. */
async function withoutRules(page: Page): Promise<string[]> {
  const classes = await page.evaluate(() => [
    ...new Set([...document.querySelectorAll('[class]')].flatMap((element) => [...element.classList])),
  ]);
  return classes.filter((name) => name.startsWith('ant-') && NEVER_DRAWN.some((never) => never.test(`.${name}`)));
}

test('every place opens, is accessible and fits a desk and a phone', async ({ page, request }) => {
  test.setTimeout(1_800_000);
  const all = async (path: string): Promise<Named[]> => (await (await request.get(path)).json()) as Named[];
  const first = async (path: string): Promise<string> => (await all(path))[0]!.id;
  const second = (await all('/api/setups'))[2]!.id;
  const [trial, setup, course] = [await first('/api/trials'), await first('/api/setups'), await first('/api/courses')];
  const { items } = (await (await request.get('/api/runs?pageSize=200&sort=date')).json()) as {
    items: (Named & { testKind: string; fileName: string })[];
  };
  // One run of every kind of test: each has pictures of its own.
  const ofKinds = [...new Map(items.map((run) => [run.testKind, run.id])).values()];
  const trials = (await all('/api/trials')) as (Named & { question: string })[];
  const planned = trials.find(({ question }) => question.startsWith('Mid motor or rear hub'))!.id;
  const courses = (await all('/api/courses')) as (Named & { kind: string })[];
  const climb = courses.find(({ kind }) => kind === 'climb')!.id;
  const setups = (await all('/api/setups')) as (Named & { name: string; revisions: Named[] })[];
  const corvane = setups.find(({ name }) => name.startsWith('Corvane R2, 44'))!.id;
  const bike = await first('/api/bench/bikes');
  const begun = await request.post('/api/rides', {
    data: { revisionId: setups[0]!.revisions[0]!.id, courseId: climb, testKind: 'hill-climb' },
  });
  const ride = (await begun.json()) as Named;
  const places = [
    '/bench/setups',
    `/bench/setups/${setup}`,
    `/bench/setups/${setup}/checks`,
    `/bench/setups/${setup}/fitting`,
    `/bench/setups/${setup}/settings`,
    `/bench/setups/${setup}/stand`,
    `/bench/setups/${setup}/clearance`,
    `/bench/setups/${setup}/history`,
    `/bench/setups/${corvane}/figures`,
    `/bench/setups/${setup}/edit`,
    `/bench/setups/${setup}/toolbox`,
    '/bench/setups/new',
    `/bench/compare?with=${setup},${second}&all=yes`,
    '/bench/fittings',
    '/bench/bikes',
    '/bench/kits',
    '/bench/packs',
    '/bench/add-ons',
    '/bench/loggers',
    '/courses',
    `/courses/${course}`,
    `/courses/${climb}`,
    '/trials',
    '/trials/new/question',
    `/trials/${trial}/question`,
    `/trials/${trial}/setups`,
    `/trials/${trial}/plan`,
    `/trials/${planned}/plan`,
    `/trials/${planned}/sheet`,
    `/trials/${trial}/runs`,
    `/trials/${trial}/verdict`,
    `/forecast?with=${corvane}&on=${climb}&second=1`,
    '/decide/uses',
    '/decide/money',
    '/decide/reports/new',
    '/decide/data',
    '/logbook/entries',
    '/logbook/due',
    '/logbook/faults',
    '/logbook/conversions',
    '/logbook/intervals',
    `/logbook/bikes/${bike}`,
    `/bench/setups/${corvane}/life`,
    '/upkeep/people',
    '/upkeep/backups',
    '/upkeep/deleted',
    '/upkeep/history',
    '/ride',
    '/along',
    `/ride/${ride.id}`,
    '/runs',
    `/runs/${items.find(({ testKind }) => testKind === 'range')!.id}?figure=netConsumption`,
    ...ofKinds.map((id) => `/runs/${id}`),
    '/import',
    '/quick-look/log',
    '/quick-look/table',
    NOWHERE,
  ];
  // Pages made of the same parts: looked at once for their structure and colours, and all of them for their size.
  const alike = new Set([
    ...['kits', 'packs', 'add-ons', 'loggers'].map((kind) => `/bench/${kind}`),
    ...ofKinds.slice(3).map((id) => `/runs/${id}`),
  ]);
  const look = async (place: string, size: typeof DESK): Promise<void> => {
    await page.setViewportSize(size);
    // Colours are the same at every width, and by far the slowest to look at.
    const without = size === PHONE || alike.has(place) ? ['color-contrast'] : [];
    if (size === PHONE || !alike.has(place)) await expectAccessible(page, without);
    expect(await withoutRules(page), place).toEqual([]);
    const overflow = () =>
      page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);
    await expect.poll(overflow, { message: `${place} is wider than the screen` }).toBeLessThanOrEqual(1);
  };
  for (const [k, place] of places.entries()) {
    await test.step(place, async () => {
      // By address on a desk and then narrower, or by a way within the app on a phone and then wider: half of them each.
      const isByAddress = k % 2 === 0 || place === '/along';
      const sizes = isByAddress ? [DESK, PHONE] : [PHONE, DESK];
      await page.setViewportSize(sizes[0]!);
      if (isByAddress) await page.goto(place);
      else await goWithin(page, place);
      await ready(page);
      for (const size of sizes) await look(place, size);
    });
  }
  // Nothing is left under way for the tests that follow.
  await request.post(`/api/rides/${ride.id}/step`, {
    data: { from: 'preparing', to: 'aborted', reason: 'Only looked at.' },
  });
});
test('what is archived can be read', async ({ page }) => {
  // As if all were: the lists stay what they are for the tests beside this one.
  await page.route(/\/api\/(setups|courses|trials\?.*)$/, async (route) => {
    const list = (await (await route.fetch()).json()) as object[];
    await route.fulfill({ json: list.map((one) => ({ ...one, archivedAt: '2026-04-02T10:00:00.000Z' })) });
  });
  for (const place of ['/bench/setups', '/courses', '/trials']) {
    await page.goto(place);
    await ready(page);
    await expect(page.getByText(/archived/).first()).toBeVisible();
    await expectAccessible(page);
  }
});
test('the dark theme is accessible too and stays after a reload', async ({ page }) => {
  await page.goto('/trials');
  await page.getByRole('button', { name: /Theme/ }).click();
  const setups = (await (await page.request.get('/api/setups')).json()) as Named[];
  const checks = `/bench/setups/${setups[2]!.id}/checks`;
  for (const place of ['/trials', '/runs', '/import', '/bench/packs', checks, '/bench/setups/new']) {
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
  // What is due is counted beside the logbook.
  expect(names.map((name) => name.replace(/\d.*$/, ''))).toEqual([
    ...['Bench', 'Courses', 'Trials', 'Ride', 'Runs', 'Forecast', 'Decide', 'Logbook', 'Quick look', 'Upkeep'],
  ]);
  await page.keyboard.press('g');
  await page.keyboard.press('r');
  await expect(page).toHaveURL(/\/runs$/);
  await ready(page);
  await page.keyboard.press('?');
  const help = page.getByRole('dialog', { name: 'Keyboard shortcuts' });
  await expect(help.getByText('Search the runs')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(help).toBeHidden();
});
