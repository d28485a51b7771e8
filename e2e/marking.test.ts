import { expect, type Page } from '@playwright/test';
import { openShot, test } from './people.ts';

const atDesk = async (page: Page, student: string, exercise?: string): Promise<void> => {
  await openShot(page, student, exercise);
  // Once the readings have come the strip has all its lanes, and the paper its size.
  await expect(page.getByTestId('lanes')).toHaveAttribute('data-lanes', /footfalls|holds/);
  await page.keyboard.press('Home');
};

/** The paper as it is seen. A picture of it, since reading a canvas again and again makes the browser change how it keeps it. */
const overlay = async (page: Page): Promise<string> =>
  (await page.getByTestId('paper').screenshot({ animations: 'disabled' })).toString('base64');

test.setTimeout(180_000);

const words = (page: Page) => page.getByLabel('Words of the mark');
const make = async (page: Page, text: string): Promise<void> => {
  await words(page).fill(text);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByTestId('mark').filter({ hasText: text })).toContainText('not sent');
};

test('every lens lies over the paper by its key, says what it shows, and goes again', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Mateo Villarreal');
  const bare = await overlay(page);
  for (const [key, name, legend] of [
    ['y', 'Exemplar of the exercise, behind', 'the exemplar'],
    ['g', 'Ghosts before and after', 'before'],
    ['w', 'Mirrored pair', 'half a cycle away'],
    ['r', 'Arc: the fitted curve', 'the curve'],
    ['e', 'Path of the chosen point', 'foot.L'],
    ['q', 'Ground, contacts and slide', 'left foot over the ground'],
    ['b', 'Balance', 'centre of mass'],
    ['v', 'Line of action', 'line of action'],
    ['t', 'Overlap: how each chain leans', 'a leaning edge'],
  ] as const) {
    await page.keyboard.press(key);
    await expect(page.getByRole('button', { name: new RegExp(`^${name}`) })).toHaveAttribute('aria-pressed', 'true');
    await expect(page.getByTestId('path-legend')).toContainText(legend);
    await expect.poll(() => overlay(page)).not.toBe(bare);
    await page.keyboard.press(key);
    await expect(page.getByRole('button', { name: new RegExp(`^${name}`) })).toHaveAttribute('aria-pressed', 'false');
    await expect.poll(() => overlay(page)).toBe(bare);
  }
});

test('lanes fold, and stay folded for the kind of exercise; the axis comes nearer and goes back', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Hoku Kealoha');
  const lanes = page.getByTestId('lanes');
  await expect(lanes).toHaveAttribute('data-lanes', 'findings footfalls weave trace');
  const tall = (await lanes.boundingBox())!.height;
  await page.getByRole('button', { name: 'Lanes' }).click();
  await page.getByRole('menuitemcheckbox', { name: /^weave a band/ }).click();
  await page.keyboard.press('Escape');
  await expect.poll(async () => (await lanes.boundingBox())!.height).toBeLessThan(tall - 50);
  await page.reload();
  await lanes.waitFor();
  expect((await lanes.boundingBox())!.height).toBeLessThan(tall - 50);
  await page.getByRole('button', { name: 'Lanes' }).click();
  await page.getByRole('menuitemcheckbox', { name: /^weave a band/ }).click();
  await page.keyboard.press('Escape');

  await page.keyboard.press('Home');
  await page.keyboard.press('+');
  await page.keyboard.press('+');
  await expect(page.getByTitle(/^The whole shot/)).toBeVisible();
  await page.keyboard.press('0');
  await expect(page.getByTitle(/^The whole shot/)).toHaveCount(0);
});

test('every kind of mark by keys: measured where it stands, kept, and drawn at the same place after a reload', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Priya Ramanathan', 'Two voices');
  await page.getByRole('combobox', { name: 'Point' }).click();
  await page.getByRole('option', { name: 'head', exact: true }).click();
  await page.keyboard.press('e');
  const axis = page.getByRole('slider', { name: 'Frame', exact: true });
  const { width } = (await axis.boundingBox())!;
  for (const [key, kind, label, now] of [
    ['1', 'timing', 9, /at frame \d+/],
    ['2', 'spacing', 13, /over \d+ frames/],
    ['3', 'arc', 13, /off that arc/],
    ['4', 'breakdown', 13, /favours the pose at/],
    ['5', 'overshoot', 17, /its end/],
    ['6', 'moving hold', 25, /it is dead/],
  ] as const) {
    await axis.click({ position: { x: ((label - 0.5) / 64) * width, y: 10 } });
    await page.keyboard.press(key);
    await expect(page.getByTestId('told')).toContainText(now);
    await make(page, `Of its kind: ${kind}.`);
    await words(page).waitFor({ state: 'detached' });
  }
  await page.keyboard.press('7');
  await make(page, 'A note alone.');
  await page.mouse.move(5, 5);
  const card = page.getByTestId('mark').filter({ hasText: 'Of its kind: arc.' });
  await card.hover();
  await page.waitForTimeout(300);
  const before = await overlay(page);
  const frame = await page.getByRole('slider', { name: 'Frame', exact: true }).getAttribute('aria-valuenow');
  await page.reload();
  await page.getByTestId('lanes').waitFor();
  await expect(page.getByTestId('mark').filter({ hasText: /Of its kind/ })).toHaveCount(6);
  await page.keyboard.press('Home');
  for (let k = 1; k < Number(frame); k++) await page.keyboard.press('ArrowRight');
  await page.getByRole('combobox', { name: 'Point' }).click();
  await page.getByRole('option', { name: 'head', exact: true }).click();
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('e');
  await card.hover();
  await expect.poll(() => overlay(page)).toBe(before);
  for (const text of ['timing', 'spacing', 'arc', 'breakdown', 'overshoot', 'moving hold'])
    await page
      .getByTestId('mark')
      .filter({ hasText: `Of its kind: ${text}.` })
      .getByRole('button', { name: 'Take away' })
      .click();
  await page
    .getByTestId('mark')
    .filter({ hasText: 'A note alone.' })
    .getByRole('button', { name: 'Take away' })
    .click();
  await expect(page.getByTestId('mark').filter({ hasText: /Of its kind|A note alone/ })).toHaveCount(0);
});

test('by hand: ticks of a chart dragged, an arc pulled, a pencil line drawn, and all of it taken back step by step', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Bram Hoekstra');
  await page.getByRole('combobox', { name: 'Point' }).click();
  await page.getByRole('option', { name: 'hand.L' }).click();
  // The list keeps its letters as long as it has the focus.
  await page.keyboard.press('2');
  await expect(words(page)).toHaveCount(0);
  const axis = page.getByRole('slider', { name: 'Frame', exact: true });
  await axis.click({ position: { x: 150, y: 10 } });
  await page.keyboard.press('2');
  const tick = page.getByRole('slider', { name: /^Frame \d+, wanted$/ }).first();
  const told = page.getByTestId('told');
  const then = await tick.getAttribute('aria-valuenow');
  const box = (await tick.boundingBox())!;
  await page.mouse.move(box.x + 5, box.y + 5);
  await page.mouse.down();
  await page.mouse.move(box.x - 40, box.y + 5, { steps: 5 });
  await page.mouse.up();
  await expect(tick).not.toHaveAttribute('aria-valuenow', then!);
  await page.getByRole('button', { name: 'slow-in', exact: true }).click();
  await expect(told).toContainText('a slow-in');
  await page.waitForTimeout(500);
  await axis.focus();
  await page.keyboard.press('u');
  await expect(told).not.toContainText('a slow-in');
  await page.keyboard.press('Shift+U');
  await expect(told).toContainText('a slow-in');

  await page.getByRole('button', { name: 'draw' }).click();
  const paper = (await page.getByTestId('paper').boundingBox())!;
  await page.mouse.move(paper.x + 260, paper.y + 90);
  await page.mouse.down();
  await page.mouse.move(paper.x + 320, paper.y + 140, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Rub out' })).toBeVisible();
  await make(page, 'Ease it into the front.');
  const mark = page.getByTestId('mark').filter({ hasText: 'Ease it into the front.' });
  await expect(mark.getByTestId('now-and-wanted')).toContainText('a slow-in');

  // Split at the frame that is shown, and merged again.
  const { width } = (await axis.boundingBox())!;
  await axis.click({ position: { x: (5.5 / 25) * width, y: 10 } });
  await mark.getByRole('button', { name: 'Split' }).click();
  await expect(mark).toHaveCount(2);
  await mark.first().getByRole('button', { name: 'Merge' }).click();
  await expect(mark).toHaveCount(1);

  // Two people and one mark: who comes second is told, and keeps the words.
  await mark.getByRole('button', { name: 'Change' }).click();
  const id = await page.evaluate(async () => {
    const shot = location.pathname.split('/').at(-1)!;
    const { marks } = (await (await fetch(`/api/shots/${shot}`)).json()) as { marks: { id: string; words: string }[] };
    return marks.find((own) => own.words === 'Ease it into the front.')!.id;
  });
  const other = await comeInAs('Baraka Lundqvist');
  const changed = await other.evaluate(async (path) => {
    const { person } = (await (await fetch('/api/session')).json()) as { person: { id: string } };
    const headers = { 'content-type': 'application/json', 'x-ypsigraph': person.id };
    return (await fetch(path, { method: 'PATCH', headers, body: JSON.stringify({ words: 'Baraka’s.' }) })).status;
  }, `/api/marks/${id}`);
  expect(changed).toBe(200);
  await words(page).fill('Ottoline’s.');
  await page.getByRole('button', { name: 'Change the mark' }).click();
  await expect(page.getByText(/changed meanwhile/)).toBeVisible();
  await expect(words(page)).toHaveValue('Ottoline’s.');
  await page.getByRole('button', { name: 'Discard' }).click();
  await page.reload();
  await page.getByTestId('mark').filter({ hasText: 'Baraka’s.' }).getByRole('button', { name: 'Take away' }).click();
});

test('a finding is put aside with its reason, stays aside, and is taken back', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Oisín Brannagh');
  await page.keyboard.press('n');
  const findings = page.getByTestId('findings').getByRole('listitem');
  const count = await findings.count();
  await findings.first().getByRole('button', { name: 'Put aside' }).click();
  await page.getByLabel('Why it is no fault here').fill('The deck gives way there.');
  await page.keyboard.press('Enter');
  await expect(findings).toHaveCount(count - 1);
  await page.reload();
  await page.getByTestId('lanes').waitFor();
  await page.keyboard.press('n');
  await expect(page.getByTestId('aside')).toContainText('The deck gives way there.');
  await page.getByTestId('aside').getByRole('button', { name: 'Take back' }).click();
  await expect(findings).toHaveCount(count);
});

test('the dial: it scrubs, and holds a mirrored pair; the key poses go where they stand', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Hoku Kealoha');
  const dial = page.getByTestId('dial');
  const box = (await dial.locator('svg').boundingBox())!;
  const frame = page.getByRole('slider', { name: 'Frame', exact: true });
  // A quarter of the way round: six frames on.
  await page.mouse.click(box.x + box.width - 16, box.y + box.height / 2);
  await expect(frame).toHaveAttribute('aria-valuenow', '7');
  await dial.getByRole('button', { name: 'hold the mirrored pair' }).click();
  await expect(page.getByTestId('path-legend')).toContainText('the pose half a cycle away, mirrored');
  await page.keyboard.press('p');
  await page.getByRole('button', { name: /^contact, frame 13/ }).click();
  await expect(frame).toHaveAttribute('aria-valuenow', '13');
});

test('a whole review by the keyboard: from the shot that is opened to three marks that are sent back', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Liesl Achterberg');
  await page.getByTestId('lanes').waitFor();
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
    await expect(page.getByTestId('mark').filter({ hasText: 'not sent' })).toHaveCount(k + 1);
  }
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
  // One stands from the revision before.
  await expect(told).toHaveCount(4);
  await expect(told.filter({ hasText: 'wanted' })).toHaveCount(4);
  await expect(told.filter({ hasText: '% of a leg or less' }).first()).toBeVisible();
});
