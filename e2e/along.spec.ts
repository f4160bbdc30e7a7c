import type { BrowserContext, Page } from '@playwright/test';
import type { Course, Photo, Plan, RideOverview, Setup, Trial, Verdict } from '@ebrix/contract';
import { expect, expectAccessible, ready, test } from './fixtures.js';

const PHONE = { width: 390, height: 844 };
const M = 1 / 111_320;
const heading = (page: Page) => page.getByRole('heading', { level: 1 });

/** Rides north at some 20 km/h for so many fixes, as the browser's own emulation gives them. */
class Rider {
  private northM = 0;
  constructor(private readonly phone: BrowserContext) {}
  async ride(page: Page, fixes: number): Promise<void> {
    for (let k = 0; k < fixes; k++) {
      this.northM += 5;
      await this.phone.setGeolocation({ latitude: 0.001 + this.northM * M, longitude: 0.001, accuracy: 5 });
      await page.waitForTimeout(400);
    }
  }
}
async function finish(page: Page, km: string, wh: string): Promise<void> {
  await page.getByRole('button', { name: 'Finished' }).click();
  await page.getByLabel('Trip distance, km').fill(km);
  await page.getByLabel('Socket energy to refill, Wh').fill(wh);
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(heading(page)).toHaveText('Along');
}
const start = async (page: Page, prepare?: () => Promise<void>, which = 'Prepare this run'): Promise<void> => {
  await page.getByRole('button', { name: which }).last().click();
  await prepare?.();
  await page.getByRole('button', { name: 'Ready' }).click();
  await expect(heading(page)).toHaveText('Ready');
};

/** What the phone feels, by the browser's own emulation of sensors. */
async function shakePhone(page: Page): Promise<void> {
  const devtools = await page.context().newCDPSession(page);
  for (const type of ['accelerometer', 'linear-acceleration', 'gyroscope'] as const) {
    await devtools.send('Emulation.setSensorOverrideEnabled', { enabled: true, type });
    const xyz = { x: 0.3, y: 0.1, z: type === 'accelerometer' ? 9.8 : 0 };
    await devtools.send('Emulation.setSensorOverrideReadings', { type, reading: { xyz } });
  }
}
/** One dot. */
const PHOTO = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

const began = new Date(Date.now() - 60_000).toISOString();
test.afterEach(async ({ request }) => {
  // What other tests look at is as it was: rides of seconds are no figures to compare.
  const { recent } = (await (await request.get('/api/rides')).json()) as RideOverview;
  const runIds = recent.flatMap(({ runId, createdAt }) => (runId !== null && createdAt > began ? [runId] : []));
  const setups = (await (await request.get('/api/setups')).json()) as Setup[];
  for (const { id } of setups)
    for (const photo of (await (await request.get(`/api/photos?owner=setup&ownerId=${id}`)).json()) as Photo[])
      if (photo.createdAt > began) await request.delete(`/api/photos/${photo.id}`);
  if (runIds.length > 0) await request.post('/api/runs/delete', { data: { runIds } });
  for (const { id, question } of (await (await request.get('/api/trials')).json()) as {
    id: string;
    question: string;
  }[])
    if (question.startsWith('Which one, led by phone')) await request.delete(`/api/trials/${id}`);
});

test('a phone takes an outing along, leads a block of four without a network, two of them killed, and brings it back', async ({
  page: laptop,
  browser,
  baseURL,
}) => {
  const [setups, courses] = await Promise.all(
    ['setups', 'courses'].map(async (what) => (await laptop.request.get(`/api/${what}`)).json() as Promise<unknown>),
  );
  // Its own, on a second try too.
  const question = `Which one, led by phone ${crypto.randomUUID().slice(0, 4)}?`;
  const taken = { name: `${question}, outing 1`, exact: false };
  // Both may be ridden: their safety checks are passed.
  const two = [/^Corvane R2, 44/, /^Quillon M3, 52/].map((name) =>
    (setups as Setup[]).find((one) => name.test(one.name))!,
  );
  const course = (courses as Course[]).find(({ name }) => name === 'Level round')!;
  const trial = (await (
    await laptop.request.post('/api/trials', {
      data: {
        question,
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0.05 },
        courseId: course.id,
        revisionIds: two.map(({ revisions }) => revisions[0]!.id),
        heldEqual: ['same rider'],
      },
    })
  ).json()) as Trial;
  const planOf = async (): Promise<Plan> =>
    ((await (await laptop.request.get(`/api/trials/${trial.id}/plan`)).json()) as { plan: Plan }).plan;
  await laptop.request.put(`/api/trials/${trial.id}/plan`, {
    data: {
      version: null,
      input: { runsPerSetup: 3, outings: 1, tests: [{ testKind: 'range', courseId: course.id }] },
      slots: [0, 1, 1, 0, 0, 1].map((k) => ({ id: null, outing: 1, revisionId: two[k]!.revisions[0]!.id, test: 0 })),
    },
  });

  const phone = await browser.newContext({
    viewport: PHONE,
    locale: 'en-GB',
    permissions: ['geolocation', 'accelerometer', 'gyroscope'],
    geolocation: { latitude: 0.001, longitude: 0.001, accuracy: 5 },
    ...(baseURL !== undefined && { baseURL }),
  });
  const rider = new Rider(phone);
  let page = await phone.newPage();
  await page.goto('/along');
  await page.getByLabel('What this phone is called').fill('the blue one');
  await page.getByRole('button', taken).click();
  await expect(page.getByRole('button', { name: 'Prepare this run' })).toBeVisible();
  await expectAccessible(page);
  await page.waitForFunction(() =>
    navigator.serviceWorker.ready.then(() => navigator.serviceWorker.controller !== null || true),
  );
  // What the app is made of has come along.
  await page.waitForFunction(async () => {
    const [name] = (await caches.keys()).filter((key) => key.includes('precache'));
    return name !== undefined && (await (await caches.open(name)).keys()).length > 8;
  });

  // A second phone takes the same outing along, held sideways.
  const second = await browser.newContext({
    viewport: { width: 844, height: 390 },
    locale: 'en-GB',
    permissions: ['geolocation'],
    geolocation: { latitude: 0.001, longitude: 0.001, accuracy: 5 },
    ...(baseURL !== undefined && { baseURL }),
  });
  const other = await second.newPage();
  await other.goto('/along');
  await other.getByLabel('What this phone is called').fill('the red one');
  await other.getByRole('button', taken).click();
  await expect(other.getByRole('button', { name: 'Ride this one first' })).toHaveCount(5);
  await second.setOffline(true);

  await phone.setOffline(true);
  await page.close();
  page = await phone.newPage();
  await page.goto('/along');
  await expect(page.getByText('Ebrix is not in reach')).toBeVisible();
  for (let run = 0; run < 4; run++) {
    await start(page, async () => {
      if (run > 0) return;
      await page.getByLabel(/what the phone feels/).check();
      await shakePhone(page);
    });
    if (run === 0) {
      await expect(page.getByText(/Feels \d\d times a second/)).toBeVisible();
      await expectAccessible(page);
    }
    await rider.ride(page, 8);
    await expect(heading(page)).toHaveText('Running');
    if (run % 2 === 1) {
      // Killed in mid-run: the ride goes on where it was.
      await page.close();
      page = await phone.newPage();
      await page.goto('/along');
      await expect(heading(page)).toHaveText('Running');
      await rider.ride(page, 8);
    }
    if (run === 0) {
      await page.getByRole('button', { name: 'Temp.' }).click();
      await page.getByRole('textbox', { name: /Temperature by hand/ }).fill('97');
      await page.getByRole('button', { name: 'Note it' }).click();
      await expect(page.getByRole('alert')).toContainText(/Hub at 97 °C: stop, let it cool to 60 °C/);
      await page.getByText('Photos', { exact: true }).click();
      await page.getByLabel('What it shows').fill('Chain on the hub');
      await page.getByLabel('Take a photo').setInputFiles({ name: 'a.png', mimeType: 'image/png', buffer: PHOTO });
      await expect(page.getByText('Photos: 1 on this phone')).toBeVisible();
      await expectAccessible(page);
    }
    await finish(page, '5.1', String(50 + 5 * run));
  }
  await expect(page.getByText('4 rides wait on this phone')).toBeVisible();
  // The second phone rides the last one of the same outing; neither knows of the other.
  await start(other, undefined, 'Ride this one first');
  await new Rider(second).ride(other, 8);
  await finish(other, '5.1', '58');
  await expect(other.getByText('One ride waits on this phone')).toBeVisible();

  // Meanwhile the fifth is ridden from the laptop, and on the phone as well.
  const fifth = (await planOf()).slots[4]!;
  const there = (await (await laptop.request.post('/api/rides', { data: { slotId: fifth.id } })).json()) as {
    id: string;
  };
  await start(page);
  await rider.ride(page, 6);
  await finish(page, '5.1', '61');
  await laptop.request.post(`/api/rides/${there.id}/step`, { data: { from: 'preparing', to: 'armed' } });

  await phone.setOffline(false);
  await page.getByRole('button', { name: 'Send now' }).click();
  await expect(page.getByText(/ridden elsewhere meanwhile/)).toBeVisible();
  await expect(page.getByText('One ride waits on this phone')).toBeVisible();
  await expect.poll(async () => (await planOf()).slots.filter(({ runId }) => runId !== null).length).toBe(4);

  await second.setOffline(false);
  await expect.poll(async () => (await planOf()).slots.filter(({ runId }) => runId !== null).length).toBe(5);
  await expect(other.getByText(/Ebrix has it/)).toBeVisible();
  await second.close();
  // Both phones' runs are in the verdict.
  const led = (await planOf()).slots.flatMap(({ runId }) => runId ?? []);
  await expect
    .poll(async () => {
      const answer = await laptop.request.get(`/api/trials/${trial.id}/verdict`);
      const { points } = (await answer.json()) as Verdict;
      const letters = points.flatMap(({ runId, letter }) => (led.includes(runId) ? [letter] : []));
      return letters.sort().join('');
    })
    .toBe('AABBB');

  const photos = (await (await laptop.request.get(`/api/photos?owner=setup&ownerId=${two[0]!.id}`)).json()) as Photo[];
  expect(photos.map(({ caption }) => caption)).toContainEqual(expect.stringContaining('Chain on the hub'));

  // As a file to the laptop it is refused there for the same reason; beside the plan it comes in.
  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as a file' }).click();
  const path = await (await saved).path();
  await laptop.goto('/ride');
  await ready(laptop);
  await laptop.getByLabel('Outing of a phone').setInputFiles(path);
  await expect(laptop.getByRole('list', { name: 'What became of each ride' })).toContainText('not taken');
  await page.getByRole('button', { name: 'Bring it in beside the plan' }).click();
  await expect(page.getByText(/waits? on this phone/)).toHaveCount(0);
  await laptop.getByLabel('Outing of a phone').setInputFiles(path);
  await expect(laptop.getByRole('list', { name: 'What became of each ride' })).toContainText('here already');
  const { recent } = (await (await laptop.request.get('/api/rides')).json()) as RideOverview;
  expect(recent.filter(({ state }) => state === 'kept').length).toBeGreaterThanOrEqual(5);

  await phone.close();
  await laptop.request.post(`/api/rides/${there.id}/step`, {
    data: { from: 'armed', to: 'aborted', reason: 'only tried' },
  });
});
