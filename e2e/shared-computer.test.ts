// One computer in a classroom, and one person in two pages: nothing is lost, and nothing is said as somebody else.
import { expect, type Page } from '@playwright/test';
import { openShot, test } from './people.ts';

const comeIn = async (page: Page, name: string): Promise<void> => {
  await page.goto('/');
  await page.getByRole('button', { name: new RegExp(`^${name}`) }).click();
  await page.getByRole('button', { name: 'Sign out', exact: true }).waitFor();
};
const leave = async (page: Page): Promise<void> => {
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await page.getByRole('heading', { name: 'Sign in' }).waitFor();
};
const WORDS = 'The left foot lands a frame early.';

test('what one person has not sent yet waits for them, and is neither seen nor sent by the next', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Farid Qasemi');
  await page.getByTestId('strip').waitFor();
  const shot = page.url();
  await page.keyboard.press('1');
  await page.getByLabel('Words of the mark').fill(WORDS);
  await page.route('**/api/revisions/*/marks', (route) => route.abort('connectionfailed'));
  await page.getByRole('button', { name: 'Make the mark' }).click();
  await expect(page.getByText(/waits for the connection/)).toBeVisible();
  // A second one is only begun.
  await page.keyboard.press('2');
  await page.getByLabel('Words of the mark').fill('And the hand');
  await leave(page);

  await comeIn(page, 'Baraka Lundqvist');
  await page.unroute('**/api/revisions/*/marks');
  await page.goto(shot);
  await page.getByTestId('strip').waitFor();
  // Longer than it takes to try again.
  await page.waitForTimeout(5_000);
  await expect(page.getByText(/waits for the connection/)).toHaveCount(0);
  await expect(page.getByText(WORDS)).toHaveCount(0);
  await expect(page.getByLabel('Words of the mark')).toHaveCount(0);
  await leave(page);

  await comeIn(page, 'Ottoline Farrow');
  await page.goto(shot);
  await expect(page.getByTestId('mark').filter({ hasText: WORDS })).toHaveCount(1);
  await expect(page.getByLabel('Words of the mark')).toHaveValue('And the hand');
});

test('a page that was left open sends nothing as the person who signed in elsewhere meanwhile', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Farid Qasemi');
  await page.getByTestId('strip').waitFor();
  await page.keyboard.press('3');
  await page.getByLabel('Words of the mark').fill('Only Ottoline says this.');
  const other = await page.context().newPage();
  await other.goto('/');
  await leave(other);
  await comeIn(other, 'Baraka Lundqvist');
  await page.getByRole('button', { name: 'Make the mark' }).click();
  await page.waitForTimeout(2_000);
  await other.goto(page.url());
  await other.getByTestId('strip').waitFor();
  await expect(other.getByText('Only Ottoline says this.')).toHaveCount(0);
});

test('two pages of one person keep what is written in each', async ({ comeInAs }) => {
  const first = await comeInAs('Baraka Lundqvist');
  await openShot(first, 'Farid Qasemi');
  await first.getByTestId('strip').waitFor();
  await first.keyboard.press('1');
  await first.getByLabel('Words of the mark').fill('written in the first');
  const second = await first.context().newPage();
  await second.goto(first.url());
  await second.getByTestId('strip').waitFor();
  await second.waitForTimeout(500);
  await second.keyboard.press('2');
  await second.getByLabel('Words of the mark').fill('written in the second');
  await first.reload();
  await expect(first.getByLabel('Words of the mark')).toHaveValue('written in the first');
  await expect(second.getByLabel('Words of the mark')).toHaveValue('written in the second');
});

test('a person sees where they are signed in, and ends the rest', async ({ comeInAs }) => {
  const [here, there] = [await comeInAs('Baraka Lundqvist'), await comeInAs('Baraka Lundqvist')];
  await here.getByRole('link', { name: /Baraka Lundqvist/ }).click();
  await expect(here.getByTestId('sessions').getByText('here', { exact: true })).toHaveCount(1);
  await here.getByRole('button', { name: 'Sign out everywhere else' }).click();
  await expect(here.getByTestId('sessions').getByRole('listitem')).toHaveCount(1);
  await there.reload();
  await expect(there.getByRole('heading', { name: 'Sign in' })).toBeVisible();
});
