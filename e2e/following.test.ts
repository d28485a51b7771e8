import { expect } from '@playwright/test';
import { make, words } from './at-the-desk.ts';
import { choose, openShot, test, walkFile } from './people.ts';

test('marks go with their frames into a retimed revision; what broke is said first and taken; marks are judged there', async ({
  comeInAs,
}) => {
  const handIn = async (
    page: Awaited<ReturnType<typeof comeInAs>>,
    file: ReturnType<typeof walkFile>,
  ): Promise<void> => {
    await page.locator('input[type=file]').setInputFiles(file);
    await expect(page.getByTestId('figure-moving')).toBeVisible();
    await expect(page.getByTestId('self-check')).toContainText('Before you send it');
    await page.getByRole('button', { name: 'Hand it in' }).click();
    await page.waitForURL(/\/desk\//);
  };
  const student = await comeInAs('Kiri Tamatea');
  await student.goto('/worksheet');
  await student
    .getByRole('listitem')
    .filter({ hasText: 'Night round' })
    .getByRole('link', { name: /Hand in/ })
    .click();
  // What it lacks is seen before it is sent, by the student alone.
  await student.locator('input[type=file]').setInputFiles(walkFile('first.bvh', { slide: 8 }, { length: 40 }));
  await expect(student.getByTestId('file-check')).toContainText('The exercise takes 24 frames; this takes 40.');
  await expect(student.getByTestId('self-check')).toContainText(/foot slides/);
  await student.reload();
  await handIn(student, walkFile('first.bvh', { slide: 8 }, { length: 40 }));

  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Kiri Tamatea');
  await expect(page.getByTestId('lanes')).toHaveAttribute('data-lanes', /footfalls/);
  await choose(page, 'Point', 'hand.R');
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('7');
  await expect(words(page)).toBeFocused();
  const composer = page.getByTestId('composer');
  await composer.getByLabel('from', { exact: true }).fill('9');
  await composer.getByLabel('to', { exact: true }).fill('17');
  await make(page, 'Let the hand come later.');
  // The finding of the slide becomes a mark that is measured again.
  await page.getByRole('button', { name: /^Findings/ }).click();
  await page
    .getByTestId('findings')
    .getByRole('listitem')
    .filter({ hasText: 'slides' })
    .first()
    .getByRole('button', { name: 'Make a mark' })
    .click();
  await make(page, 'The planted foot slides.');
  await page.getByRole('button', { name: 'Send back' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Words to the student').fill('Twice as fast, please.');
  await dialog.getByRole('button', { name: 'Send it back' }).click();
  await expect(dialog).toBeHidden();

  await student.reload();
  await student.getByRole('link', { name: 'Hand in the next revision' }).click();
  await handIn(student, walkFile('second.bvh', { depth: 7 }, { length: 20 }));
  await expect(student.getByRole('button', { name: 'R3' })).toHaveAttribute('aria-pressed', 'true');
  // The student sees where the marks are now as well.
  const theirs = student.getByTestId('mark').filter({ hasText: 'Let the hand come later.' });
  await expect(theirs.getByTestId('placing')).toContainText('was 9–17: moved with its frames', { timeout: 60_000 });

  // Sending back went on to the next shot that waits.
  await page.goto(new URL(student.url()).pathname);
  const moved = page.getByTestId('mark').filter({ hasText: 'Let the hand come later.' });
  await expect(moved.getByTestId('placing')).toContainText('was 9–17: moved with its frames', { timeout: 60_000 });
  // 9 to 17 of 40 frames are 5 to 9 of 20.
  await expect(moved).toContainText(/R2/);
  await expect(moved.locator('.frame-number').first()).toHaveText(/^[456]–(8|9|10)$/);
  // It is put elsewhere by hand, and back.
  await moved.getByRole('button', { name: 'Move' }).click();
  await moved.getByLabel('from').fill('3');
  await moved.getByLabel('to').fill('6');
  await moved.getByRole('button', { name: 'Put here' }).click();
  await expect(moved.getByTestId('placing')).toContainText('was 9–17: put here by Ottoline Farrow');
  await expect(moved.locator('.frame-number').first()).toHaveText('3–6');
  await moved.getByRole('button', { name: 'Move' }).click();
  await moved.getByRole('button', { name: 'Where its frames are' }).click();
  await expect(moved.getByTestId('placing')).toContainText('moved with its frames');

  // What the core says of the slide that was asked for: it is gone.
  const slide = page.getByTestId('mark').filter({ hasText: 'The planted foot slides.' });
  await expect(slide.getByTestId('now-and-wanted')).toContainText('as wanted');
  // What was right and broke is said first, and is taken.
  const since = page.getByTestId('since');
  await expect(since).toContainText('Since R2');
  await expect(since).toContainText(/worse/);
  await since.getByRole('button', { name: /^Since R2/ }).click();
  const sinks = since
    .getByTestId('regressions')
    .getByRole('listitem')
    .filter({ hasText: /under the ground|sinks/ })
    .first();
  await sinks.getByRole('button', { name: 'Make a mark' }).click();
  await expect(words(page)).toBeFocused();
  await make(page, 'It sinks now: lift the hips again.');
  await slide.getByRole('button', { name: 'Clear' }).click();
  await expect(page.getByTestId('mark').filter({ hasText: 'The planted foot slides.' })).toHaveCount(0);
  // Who did what with it, and when.
  await moved.getByRole('button', { name: 'History' }).click();
  await expect(moved.getByTestId('history').getByRole('listitem')).toHaveText([
    /^made by Ottoline Farrow/,
    /^sent by Ottoline Farrow/,
    /^moved by Ottoline Farrow/,
    /^moved by Ottoline Farrow/,
  ]);
  await moved.getByRole('button', { name: 'Waive' }).click();
  await expect(page.getByTestId('mark').filter({ hasText: 'Let the hand come later.' })).toHaveCount(0);
  // It goes back with what broke.
  await page.getByRole('button', { name: 'Send back' }).click();
  await dialog.getByLabel('Words to the student').fill('Only the hips.');
  await dialog.getByRole('button', { name: 'Send it back' }).click();
  await expect(dialog).toBeHidden();
  await student.reload();
  await expect(student.getByTestId('mark').filter({ hasText: 'It sinks now' })).toBeVisible();
});
