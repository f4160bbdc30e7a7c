import type { Page } from '@playwright/test';
import { choose, expect, expectAccessible, ready, test } from './fixtures.js';

const headline = (page: Page) => page.locator('.verdict-line').first();
async function openTrial(page: Page, question: string): Promise<void> {
  await page.goto('/trials');
  await ready(page);
  await page.getByRole('link', { name: question }).first().click();
  await page.getByRole('link', { name: /^Verdict/ }).click();
  await expect(headline(page)).toBeVisible();
}

test('a day that would have fooled the plain means does not: setups are compared within outings', async ({ page }) => {
  await openTrial(page, 'Direct hub or mid motor along the quay?');
  await expect(headline(page)).toContainText(
    /Quillon\sM3,\s52\sV\smid\smotor\suses\s\d+\s%\sless\senergy\sper\skm\sthan\sDromel\sD5/,
  );
  await expect(page.getByText('compared within each of the 2')).toBeVisible();
  // The plain means say the opposite, and can be asked for: then both answers stand there.
  await page.getByText('Analysis: Within outings').click();
  await choose(page, 'Analysis', 'Each run alone');
  await expect(page.getByText('The runs call for another analysis (within outings)')).toBeVisible();
  await expect(headline(page)).toContainText(/Cannot\stell\syet|Dromel\sD5,\s52\sV\sdirect\sdrive\suses/);
  await choose(page, 'Analysis', 'As the runs call for');
  await expect(headline(page)).toContainText(/Quillon\sM3,\s52\sV\smid\smotor\suses/);
  await expectAccessible(page);
});

test('one setup at two levels, and on throttle against pedals, are two sides of a trial', async ({ page }) => {
  await openTrial(page, 'What does level 3 cost against level 2?');
  await expect(headline(page)).toContainText(
    /level\s2\suses\s(about\s)?\d+(\.\d)?\s%\sless\senergy\sper\skm\sthan\s.*level\s3/,
  );
  await expect(page.getByRole('table', { name: 'Other figures' })).toContainText('a look, not a decision');
  await page.getByRole('link', { name: /^Setups/ }).click();
  await expect(page.getByRole('row', { name: /Corvane R2.*level 2/ })).toBeVisible();
  await page.getByRole('button', { name: /^How Corvane R2.* is ridden, A/ }).click();
  await expect(page.getByRole('dialog').getByLabel('Assist level')).toHaveValue('2');
  await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();

  await openTrial(page, 'How much energy does pedalling save?');
  await expect(headline(page)).toContainText(
    /steady\spedalling\suses\s\d+\s%\sless\senergy\sper\skm\sthan\s.*throttle\sonly/,
  );
  await page.getByRole('link', { name: /^Runs \d+ counted/ }).click();
  await expect(page.getByRole('cell', { name: 'throttle only, no pedalling' }).first()).toBeVisible();
});

test('a trial refuses to tell setups apart that each had a day of their own, and the next outing is one click away', async ({
  page,
}) => {
  await openTrial(page, 'Which kit up Windmill road?');
  await expect(headline(page)).toContainText('the day and the setup cannot be told apart');
  await expect(page.getByText('No difference is shown where the setups cannot be told apart.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Plan the next outing' }).click();
  await ready(page);
  await page.getByRole('button', { name: /Add an outing with \d+ runs of each setup/ }).click();
  await expect(page.getByRole('region', { name: 'Outing 3' })).toBeVisible();
});

test('runs of another way of riding stand apart with the reason', async ({ page }) => {
  await openTrial(page, 'Which kit for the level round?');
  const apart = page.getByRole('region', { name: 'Runs that do not count' });
  await expect(apart).toContainText(
    'ridden with another way of riding: throttle only, no pedalling, not steady pedalling',
  );
  await apart.getByRole('link', { name: 'Write down how these runs were ridden' }).click();
  await ready(page);
  await expect(page).toHaveURL(/way=unsaid/);
  // Many runs at once; what is left blank stays.
  await page
    .getByLabel(/^Choose the run of/)
    .first()
    .check();
  await page.getByRole('button', { name: 'Correct its details' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Gear kept').fill('one gear');
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Show what changes' }).click();
  await expect(dialog).toContainText('gear one gear');
  await dialog.getByRole('button', { name: 'Change this run' }).click();
  await expect(dialog).toHaveCount(0);
  await expect(page.getByText('gear one gear').first()).toBeVisible();
});

test('a claim is judged against runs of the way of riding that it names', async ({ page }) => {
  await page.goto('/bench/setups');
  await ready(page);
  await page.getByRole('link', { name: 'Dromel D5, 52 V direct drive' }).first().click();
  const range = page.getByRole('row', { name: /^Range 120 km/ });
  await expect(range).toContainText('steady pedalling: measured');
  await expect(range).toContainText('claim not met');
  await expect(range).toContainText('The claim means');
});
