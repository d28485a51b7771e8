import { expect } from '@playwright/test';
import { atDesk, make, words } from './at-the-desk.ts';
import { choose, openShot, test, walkFile } from './people.ts';

test('a mark is made for another student on whom the same was found, with the numbers it has there', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  // Only what was measured is known to show the same.
  await expect(async () => {
    await page.reload();
    const dagny = page.getByRole('row').filter({ hasText: 'Dagny Solheim' }).filter({ hasText: 'Night round' });
    await expect(dagny).toContainText('R2', { timeout: 2_000 });
    await expect(dagny).not.toContainText('being measured', { timeout: 2_000 });
  }).toPass({ timeout: 120_000 });
  await atDesk(page, 'Hoku Kealoha');
  await page.getByRole('button', { name: /^Findings/ }).click();
  const finding = page.getByRole('listitem').filter({ hasText: /lowest a frame before the contact/ });
  await finding.getByRole('button', { name: 'Make a mark', exact: true }).click();
  await expect(words(page)).toHaveValue(/lowest a frame before the contact/);
  await words(page).press('Control+End');
  await words(page).pressSequentially(' See my notes of week two.');
  await page.keyboard.press('Control+Enter');
  const mark = page.getByTestId('mark').filter({ hasText: 'week two' });
  await mark.getByRole('button', { name: 'Also for …' }).click();
  const others = page.getByRole('dialog');
  await expect(others).not.toContainText('Hoku');
  await others.getByRole('link', { name: /^Dagny Solheim/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Night round');
  await expect(words(page)).toHaveValue(/lowest on the contact[^]* See my notes of week two\.$/);
  await expect(page.getByTestId('told')).toContainText('wanted');
  await make(page, await words(page).inputValue());
  const made = page.getByTestId('mark').filter({ hasText: 'week two' });
  await made.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(made).toHaveCount(0);
  await page.goBack();
  await mark.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(mark).toHaveCount(0);
});

test('two people at one shot see at once what the other does; a key pose is moved and found as it was', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Mateo Villarreal');
  const other = await comeInAs('Baraka Lundqvist');
  await atDesk(other, 'Mateo Villarreal');
  await page.keyboard.press('.');
  await make(page, 'Seen by both.');
  const seen = other.getByTestId('mark').filter({ hasText: 'Seen by both.' });
  // Long before anything is asked for again by itself.
  await expect(seen).toHaveCount(1, { timeout: 10_000 });
  await seen.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByTestId('mark').filter({ hasText: 'Seen by both.' })).toHaveCount(0, { timeout: 10_000 });

  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('p');
  const row = page.getByTestId('pose-row');
  await row.getByRole('button', { name: 'passing, frame 7' }).click();
  await page.keyboard.press('Alt+ArrowRight');
  await expect(row.getByRole('button', { name: 'passing, frame 8' })).toBeFocused();
  await row.getByRole('button', { name: 'as found' }).click();
  await expect(row.getByRole('button', { name: 'passing, frame 7' })).toBeVisible();
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('p');
});

test('a whole review by the keyboard: from the shot that is opened to three marks that are sent back', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Liesl Achterberg');
  await page.getByTestId('lanes').waitFor();
  // What has been begun on it already is counted with.
  const unsent = page.getByTestId('mark').filter({ hasText: 'not sent' });
  await expect(page.getByTestId('lanes')).toHaveAttribute('data-lanes', /footfalls/);
  const before = await unsent.count();
  let strokes = 0;
  const press = async (...keys: string[]): Promise<void> => {
    for (const key of keys) {
      strokes++;
      await page.keyboard.press(key);
    }
  };
  for (let k = 0; k < 3; k++) {
    await press('n', 'm');
    await expect(words(page)).toBeFocused();
    await press('Control+Enter');
    await expect(unsent).toHaveCount(before + k + 1);
  }
  // Where no rest was found one can be wanted: the frames are dragged on the strip, and what goes on there is told.
  await choose(page, 'Point', 'hand.R');
  const axis = page.getByRole('slider', { name: 'Frame', exact: true });
  // The strip grows with its marks: it is taken hold of where it stands.
  await expect(async () => {
    const { x, y, width } = (await axis.boundingBox())!;
    const at = (label: number): number => x + ((label - 0.5) / 31) * width;
    await page.keyboard.down('Shift');
    await page.mouse.move(at(16), y + 10);
    await page.mouse.down();
    await page.mouse.move(at(24), y + 10, { steps: 4 });
    await page.mouse.up();
    await page.keyboard.up('Shift');
    await expect(page.getByTestId('composer').getByLabel('from', { exact: true })).toHaveValue('16', {
      timeout: 2_000,
    });
  }).toPass();
  await axis.focus();
  await page.keyboard.press('6');
  await expect(page.getByTestId('told')).toContainText(/it creeps, drifting by [\d.]+ % of the move before/);
  await make(page, 'Let the arm rest at the end of its swing.');
  await axis.focus();

  await press('Shift+Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('slides by');
  await expect(dialog.getByLabel('Words to the student')).toBeFocused();
  await page.keyboard.type('Three things.');
  strokes += 'Three things.'.length;
  await press('Control+Enter');
  await expect(dialog).toBeHidden();
  // Fewer than a person who knows it types in half a minute.
  expect(strokes).toBeLessThan(30);

  const liesl = await comeInAs('Liesl Achterberg');
  await liesl.getByRole('link', { name: 'Read the marks' }).click();
  const told = liesl.getByTestId('now-and-wanted');
  // One was on it already, and asks for a delay.
  await expect(told).toHaveCount(5);
  await expect(told.filter({ hasText: 'wanted' })).toHaveCount(5);
  await expect(told.filter({ hasText: 'it creeps' })).toContainText('wanteda hold from 16 to 24');
  await expect(told.filter({ hasText: '% of a leg or less' }).first()).toBeVisible();
});

test('a teacher shows how an exercise is done: a student lays it beside their own, aligned, and only steps it', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Mateo Villarreal', 'Last ferry');
  const address = `/api/shots/${page.url().split('/').at(-1)!}`;
  const { assignment } = (await (await page.request.get(address)).json()) as { assignment: string };
  await page.goto(`/exercise/${assignment}`);
  await page.getByRole('link', { name: 'Show how it is done' }).click();
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles(walkFile('shown.bvh', {}, { length: 30 }));
  await page.getByRole('button', { name: 'Put it beside' }).click();
  // Nobody sends back what shows how.
  await expect(page.getByRole('button', { name: 'Withdraw' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Send back' })).toHaveCount(0);
  await page.goto(`/exercise/${assignment}`);
  await choose(page, 'How often Ottoline Farrow’s is played', 'stepped only');

  const student = await comeInAs('Mateo Villarreal');
  await student.goto(`/exercise/${assignment}`);
  await expect(student.getByText('stepped only')).toBeVisible();
  await student.goto(address.replace('/api/shots', '/desk'));
  await choose(student, 'Shown by those who teach', 'beside: Ottoline Farrow');
  await expect(student.getByText('Shown by Ottoline Farrow')).toBeVisible();
  await expect(student.getByTestId('paper')).toHaveCount(2);

  await page.getByRole('link', { name: 'Ottoline Farrow', exact: true }).click();
  await page.getByRole('button', { name: 'Withdraw' }).click();
  await page.goto(`/exercise/${assignment}`);
  await expect(page.getByRole('link', { name: 'Show how it is done' })).toBeVisible();
});

test('another tempo is tried at once, and asked for in a mark that every later cycle is held against', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Farid Qasemi');
  await page.getByRole('button', { name: 'Tempo' }).click();
  await page.getByLabel('frames a cycle').fill('20');
  await expect(page.getByText('20 frames at 24 a second: 144 steps a minute')).toBeVisible();
  await page.getByRole('button', { name: 'Ask for 20 frames' }).click();
  await expect(page.getByTestId('told')).toContainText('24 frames');
  await expect(page.getByTestId('told')).toContainText('20 frames');
  await expect(words(page)).toBeFocused();
  await make(page, 'Livelier.');
  const mark = page.getByTestId('mark').filter({ hasText: 'Livelier.' });
  await mark.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(mark).toHaveCount(0);
});
