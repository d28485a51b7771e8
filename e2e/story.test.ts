import { expect, type Page } from '@playwright/test';
import { choose, test, walkFile } from './people.ts';

const HAND_POPS = 'The hand jumps forward here for one frame. Take that key out.';

/** Opens the desk and waits until the figure is there. */
async function openDesk(page: Page, student: string): Promise<void> {
  await page.goto('/docket');
  await page.getByRole('link', { name: student }).click();
  await expect(page.getByTestId('paper').first()).toBeVisible();
  await expect(page.getByTestId('strip')).toBeVisible();
}

const frameShown = async (page: Page): Promise<number> =>
  Number(await page.getByRole('slider', { name: 'Frame' }).getAttribute('aria-valuenow'));

test('a walk is set, handed in, marked, sent back, answered, revised and signed off', async ({ comeInAs }) => {
  const ottoline = await comeInAs('Ottoline Farrow');
  const tomasz = await comeInAs('Tomasz Wieczor');

  await test.step('the instructor sets an exercise', async () => {
    await ottoline.getByRole('link', { name: 'Ledger' }).click();
    await expect(ottoline.getByRole('heading', { name: 'Ledger' })).toBeVisible();
    await choose(ottoline, 'Cohort', /Thursday loft/);
    await ottoline.getByRole('button', { name: 'Set an exercise' }).click();
    const dialog = ottoline.getByRole('dialog');
    await choose(dialog, 'Exercise', /Gangplank/);
    await dialog.getByRole('button', { name: 'Set it' }).click();
    await expect(ottoline.getByRole('columnheader', { name: /Gangplank/ })).toBeVisible();
  });

  await test.step('the student hands in a motion file', async () => {
    await tomasz.reload();
    const exercise = tomasz.getByRole('listitem').filter({ has: tomasz.getByRole('heading', { name: 'Gangplank' }) });
    await exercise.getByRole('link', { name: 'Hand in' }).click();
    await tomasz.locator('input[type=file]').setInputFiles(walkFile('gangplank-1.bvh', { pop: 28 }));
    await expect(tomasz.getByTestId('file-check')).toContainText('23 joints');
    await tomasz.getByLabel('A note to your instructor').fill('Please look at the arms.');
    await tomasz.getByRole('button', { name: 'Hand it in' }).click();
    await expect(tomasz.getByText('smoothing, handed in')).toBeVisible();
    await expect(tomasz.getByText(/\d+ made/)).toBeVisible();
  });

  await test.step('the instructor sees it move, steps through it, and sees one joint’s path', async () => {
    await ottoline.emulateMedia({ reducedMotion: 'no-preference' });
    await openDesk(ottoline, 'Tomasz Wieczor');
    const before = await frameShown(ottoline);
    await expect.poll(() => frameShown(ottoline)).not.toBe(before);
    await ottoline.keyboard.press('Home');
    await ottoline.emulateMedia({ reducedMotion: 'reduce' });
    expect(await frameShown(ottoline)).toBe(1);
    for (let i = 0; i < 8; i++) await ottoline.keyboard.press('ArrowRight');
    expect(await frameShown(ottoline)).toBe(9);
    await choose(ottoline, 'Point', 'hand.R');
    await expect(ottoline.getByTestId('path-legend')).toContainText('one frame out of place: 1');
    await expect(ottoline.getByTestId('lanes')).toHaveAttribute('data-lanes', /footfalls.*weave.*trace/);
  });

  await test.step('the instructor puts a mark at the frame, which the student does not see yet', async () => {
    await ottoline
      .getByTestId('paper')
      .first()
      .click({ position: { x: 20, y: 20 } });
    await ottoline.keyboard.press('3');
    await ottoline.getByLabel('Words of the mark').fill(HAND_POPS);
    await ottoline.reload();
    // What was typed is there after a reload.
    await expect(ottoline.getByLabel('Words of the mark')).toHaveValue(HAND_POPS);
    await ottoline.getByRole('button', { name: 'Make the mark' }).click();
    const mark = ottoline.getByTestId('mark');
    await expect(mark).toContainText('not sent');
    await expect(mark).toContainText('hand.R');
    await tomasz.reload();
    await expect(tomasz.getByTestId('marks')).toContainText('No marks on this revision.');
    await expect(tomasz.getByText(HAND_POPS)).toHaveCount(0);
  });

  await test.step('the instructor sends it back', async () => {
    await ottoline.getByRole('button', { name: 'Send back' }).click();
    const dialog = ottoline.getByRole('dialog');
    await expect(dialog).toContainText(HAND_POPS);
    await dialog.getByLabel('Words to the student').fill('One frame spoils a good swing.');
    await dialog.getByLabel('What is asked for next').fill('A clean arc of the right hand.');
    await dialog.getByRole('button', { name: 'Send it back' }).click();
    await expect(dialog).toBeHidden();
  });

  await test.step('the student reads the mark, answers it, and hands in a second revision', async () => {
    await tomasz.goto('/worksheet');
    await expect(tomasz.getByText('A clean arc of the right hand.')).toBeVisible();
    await tomasz.getByRole('link', { name: 'Read the marks' }).click();
    await expect(tomasz.getByTestId('mark')).toContainText(HAND_POPS);
    await tomasz.getByRole('button', { name: 'Answer' }).click();
    await tomasz.getByLabel('Your answer').fill('There was a stray key on 9.');
    await tomasz.getByRole('button', { name: 'Send the answer' }).click();
    await expect(tomasz.getByTestId('mark')).toContainText('answered');
    await tomasz.getByRole('link', { name: 'Hand in the next revision' }).click();
    await tomasz.locator('input[type=file]').setInputFiles(walkFile('gangplank-2.bvh'));
    await tomasz.getByRole('button', { name: 'Hand it in' }).click();
    await expect(tomasz.getByRole('button', { name: 'R2' })).toBeVisible();
  });

  await test.step('the instructor sees the two side by side on one clock, clears the mark and signs off', async () => {
    await openDesk(ottoline, 'Tomasz Wieczor');
    await expect(ottoline.getByTestId('mark')).toContainText('There was a stray key on 9.');
    await ottoline.keyboard.press('Home');
    await ottoline.getByRole('button', { name: 'Compare' }).click();
    await expect(ottoline.getByTestId('paper')).toHaveCount(2);
    await ottoline.getByTestId('mark').getByRole('button').first().click();
    await expect(ottoline.getByTestId('path-legend').first()).toContainText('one frame out of place: 1');
    await expect(ottoline.getByTestId('path-legend').nth(1)).toContainText('keeps to its arc and spacing');
    await ottoline.getByRole('button', { name: 'Sign off' }).click();
    await expect(ottoline.getByRole('dialog')).toContainText('not settled yet');
    await ottoline.keyboard.press('Escape');
    await ottoline.getByRole('button', { name: 'Clear' }).click();
    await expect(ottoline.getByTestId('mark')).toHaveCount(0);
    await ottoline.getByRole('button', { name: 'Sign off' }).click();
    await ottoline.getByRole('dialog').getByLabel('Words to the student').fill('Clean. Done.');
    await ottoline.getByRole('dialog').getByRole('button', { name: 'Sign off' }).click();
    await expect(ottoline.getByRole('dialog')).toBeHidden();
  });

  await test.step('both see that it is signed off', async () => {
    await tomasz.goto('/worksheet');
    await expect(tomasz.getByText('Clean. Done.')).toBeVisible();
    await ottoline.goto('/docket');
    await expect(ottoline.getByRole('link', { name: 'Tomasz Wieczor' })).toHaveCount(0);
  });
});
