import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { readBvh } from '@ypsigraph/core/formats/bvh/read-bvh';
import { choose, test, walkFile } from './people.ts';

test('signing in by hand, wrongly and rightly, and out again', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('Your e-mail address is needed.')).toBeVisible();
  await page.getByLabel('E-mail').fill('chiyo.tanabe@saltwick.example');
  await page.getByLabel('Password').fill('guess');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('The address or the password is not right.')).toBeVisible();
  await page.getByLabel('Password').fill('saltwick');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Worksheet' })).toBeVisible();
  await expect(page.getByText('R1 signed off')).toBeVisible();
  // A student has no docket, whatever address is typed.
  await page.goto('/docket');
  await expect(page.getByText('There is no such page')).toBeVisible();
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Chiyo Tanabe/ })).toBeVisible();
});

test('an exercise is closed and opened again from the ledger', async ({ comeInAs }) => {
  const ottoline = await comeInAs('Ottoline Farrow');
  await ottoline.getByRole('link', { name: 'Ledger' }).click();
  const row = ottoline.getByRole('row', { name: /Chiyo Tanabe/ });
  await expect(row).toContainText('R1');
  await expect(row).toContainText('signed off');
  await expect(ottoline.getByRole('row')).toHaveCount(13);
  // Other exercises of the cohort stay open.
  const open = await ottoline.getByRole('button', { name: 'close', exact: true }).count();
  const walk = ottoline.getByRole('columnheader').filter({ hasText: 'Night round' });
  await walk.getByRole('button', { name: 'close' }).click();
  const again = walk.getByRole('button', { name: 'closed: open again' });
  await expect(again).toBeVisible();
  const emeka = await comeInAs('Emeka Brightwater');
  const own = emeka.getByRole('listitem').filter({ hasText: 'Night round' });
  await expect(own.getByText('closed', { exact: true })).toBeVisible();
  await expect(own.getByRole('link', { name: /^Hand in/ })).toHaveCount(0);
  await again.click();
  await expect(ottoline.getByRole('button', { name: 'close', exact: true })).toHaveCount(open);
  await emeka.reload();
  await expect(own.getByRole('link', { name: 'Hand in the next revision' })).toBeVisible();
});

test('a student takes a revision back and hands in another; the file’s progress is shown as it goes', async ({
  comeInAs,
}) => {
  const quirin = await comeInAs('Quirin Abendroth');
  await quirin
    .getByRole('link', { name: /^Hand in/ })
    .first()
    .click();
  await quirin.locator('input[type=file]').setInputFiles(walkFile('first.bvh', { slide: 4 }));
  await choose(quirin, 'Stage', 'blocking');
  // The server is kept waiting, so that there is a while in which to look.
  await quirin.route('**/revisions', async (route) => {
    await new Promise((done) => setTimeout(done, 700));
    await route.continue();
  });
  await quirin.getByRole('button', { name: 'Hand it in' }).click();
  await expect(quirin.getByRole('progressbar', { name: 'Sent' })).toBeVisible();
  await expect(quirin.getByText('blocking, handed in')).toBeVisible();
  await quirin.getByRole('button', { name: 'Withdraw' }).click();
  await expect(quirin.getByText('blocking, withdrawn')).toBeVisible();
  await quirin.getByRole('link', { name: 'Hand in the next revision' }).click();
  // A file that was withdrawn may be handed in again.
  await quirin.locator('input[type=file]').setInputFiles(walkFile('first.bvh', { slide: 4 }));
  await quirin.getByRole('button', { name: 'Hand it in' }).click();
  await expect(quirin.getByRole('button', { name: 'R2' })).toHaveAttribute('aria-pressed', 'true');
});

test('a hand-in that is stopped half way hands nothing in', async ({ comeInAs }) => {
  const rosalind = await comeInAs('Rosalind Achebe-Moor');
  await rosalind.getByRole('link', { name: 'Hand in the next revision' }).click();
  await rosalind.locator('input[type=file]').setInputFiles(walkFile('next.bvh', { bigBob: 1 }));
  await rosalind.route('**/revisions', () => new Promise(() => undefined));
  await rosalind.getByRole('button', { name: 'Hand it in' }).click();
  await rosalind.getByRole('button', { name: 'Stop' }).click();
  await expect(rosalind.getByRole('alert')).toContainText('Nothing was handed in');
  await rosalind.goto('/worksheet');
  await expect(rosalind.getByText('R1 sent back')).toBeVisible();
});

test('on a phone a student reads the marks under the figure', async ({ comeInAs }) => {
  const page = await comeInAs('Emeka Brightwater');
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole('link', { name: 'Read the marks' }).click();
  await page.getByTestId('strip').waitFor();
  const paper = (await page.getByTestId('paper').boundingBox())!;
  expect(paper.width).toBeGreaterThan(360);
  const mark = page.getByTestId('mark').first();
  await mark.scrollIntoViewIfNeeded();
  expect((await mark.boundingBox())!.width).toBeGreaterThan(360);
  // Nothing sticks out at the side.
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test('the server describes its API, and says that it is well', async ({ page }) => {
  const health = await page.request.get('/api/ready');
  expect(await health.json()).toMatchObject({ status: 'well' });
  await page.goto('/api/docs');
  await expect(page.getByRole('heading', { name: /Ypsigraph/ })).toBeVisible();
  await expect(page.getByText('/api/docket')).toBeVisible();
});

test('an exemplar with a fault dialled in says what is found in it, is a file, and begins a brief', async ({
  comeInAs,
}) => {
  const ottoline = await comeInAs('Ottoline Farrow');
  await ottoline.getByRole('link', { name: 'Exemplars' }).click();
  const said = ottoline.getByTestId('said');
  await expect(said).toContainText('Nothing: all');
  await ottoline.getByLabel('planted feet slide').check();
  await expect(said).toContainText('The left foot slides by 6');
  await ottoline.getByLabel('planted feet slide, % of a leg').fill('3');
  await expect(said).toContainText('The left foot slides by 3');
  const saving = ottoline.waitForEvent('download');
  await ottoline.getByRole('button', { name: 'As a motion (BVH)' }).click();
  const file = await saving;
  expect(file.suggestedFilename()).toBe('walk-slide.bvh');
  const { motion } = readBvh(readFileSync(await file.path()));
  expect([motion.frames, motion.fps]).toEqual([25, 24]);
  await choose(ottoline, 'Motion', 'turn');
  await ottoline.getByLabel('a hold lasts', { exact: true }).fill('20');
  await ottoline.getByRole('button', { name: 'Write a brief with it' }).click();
  await expect(ottoline.getByRole('heading', { name: 'A new brief' })).toBeVisible();
  await expect(ottoline.getByLabel('Kind', { exact: true })).toHaveValue('turn');
  await expect(ottoline.getByLabel('a hold lasts', { exact: true })).toHaveValue('20');
  // A pose of its own is planned, and shown by the exemplar.
  await ottoline.getByRole('button', { name: 'A pose', exact: true }).click();
  const planned = ottoline.getByRole('list', { name: 'Planned poses' }).getByRole('listitem');
  await planned.getByLabel('Pose', { exact: true }).selectOption('a pose of its own');
  await planned.getByLabel('Name of the pose').fill('ear to the water');
  await ottoline.getByLabel('Title').fill('Ear to the water');
  await ottoline.getByRole('button', { name: 'Store' }).click();
  await expect(planned.getByRole('alert')).toContainText('nobody knows what “ear to the water” looks like');
  await planned.getByRole('button', { name: 'of the exemplar' }).click();
  await expect(planned.getByRole('img', { name: 'The pose' })).toBeVisible();
  await expect(planned.getByRole('alert')).toHaveCount(0);
  await ottoline.getByRole('group', { name: 'It is also' }).getByLabel('take').check();
  await expect(ottoline.getByTestId('whose-gauges')).toContainText('The usual ones of a turn and take');
  await ottoline.getByRole('button', { name: 'Store' }).click();
  await ottoline.waitForURL(/\/briefs\/[0-9a-f-]{36}$/);
  await ottoline.reload();
  await expect(planned.getByLabel('Name of the pose')).toHaveValue('ear to the water');
});
