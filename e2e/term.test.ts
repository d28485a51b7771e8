import { readFile } from 'node:fs/promises';
import { execFileSync } from 'node:child_process';
import { expect, type Page } from '@playwright/test';
import { make, words } from './at-the-desk.ts';
import { choose, test, walkFile } from './people.ts';

const TITLE = 'Mail boat';

/** A file that the page gives. */
async function given(page: Page, ask: () => Promise<void>): Promise<{ name: string; bytes: Buffer; path: string }> {
  const download = page.waitForEvent('download');
  await ask();
  const file = await download;
  const path = await file.path();
  return { name: file.suggestedFilename(), bytes: await readFile(path), path };
}

/** Stores what has been written at a brief that is there already, and waits until nothing of it is left to be stored. */
async function storeBrief(page: Page): Promise<void> {
  const unstored = page.getByText('Not stored yet; kept in this browser.');
  await expect(unstored).toBeVisible();
  await page.getByRole('button', { name: /^Store/ }).click();
  await expect(unstored).toHaveCount(0);
}

test('a term in small: a brief, its gauges, set, handed in, reviewed, retimed, cleared, waived, signed off, shown, told and exported', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');

  // A brief is written, with an exemplar and a gauge moved on its number line.
  await page.getByRole('link', { name: 'Briefs', exact: true }).click();
  await page.getByRole('link', { name: 'Write a brief' }).click();
  await page.getByRole('button', { name: 'Store' }).click();
  await expect(page.getByText('a title is needed').first()).toBeVisible();
  await page.getByLabel('Title').fill(TITLE);
  await page
    .getByLabel('The story, and what is to be done')
    .fill('The carrier walks to the mail boat, with nothing in his arms.');
  await page.getByLabel('Frames (empty: any)').fill('24');
  await choose(page, 'Loop', /the last frame repeats/);
  await choose(page, 'Exemplar', 'walk');
  await expect(page.getByTestId('figure-moving')).toBeVisible();
  await page.getByLabel('Find a gauge').fill('up and down of the hips');
  const bob = page.getByTestId('gauge gait.bob').first();
  await expect(page.getByTestId('whose-gauges')).toContainText('The usual ones of a walk');
  const highest = bob.getByRole('slider', { name: /highest/ });
  const before = Number(await highest.getAttribute('aria-valuenow'));
  await highest.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.getByTestId('whose-gauges')).toContainText('of its own');
  expect(Number(await highest.getAttribute('aria-valuenow'))).toBeGreaterThan(before);
  await page.getByLabel('smoothing', { exact: true }).fill('No foot slides.');
  await page.getByRole('button', { name: 'A line' }).click();
  await page.getByLabel('What is graded', { exact: true }).fill('Feet that hold');
  // Nothing that was typed is lost when the page is.
  await page.reload();
  await expect(page.getByLabel('Title')).toHaveValue(TITLE);
  await page.getByRole('button', { name: 'Store' }).click();
  await page.waitForURL(/\/briefs\/[0-9a-f-]{36}$/);
  await expect(page.getByRole('heading', { name: TITLE })).toBeVisible();

  // It goes out as a file and comes in again.
  await page.getByRole('link', { name: 'Briefs', exact: true }).first().click();
  const row = page.getByRole('row').filter({ hasText: TITLE });
  const file = await given(page, () => row.getByRole('button', { name: 'As a file' }).click());
  expect(file.name).toBe('mail-boat.brief.json');
  const spoiled = JSON.parse(file.bytes.toString()) as { brief: { fps: unknown } };
  spoiled.brief.fps = 'fast';
  const input = page.locator('input[type=file]');
  await input.setInputFiles({
    name: 'x.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(spoiled)),
  });
  await expect(page.getByRole('alert')).toContainText('brief.fps');
  await input.setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: file.bytes });
  await expect(page.getByRole('heading', { name: `${TITLE} (2)` })).toBeVisible();

  // It is set, with a date for a stage.
  await page.getByRole('link', { name: 'Ledger' }).click();
  await choose(page, 'Cohort', /^Thursday loft/);
  await page.getByRole('button', { name: 'Set an exercise' }).click();
  const setting = page.getByRole('dialog');
  await choose(setting, 'Exercise', `${TITLE} (walk)`);
  const inDays = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 16);
  await setting.getByLabel('Due', { exact: true }).fill(inDays(9));
  await setting.getByLabel('blocking due').fill(inDays(3));
  await setting.getByRole('button', { name: 'Set it' }).click();
  await expect(setting).toBeHidden();
  await page.getByRole('link', { name: 'Outbox' }).click();
  await expect(page.getByRole('article', { name: 'Message' })).toContainText(`${TITLE} is set for you.`);

  // A student reads it, sees it done, and hands it in after the self-check.
  const student = await comeInAs('Sunniva Dahlby');
  await student.getByRole('link', { name: TITLE, exact: true }).click();
  await expect(student.getByTestId('figure-moving')).toBeVisible();
  await expect(student.getByRole('region', { name: 'Dates' })).toContainText('blocking');
  await student.getByRole('link', { name: 'Hand in' }).click();
  const handIn = async (file: ReturnType<typeof walkFile>, parts: string[]): Promise<void> => {
    await student.locator('input[type=file]').first().setInputFiles(file);
    await expect(student.getByTestId('self-check')).toContainText('Before you send it');
    for (const part of parts) await student.getByLabel(part, { exact: true }).check();
    await student.getByRole('button', { name: 'Hand it in' }).click();
    await student.waitForURL(/\/desk\//);
  };
  await student
    .locator('input[type=file]')
    .setInputFiles(walkFile('boat-1.bvh', { slide: 8, depth: -2 }, { length: 32 }));
  await expect(student.getByTestId('file-check')).toContainText('The exercise takes 24 frames; this takes 32.');
  await expect(student.getByTestId('self-check')).toContainText(/foot slides/);
  await handIn(walkFile('boat-1.bvh', { slide: 8 }, { length: 32 }), ['legs']);
  const shot = new URL(student.url()).pathname;

  // The docket, narrowed to it; a finding taken; sent back with a date.
  await page.getByRole('link', { name: 'Docket' }).click();
  await choose(page, 'Exercise', `${TITLE} (1)`);
  await expect(page).toHaveURL(/exercise=/);
  await expect(page.getByRole('row')).toHaveCount(2);
  await page.getByRole('link', { name: 'Sunniva Dahlby' }).click();
  await expect(page.getByTestId('lanes')).toHaveAttribute('data-lanes', /footfalls/);
  await page.getByRole('button', { name: /^Findings/ }).click();
  const slides = page.getByTestId('findings').getByRole('listitem').filter({ hasText: 'slides' }).first();
  await slides.getByRole('button', { name: 'Make a mark' }).click();
  await make(page, 'The planted foot slides.');
  await choose(page, 'Point', 'hand.R');
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('.');
  await expect(words(page)).toBeFocused();
  await page.getByTestId('composer').getByLabel('from', { exact: true }).fill('9');
  await page.getByTestId('composer').getByLabel('to', { exact: true }).fill('17');
  await make(page, 'Let the hand come later.');
  await page.getByRole('button', { name: 'Send back' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Words to the student').fill('Faster, and hold the feet.');
  await dialog.getByLabel('What is asked for next').fill('24 frames.');
  await dialog.getByLabel('By when, if it matters').fill(inDays(5));
  await dialog.getByRole('button', { name: 'Send it back' }).click();
  await expect(dialog).toBeHidden();

  // The return sheet, on paper.
  await page.goto(`/sheet/${shot.split('/').at(-1)}?r=1`);
  await expect(page.getByTestId('sheet')).toHaveAttribute('data-ready', 'true');
  await expect(
    page.getByRole('listitem').filter({ hasText: 'The planted foot slides.' }).getByRole('img', { name: /Frame/ }),
  ).toBeVisible();
  const sheet = await given(page, () => page.getByRole('button', { name: 'As a PDF' }).click());
  const text = execFileSync('pdftotext', ['-layout', sheet.path, '-'], { encoding: 'utf8' });
  expect(text).toContain('Mail boat: Sunniva Dahlby');
  expect(text).toContain('The planted foot slides.');

  // Revised with a retime; marks go along, what broke is taken.
  await student.goto('/worksheet');
  const waits = student.getByRole('listitem').filter({ hasText: TITLE });
  await expect(waits).toContainText('Next: 24 frames., by');
  await waits.getByRole('link', { name: 'Hand in the next revision' }).click();
  await handIn(walkFile('boat-2.bvh', { depth: 7 }, { length: 24 }), ['body', 'legs']);
  await page.goto(shot);
  const hand = page.getByTestId('mark').filter({ hasText: 'Let the hand come later.' });
  await expect(hand.getByTestId('placing')).toContainText('was 9–17: moved with its frames', { timeout: 60_000 });
  const slide = page.getByTestId('mark').filter({ hasText: 'The planted foot slides.' });
  await expect(slide.getByTestId('now-and-wanted')).toContainText('as wanted');
  // Seen one behind the other, and flicked between.
  await page.keyboard.press('c');
  await choose(page, 'How the two revisions are seen', 'one behind the other');
  await expect(page.getByRole('img', { name: 'The other revision, behind' })).toBeVisible();
  await choose(page, 'How the two revisions are seen', /^flicked/);
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await expect(page.getByTestId('flicked')).toHaveAttribute('data-shown', 'false');
  await page.keyboard.press('Shift+C');
  await expect(page.getByTestId('flicked')).toHaveAttribute('data-shown', 'true');
  await page.keyboard.press('c');
  await page
    .getByTestId('since')
    .getByRole('button', { name: /^Since R1/ })
    .click();
  await page
    .getByTestId('regressions')
    .getByRole('listitem')
    .filter({ hasText: /under the ground|sinks/ })
    .first()
    .getByRole('button', { name: 'Make a mark' })
    .click();
  await make(page, 'It sinks now: lift the hips.');
  await slide.getByRole('button', { name: 'Clear' }).click();
  await hand.getByRole('button', { name: 'Waive' }).click();
  await page.getByRole('button', { name: 'Send back' }).click();
  await dialog.getByLabel('Words to the student').fill('Only the hips.');
  await dialog.getByRole('button', { name: 'Send it back' }).click();
  await expect(dialog).toBeHidden();

  // Mended, graded, signed off: what would be signed off unseen is said.
  await student.goto(
    `/hand-in/${(await student.goto(shot), await student.getByRole('link', { name: 'Hand in the next revision' }).getAttribute('href'))!.split('/').at(-1)}`,
  );
  await handIn(walkFile('boat-3.bvh', { pop: 9 }, { length: 24 }), []);
  await page.goto(shot);
  const sinks = page.getByTestId('mark').filter({ hasText: 'It sinks now' });
  await expect(sinks.getByTestId('now-and-wanted')).toContainText('as wanted', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Sign off' }).click();
  await expect(dialog).toContainText('These marks are not settled yet');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await sinks.getByRole('button', { name: 'Clear' }).click();
  await page.getByRole('button', { name: 'About this shot' }).click();
  await dialog.getByLabel('Points for Feet that hold').fill('8.5');
  await dialog.getByRole('button', { name: 'Decide' }).click();
  await expect(dialog.getByTestId('grade-sum')).toHaveText('8.5 of 10 points.');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Sign off' }).click();
  await expect(dialog.getByTestId('unseen')).toContainText('neither marked nor set aside');
  await expect(dialog.getByTestId('unseen')).toContainText('1 mark is waived');
  await dialog.getByLabel('Words to the student').fill('It walks.');
  await dialog.getByRole('button', { name: 'Sign off' }).click();
  await expect(dialog).toBeHidden();

  // Shown to the cohort, once its student agrees.
  await student.goto(shot);
  await student.getByRole('button', { name: 'About this shot' }).click();
  await expect(student.getByRole('dialog').getByTestId('grade-sum')).toHaveText('8.5 of 10 points.');
  await student.getByRole('button', { name: 'I agree that it is shown' }).click();
  await expect(student.getByRole('dialog')).toContainText('You have agreed');
  await page.goto(shot);
  await page.getByRole('button', { name: 'About this shot' }).click();
  await dialog.getByLabel('What to look at').fill('From sliding to walking.');
  await dialog.getByRole('button', { name: 'Show it' }).click();
  await expect(dialog).toContainText('Shown since');
  const other = await comeInAs('Ulugbek Saidov');
  await other.getByRole('link', { name: 'Shown' }).click();
  await other.getByRole('link', { name: `${TITLE} by Sunniva Dahlby` }).click();
  await expect(other.getByTestId('paper')).toHaveCount(3);
  await expect(other.getByText('From sliding to walking.')).toBeVisible();
  await other.getByRole('button', { name: 'A frame on' }).click();
  await expect(other.getByTestId('frame')).toHaveText('2');
  await student.getByRole('button', { name: 'I don’t agree any more' }).click();
  await other.goto('/shown');
  await expect(other.getByText('Nothing is shown just now')).toBeVisible();

  // The ledger by its keys, the folio, the tally; and out.
  await page.goto('/ledger');
  await choose(page, 'Cohort', /^Thursday loft/);
  const cell = page.getByRole('row').filter({ hasText: 'Sunniva Dahlby' });
  await expect(cell).toContainText('R3');
  await page.getByRole('gridcell').first().focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.waitForURL(/\/folio\//);
  await page.goto('/ledger');
  await choose(page, 'Cohort', /^Thursday loft/);
  const grades = await given(page, () => page.getByRole('button', { name: 'Grades (CSV)' }).click());
  expect(grades.bytes.toString()).toContain('Sunniva Dahlby,Mail boat,1,polish,Feet that hold,8.5,10');
  await page.getByRole('link', { name: 'Sunniva Dahlby' }).click();
  const course = page.getByRole('list', { name: 'Exercises' }).getByRole('listitem').filter({ hasText: TITLE }).first();
  await expect(course.getByRole('listitem')).toHaveCount(3);
  await expect(course).toContainText('signed off');
  await page.getByRole('link', { name: 'Tally' }).click();
  await choose(page, 'Cohort', 'Thursday loft');
  await expect(page.getByRole('columnheader').filter({ hasText: TITLE })).toContainText('1 of 1 signed off');
  await expect(
    page.getByRole('button', { name: new RegExp(`slide, ${TITLE}: 0 of 1 outside.*1 fixed`) }),
  ).toBeVisible();
});

test('a brief changed under a running exercise: who has begun keeps theirs, who begins reads what changed', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await page.goto('/briefs');
  await page.getByRole('link', { name: 'Cold morning', exact: true }).click();
  await expect(page.getByText('This brief is set.')).toBeVisible();
  await page.getByLabel('Frames (empty: any)').fill('120');
  await page.getByRole('button', { name: 'Store as version 2' }).click();
  await expect(page.getByRole('region', { name: 'Versions' })).toContainText('length: 96 → 120');
  await page.goto('/ledger');
  await choose(page, 'Cohort', /^Thursday loft/);
  await page
    .getByRole('columnheader')
    .filter({ hasText: 'Cold morning' })
    .getByRole('button', { name: 'dates' })
    .click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Set version 2' }).click();
  await expect(dialog).not.toContainText('version 2 is there');
  const student = await comeInAs('Tomasz Wieczor');
  await student.getByRole('link', { name: 'Cold morning', exact: true }).click();
  await expect(student.getByTestId('brief-changes')).toContainText('length: 96 → 120');
});

test('two who write at one brief: what each changed is laid together, and nothing of either is lost', async ({
  comeInAs,
}) => {
  const [one, other] = [await comeInAs('Ottoline Farrow'), await comeInAs('Ottoline Farrow')];
  for (const page of [one, other]) {
    await page.goto('/briefs');
    await page.getByRole('link', { name: 'Signal halyard', exact: true }).click();
    await page.getByTestId('whose-gauges').waitFor();
  }
  await one.getByLabel('The story, and what is to be done').fill('The mast swings, and stops; the pennants follow.');
  await one.getByLabel('Frames (empty: any)').fill('56');
  await storeBrief(one);
  await other.getByLabel('Frames a second', { exact: true }).fill('12');
  await other.getByLabel('Frames (empty: any)').fill('60');
  await other.getByRole('button', { name: /^Store/ }).click();
  const notice = other.getByRole('alert').filter({ hasText: 'meanwhile' });
  await expect(notice).toContainText('Both of you changed length: yours stands.');
  await expect(other.getByLabel('The story, and what is to be done')).toHaveValue(/pennants follow/);
  await expect(other.getByLabel('Frames (empty: any)')).toHaveValue('60');
  await notice.getByRole('button', { name: 'Use theirs: length' }).click();
  await expect(other.getByLabel('Frames (empty: any)')).toHaveValue('56');
  await storeBrief(other);
  await one.reload();
  await expect(one.getByLabel('Frames a second', { exact: true })).toHaveValue('12');
  await expect(one.getByLabel('Frames (empty: any)')).toHaveValue('56');
});
