import { choose, expect, file, rideCsv, ready, test } from './fixtures.js';

const salt = Date.now() % 100_000;

test('two setups go from files to a verdict', async ({ page }) => {
  await page.goto('/import');
  await ready(page);
  const rides = [
    file('thrifty-1.csv', rideCsv(4.0, salt)),
    file('thrifty-2.csv', rideCsv(4.05, salt + 1)),
    file('thirsty-1.csv', rideCsv(5.0, salt + 2)),
    file('thirsty-2.csv', rideCsv(5.05, salt + 3)),
  ];
  await page.getByLabel('Choose log files').last().setInputFiles(rides);
  for (const [k, { name }] of rides.entries()) {
    await expect(page.getByRole('heading', { name })).toBeVisible();
    await choose(page, 'Setup', name.startsWith('thrifty') ? 'Corvane R2, 44' : 'Dromel D5, 52', k);
    await choose(page, 'Course', 'Chapel Hill round', k);
    await choose(page, 'Outing', 'Chapel Hill, first', k);
    await choose(page, 'Way of riding', 'Steady pedalling', k);
  }
  await page.getByRole('button', { name: 'Make 4 runs' }).click();
  for (const { name } of rides)
    await expect(page.getByRole('listitem').filter({ hasText: name }).getByText('done.')).toBeVisible({
      timeout: 60_000,
    });

  await page.goto('/trials/new/question');
  await page.getByLabel('Question', { exact: true }).fill('Is the direct drive thirstier on the hill?');
  await choose(page, 'Course', 'Chapel Hill round');
  await page.getByRole('button', { name: 'Save and choose setups' }).click();
  await expect(page.getByRole('heading', { level: 1, name: /thirstier/ })).toBeVisible();
  await choose(page, 'Add a setup', 'Corvane R2, 44');
  await expect(page.getByRole('cell', { name: /A Corvane R2, 44 V rear hub/ })).toBeVisible();
  await choose(page, 'Add a setup', 'Dromel D5, 52');
  await page.getByRole('link', { name: 'On to the runs' }).click();
  await page.getByRole('link', { name: 'See the verdict' }).click();
  await expect(page.locator('.verdict-line').first()).toContainText(/Corvane R2|Cannot tell yet/);
  await expect(page.getByText('The setups were ridden on the same outings')).toBeVisible();
  await expect(page.getByRole('link', { name: /Chapel Hill, first go: / }).first()).toBeVisible();
});

test('a ride is brought in with the keyboard alone', async ({ page }) => {
  await page.goto('/trials');
  await ready(page);
  await page.keyboard.press('i');
  await expect(page.getByRole('heading', { level: 1, name: 'Import rides' })).toBeVisible();
  // The page listens to keys a moment after its heading is there.
  await expect(async () => {
    const chooser = page.waitForEvent('filechooser', { timeout: 3000 });
    await page.keyboard.press('o');
    await (await chooser).setFiles([file('by-keys.csv', rideCsv(4.4, salt + 20))]);
  }).toPass();
  await expect(page.getByRole('heading', { name: 'by-keys.csv' })).toBeVisible();
  const tabTo = async (label: string): Promise<void> => {
    for (let k = 0; k < 60; k++) {
      const name = await page.evaluate(() => {
        const element = document.activeElement as HTMLElement | null;
        const labelled = element?.id ? document.querySelector(`label[for="${element.id}"]`) : null;
        return labelled?.textContent ?? element?.getAttribute('aria-label') ?? element?.textContent ?? '';
      });
      if (name === label) return;
      await page.keyboard.press('Tab');
    }
    throw new Error(`"${label}" is not reached by the Tab key`);
  };
  for (const [label, text] of [
    ['Setup', 'Quillon M3, 52'],
    ['Course', 'Level'],
    ['Outing', 'morning 2'],
  ] as const) {
    await tabTo(label);
    await page.keyboard.press('ArrowDown');
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  }
  await tabTo('Make this run');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('listitem').filter({ hasText: 'by-keys.csv' }).getByText('done.')).toBeVisible({
    timeout: 60_000,
  });
});

test('a bad file gets its sentence, and a good one beside it goes on', async ({ page }) => {
  await page.goto('/import');
  await ready(page);
  const image = {
    name: 'holiday.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a]),
  };
  await page
    .getByLabel('Choose log files')
    .last()
    .setInputFiles([image, file('fine.csv', rideCsv(4.2, salt + 30))]);
  const row = page.getByRole('listitem').filter({ hasText: 'holiday.csv' });
  await expect(row.getByRole('alert')).toContainText(
    'This is a picture (PNG), not a log. Export the ride as CSV or GPX.',
  );
  await expect(page.getByRole('heading', { name: 'fine.csv' })).toBeVisible();
  await page.getByRole('region', { name: 'fine.csv' }).getByRole('button', { name: 'Skip this file' }).click();
  await expect(page.getByRole('heading', { name: 'fine.csv' })).toBeHidden();
});

test('a unit the file does not tell is asked before anything is made of it', async ({ page }) => {
  await page.goto('/import');
  await ready(page);
  await page
    .getByLabel('Choose log files')
    .last()
    .setInputFiles([file('asked.csv', rideCsv(4.3, salt + 40).replace('speed (km/h)', 'speed'))]);
  const section = page.getByRole('region', { name: 'asked.csv' });
  await expect(section.getByText('In which unit is speed in column "speed"?')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Make this run' })).toBeDisabled();
  await choose(page, 'Unit of speed', 'km/h');
  await expect(page.getByRole('button', { name: 'Make this run' })).toBeEnabled();
  await section.getByRole('button', { name: 'Skip this file' }).click();
});

test('the same file is recognised, and what was chosen survives a reload', async ({ page }) => {
  const csv = rideCsv(4.6, salt + 50);
  await page.goto('/import');
  await ready(page);
  await page
    .getByLabel('Choose log files')
    .last()
    .setInputFiles([file('twice.csv', csv)]);
  await choose(page, 'Setup', 'Quillon M3, 52');
  await choose(page, 'Course', 'Level');
  await choose(page, 'Outing', 'morning 1');
  await page.reload();
  await expect(page.getByRole('region', { name: 'twice.csv' }).getByText('Quillon M3, 52 V mid motor')).toBeVisible();
  await page.getByRole('button', { name: 'Make this run' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'twice.csv' }).getByText('done.')).toBeVisible({
    timeout: 60_000,
  });
  await page
    .getByLabel('Choose log files')
    .last()
    .setInputFiles([file('twice-again.csv', csv)]);
  await expect(page.getByRole('listitem').filter({ hasText: 'twice-again.csv' })).toContainText('already imported');
});
