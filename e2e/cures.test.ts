import { readFileSync } from 'node:fs';
import { expect } from '@playwright/test';
import { readBvh } from '@ypsigraph/core/formats/bvh/read-bvh';
import { measureReading } from '@ypsigraph/core/measure/registry';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { settled } from './at-the-desk.ts';
import { choose, openShot, test, walkFile } from './people.ts';

const MUCH = 'Lift the head: she looks where she goes.';

/** What a motion file says of the head, degrees. */
const headOf = (bytes: Uint8Array): number =>
  measureReading(prepareShot(readBvh(bytes).motion, { kind: 'walk' }), 'posture.head')[0]!.value as number;

test('a finding is cured on the student’s own shot: dragged, kept with a mark, sent, taken away, handed in, told as wanted', async ({
  comeInAs,
}) => {
  const ottoline = await comeInAs('Ottoline Farrow');
  const dagny = await comeInAs('Dagny Solheim');
  let taken: Buffer;

  await test.step('a walk whose head hangs is handed in, after one way to do it was looked at', async () => {
    await ottoline.goto('/briefs');
    await ottoline.getByRole('link', { name: 'Gangplank', exact: true }).click();
    await ottoline.getByLabel('One way to do it').selectOption('before handing in');
    await ottoline.getByRole('button', { name: 'Store' }).click();
    await expect(ottoline.getByText(/^Stored/)).toBeVisible();
    await ottoline.getByRole('link', { name: 'Ledger' }).click();
    await choose(ottoline, 'Cohort', /Monday loft/);
    await ottoline.getByRole('button', { name: 'Set an exercise' }).click();
    const dialog = ottoline.getByRole('dialog');
    await choose(dialog, 'Exercise', /Gangplank/);
    await dialog.getByRole('button', { name: 'Set it' }).click();
    await expect(ottoline.getByRole('columnheader', { name: /Gangplank/ })).toBeVisible();
    await dagny.reload();
    const exercise = dagny.getByRole('listitem').filter({ has: dagny.getByRole('heading', { name: 'Gangplank' }) });
    await exercise.getByRole('link', { name: 'Hand in' }).click();
    await dagny.locator('input[type=file]').setInputFiles(walkFile('hangs.bvh', { headHangs: 35 }));
    const hangs = dagny
      .getByTestId('self-check')
      .getByRole('listitem')
      .filter({ hasText: /The head/ })
      .first();
    await hangs.getByRole('button', { name: 'One way to do it' }).click();
    await expect(hangs.getByTestId('cure-before')).toContainText(/Amount: .*head .*°/);
    const saving = dagny.waitForEvent('download');
    await hangs.getByRole('button', { name: 'Take it away as BVH' }).click();
    expect(headOf(readFileSync(await (await saving).path()))).toBeLessThan(20);
    await dagny.getByRole('button', { name: 'Hand it in' }).click();
    await expect(dagny.getByText(/\d+ made/)).toBeVisible();
  });

  await test.step('its cure lies dotted over it, and follows the hand', async () => {
    await ottoline.goto('/docket');
    await openShot(ottoline, 'Dagny Solheim', 'Gangplank');
    await expect(ottoline.getByTestId('cures-seen')).toContainText('head');
    await ottoline.getByRole('button', { name: /^Findings/ }).click();
    const finding = ottoline.getByTestId('findings').getByRole('listitem').filter({ hasText: /head/i }).first();
    await finding.getByRole('button', { name: 'Show the cure' }).click();
    const cure = ottoline.getByTestId('cure');
    await expect(cure).toContainText('this is gone then');
    await expect(cure).toContainText('Amount');
    await expect(ottoline.getByRole('img', { name: 'The cure, dotted over the figure' })).toBeVisible();
    const told = cure.getByTestId('cure-number').first();
    const before = await told.textContent();
    await cure.getByRole('slider').first().focus();
    for (let k = 0; k < 20; k++) await ottoline.keyboard.press('ArrowLeft');
    await expect(told).not.toHaveText(before!);
    await expect(cure).toHaveAttribute('aria-busy', 'false');
    await expect(cure).toContainText('this is gone then');
    // Pulled by the ghost it does more or less of it; one pull is taken back as one.
    const grip = ottoline.getByTestId('cure-grip');
    await settled(ottoline);
    const [held, now] = [(await grip.boundingBox())!, await told.textContent()];
    await ottoline.mouse.move(held.x + held.width / 2, held.y + held.height / 2);
    await ottoline.mouse.down();
    await ottoline.mouse.move(held.x + 40, held.y - 30, { steps: 6 });
    await ottoline.mouse.up();
    await expect(told).not.toHaveText(now!);
    await cure.getByRole('button', { name: 'Undo the change of the cure' }).click();
    await expect(told).toHaveText(now!);
    await grip.press('ArrowUp');
    await expect(told).not.toHaveText(now!);
    await cure.getByRole('button', { name: 'Undo the change of the cure' }).click();
    // Switched off it does nothing; each change is taken back by itself.
    await cure.getByRole('checkbox').first().uncheck();
    await expect(cure).not.toContainText('this is gone then');
    await cure.getByRole('button', { name: 'Undo the change of the cure' }).click();
    await expect(cure).toContainText('this is gone then');
  });

  await test.step('what it changes is asked for in a mark of its own: now, and what it makes of it', async () => {
    await ottoline.getByRole('button', { name: 'Ask for it in a mark: Amount' }).click();
    const composer = ottoline.getByTestId('composer');
    await expect(ottoline.getByTestId('told')).toContainText(/now.*head.*: 3\d° on average/);
    await expect(ottoline.getByTestId('told')).toContainText(/wanted.*[^\d]\d(\.\d)?° on average/);
    await expect(ottoline.getByTestId('with-a-cure')).toBeVisible();
    await composer.getByRole('button', { name: 'Discard' }).click();
    await ottoline
      .getByTestId('findings')
      .getByRole('listitem')
      .filter({ hasText: /head/i })
      .first()
      .getByRole('button', { name: 'Show the cure' })
      .click();
    await expect(ottoline.getByTestId('cure')).toContainText('this is gone then');
  });

  await test.step('it goes along with a mark, which is sent', async () => {
    await ottoline.getByRole('button', { name: 'Make a mark with it' }).click();
    await expect(ottoline.getByTestId('with-a-cure')).toBeVisible();
    await ottoline.getByLabel('Words of the mark').fill(MUCH);
    await ottoline.keyboard.press('Control+Enter');
    await expect(ottoline.getByTestId('mark').filter({ hasText: MUCH })).toContainText('One way to do it');
    await ottoline.getByRole('button', { name: 'Send back' }).click();
    const dialog = ottoline.getByRole('dialog');
    await dialog.getByLabel('Words to the student').fill('One thing.');
    await dialog.getByRole('button', { name: 'Send it back' }).click();
    await expect(dialog).toBeHidden();
  });

  await test.step('the student sees it on the own shot, reads what would be keyed, and takes it away', async () => {
    await dagny.goto('/worksheet');
    const exercise = dagny.getByRole('listitem').filter({ has: dagny.getByRole('heading', { name: 'Gangplank' }) });
    await exercise.getByRole('link', { name: 'Read the marks' }).click();
    await dagny.getByRole('button', { name: 'One way to do it' }).click();
    const cure = dagny.getByTestId('cure');
    await expect(cure).toContainText('What it would be keyed as');
    // It is shown, not changed.
    await expect(cure.getByRole('slider')).toHaveCount(0);
    await cure.getByText('What it would be keyed as').click();
    await expect(cure).toContainText(/head: ?[−+][\d.]+° at \d+/);
    const download = dagny.waitForEvent('download');
    await cure.getByRole('button', { name: 'Take away as BVH' }).click();
    taken = readFileSync(await (await download).path());
    expect(Math.abs(headOf(taken))).toBeLessThan(15);
    expect(headOf(walkFile('hangs.bvh', { headHangs: 35 }).buffer)).toBeGreaterThan(30);
  });

  await test.step('what is handed in next is told as wanted', async () => {
    await dagny.getByRole('link', { name: 'Hand in the next revision' }).click();
    await dagny
      .locator('input[type=file]')
      .setInputFiles({ name: 'lifted.bvh', mimeType: 'application/octet-stream', buffer: taken });
    await dagny.getByRole('button', { name: 'Hand it in' }).click();
    await expect(dagny.getByRole('button', { name: 'R2' })).toBeVisible();
    await ottoline.goto('/docket');
    await openShot(ottoline, 'Dagny Solheim', 'Gangplank');
    await expect(ottoline.getByTestId('mark').filter({ hasText: MUCH })).toContainText('as wanted');
    await expect(ottoline.getByTestId('how-near')).toContainText('head as it was shown');
  });
});

test('a finding becomes an exemplar with as much of that fault, shown to the class beside one way to do it', async ({
  comeInAs,
}) => {
  const ottoline = await comeInAs('Ottoline Farrow');
  await openShot(ottoline, 'Amara Oyelaran', 'Night round');
  await ottoline.getByRole('button', { name: /^Findings/ }).click();
  const finding = ottoline.getByTestId('findings').getByRole('listitem').first();
  await expect(finding).toContainText('snaps straight');
  await finding.getByRole('button', { name: 'For the class' }).click();
  await expect(ottoline.getByLabel('knees snap straight')).toBeChecked();
  await expect(ottoline.getByText('one way to do it', { exact: true })).toBeVisible();
  await ottoline.getByLabel('What they should look at').fill('Watch the knee as the heel comes off.');
  await ottoline.getByRole('button', { name: 'Show it to Monday loft' }).click();
  await expect(ottoline.getByRole('status')).toContainText('shown to Monday loft');

  const student = await comeInAs('Chiyo Tanabe');
  await student.getByRole('link', { name: 'Shown', exact: true }).click();
  await student.getByRole('link', { name: 'Walk: knees snap straight' }).click();
  await expect(student.getByText('Watch the knee as the heel comes off.')).toBeVisible();
  await expect(student.getByText('one way to do it', { exact: true })).toBeVisible();
  await expect(student.getByText('Amara')).toHaveCount(0);

  await ottoline.getByRole('button', { name: 'Show it no more' }).click();
  await expect(ottoline.getByRole('button', { name: 'Show it to Monday loft' })).toBeVisible();
  await student.reload();
  await expect(student.getByRole('heading', { name: 'It is not shown any more' })).toBeVisible();
});
