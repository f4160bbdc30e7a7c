import { expect, expectAccessible, ready, test } from './fixtures.js';

const DAY = '2026-06-26';
/** Runs again on data that holds what it wrote before. */
const run = crypto.randomUUID().slice(0, 6);

test('from an entry by phone to what is due, faults per 1 000 km and a calendar', async ({ page, request }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const added = await request.post('/api/conversions', {
    data: { name: `Parcel trike ${run}`, kit: 'Dromel D5', motorKind: 'rear-hub-direct', fittedOn: '2026-05-01' },
  });
  const { id } = (await added.json()) as { id: string };
  await page.goto(`/logbook/conversions/${id}`);
  await ready(page);
  const form = page.getByRole('form', { name: 'New entry' });

  await form.getByRole('button', { name: 'Kit fitted' }).click();
  await form.getByLabel('Day').fill('2026-05-01');
  await form.getByRole('button', { name: 'Write it down' }).click();
  await expect(page.getByText('Written down.').first()).toBeVisible();
  await form.getByRole('button', { name: 'Odometer', exact: true }).click();
  await form.getByLabel('Day').fill(DAY);
  await form.getByLabel('Distance').fill('640');
  await form.getByRole('button', { name: 'Write it down' }).click();
  await expect(page.getByRole('group', { name: 'Life in figures' })).toContainText('640 km');
  await form.getByRole('button', { name: 'Fault', exact: true }).click();
  await form.getByLabel('Day').fill(DAY);
  await form.getByLabel('Ridden since it was fitted').fill('640');
  await form.getByLabel('Part', { exact: true }).selectOption('spokes');
  await form.getByLabel('What it did').selectOption('stopped');
  await form.getByLabel('What happened').fill('One broke by the valve');
  await form.getByRole('button', { name: 'Write it down' }).click();
  await expect(page.getByText('One broke by the valve').first()).toBeVisible();
  await expect(page.getByText(/One fault in 640 km/)).toBeVisible();
  const axles = page.getByRole('row', { name: /Axle nuts/ });
  await expect(axles).toContainText('Overdue');
  await axles.getByRole('button', { name: /Done today/ }).click();
  await expect(page.getByRole('row', { name: /Axle nuts/ })).not.toContainText('Overdue');
  await expectAccessible(page, ['color-contrast']);

  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto('/logbook/faults?by=kit&part=spokes');
  await ready(page);
  await expect(page.getByRole('row', { name: /Dromel D5/ })).toContainText(/\(.* to .*\)/);
  await expect(page.getByText(/early trouble that settles/).first()).toBeVisible();
  const calendar = await (await request.get('/api/logbook/service.ics')).text();
  expect(calendar).toContain(`SUMMARY:Parcel trike ${run}: Spokes`);
});

test('an entry waits in the browser while nothing answers, and goes in once', async ({ page, context }) => {
  await page.goto('/logbook/entries');
  await ready(page);
  const form = page.getByRole('form', { name: 'New entry' });
  await form.getByRole('button', { name: 'Note' }).click();
  await form.getByLabel('Words').fill(`Written on the ferry ${run}`);
  await context.setOffline(true);
  await form.getByRole('button', { name: 'Write it down' }).click();
  await expect(page.getByText('One entry waits in this browser until Ebrix answers.')).toBeVisible();
  await context.setOffline(false);
  await expect(page.getByText('One entry waits in this browser until Ebrix answers.')).toHaveCount(0);
  await page.reload();
  await ready(page);
  await expect(page.getByText(`Written on the ferry ${run}`)).toHaveCount(1);
});

test('an entry changed in two windows ends in a choice, nothing typed is lost', async ({ page, request }) => {
  await page.goto('/logbook/entries?kind=note');
  await ready(page);
  const form = page.getByRole('form', { name: 'New entry' });
  await form.getByRole('button', { name: 'Note' }).click();
  await form.getByLabel('Words').fill(`Rack rattles ${run}`);
  await form.getByRole('button', { name: 'Write it down' }).click();
  const row = page.locator('.entry-row').filter({ hasText: `Rack rattles ${run}` });
  await row.getByRole('button', { name: /^Change/ }).click();
  const { entries } = (await (await request.get('/api/logbook/entries?kind=note')).json()) as {
    entries: { id: string; version: number; details: { words: string } }[];
  };
  const stored = entries.find(({ details }) => details.words === `Rack rattles ${run}`)!;
  const { subject, day } = stored as unknown as { subject: object; day: string };
  await request.put(`/api/logbook/entries/${stored.id}`, {
    data: { version: stored.version, subject, day, details: { kind: 'note', words: `Rack tightened ${run}` } },
  });
  const change = page.getByRole('form', { name: 'Change the entry' });
  await change.getByLabel('Words').fill(`Rack rattles still ${run}`);
  await change.getByRole('button', { name: 'Save the change' }).click();
  await expect(change.getByRole('alert')).toContainText('changed in another window');
  await expect(change.getByRole('alert')).toContainText(`Rack tightened ${run}`);
  await expect(change.getByLabel('Words')).toHaveValue(`Rack rattles still ${run}`);
  await change.getByRole('button', { name: 'Overwrite with mine' }).click();
  await expect(page.locator('.entry-row').filter({ hasText: `Rack rattles still ${run}` })).toBeVisible();
});
