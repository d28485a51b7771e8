import { expect, type Page } from '@playwright/test';
import { choose, openShot, test } from './people.ts';

const frame = (page: Page): Promise<string | null> =>
  page.getByRole('slider', { name: 'Frame', exact: true }).getAttribute('aria-valuenow');

/** The instructor, at one shot, stopped at its first frame. */
async function atDesk(page: Page, student: string, exercise?: string): Promise<void> {
  await openShot(page, student, exercise);
  await page.getByTestId('strip').waitFor();
  await page.keyboard.press('Home');
}

test('keys: frames, marks, views, lenses; none of them while something is typed', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Amara Oyelaran');
  await page.keyboard.press('ArrowLeft');
  expect(await frame(page)).toBe('24');
  await page.keyboard.press('ArrowRight');
  expect(await frame(page)).toBe('1');
  await page.keyboard.press('Shift+ArrowRight');
  expect(await frame(page)).toBe('4');
  await page.keyboard.press('Shift+ArrowRight');
  expect(await frame(page)).toBe('7');
  for (const [key, name] of [
    ['s', 'From the front'],
    ['d', 'From above'],
    ['f', 'Three-quarter'],
    ['a', 'From the side'],
    ['e', 'Path of the chosen point'],
    ['x', 'Silhouette only'],
  ] as const) {
    await page.keyboard.press(key);
    await expect(page.getByRole('button', { name })).toHaveAttribute('aria-pressed', 'true');
  }
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.keyboard.press('c');
  await expect(page.getByTestId('paper')).toHaveCount(2);
  await page.keyboard.press('c');
  await expect(page.getByTestId('paper')).toHaveCount(1);
  await page.keyboard.press('2');
  const words = page.getByLabel('Words of the mark');
  await expect(words).toBeFocused();
  await page.keyboard.type('as deaf as 1 post');
  await expect(words).toHaveValue('as deaf as 1 post');
  expect(await frame(page)).toBe('7');
  await page.getByRole('button', { name: 'Discard' }).click();
});

test('the strip scrubs while it is dragged, and a range dragged with shift becomes a mark’s frames', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Inês Carvalhal');
  const strip = page.getByRole('slider', { name: 'Frame', exact: true });
  const box = (await strip.boundingBox())!;
  const at = (label: number): [number, number] => [box.x + ((label - 0.5) / 25) * box.width, box.y + 60];
  await page.mouse.move(...at(5));
  await page.mouse.down();
  expect(await frame(page)).toBe('5');
  await page.mouse.move(...at(18), { steps: 6 });
  expect(await frame(page)).toBe('18');
  await page.mouse.up();
  await page.keyboard.down('Shift');
  await page.mouse.move(...at(10));
  await page.mouse.down();
  await page.mouse.move(...at(13), { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  await expect(page.getByRole('spinbutton', { name: 'from', exact: true }).first()).toHaveValue('10');
  await expect(page.getByRole('spinbutton', { name: 'to', exact: true }).first()).toHaveValue('13');
  await page.getByRole('button', { name: 'Discard' }).click();
});

test('a click on the figure chooses a joint, and its path is judged', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Farid Qasemi');
  const paper = (await page.getByTestId('paper').boundingBox())!;
  // The head of the figure, from the side: in the middle, a tenth down.
  await page.mouse.click(paper.x + paper.width / 2, paper.y + paper.height * 0.12);
  await expect(page.getByTestId('path-legend')).toContainText('head');
  await expect(page.getByTestId('path-legend')).toContainText('keeps to its arc and spacing');
  await choose(page, 'Point', 'hand.R');
  await expect(page.getByTestId('path-legend')).toContainText('one frame out of place: 1');
});

test('what a file was taken for can be put right, and is measured again', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Ulugbek Saidov');
  expect(await frame(page)).toBe('0');
  await page.getByRole('button', { name: 'How the file was read' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Label of the first frame').fill('101');
  await choose(dialog, 'head', 'neck');
  await dialog.getByRole('button', { name: 'Correct and measure again' }).click();
  await expect(page.getByRole('slider', { name: 'Frame', exact: true })).toHaveAttribute('aria-valuemin', '101');
  await expect(page.getByText(/\d+ made/)).toBeVisible();
  await page.getByRole('button', { name: 'How the file was read' }).click();
  await expect(page.getByRole('dialog').getByRole('combobox', { name: 'head', exact: true })).toHaveValue('neck');
});

test('findings are folded, name the fault first, and become a mark only by being taken; a student is shown none', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Oisín Brannagh');
  await expect(page.getByTestId('findings')).toBeHidden();
  await page.getByRole('button', { name: /^Findings/ }).click();
  const first = page.getByTestId('findings').getByRole('listitem').first();
  await expect(first).toContainText('sinks');
  await first.getByRole('button', { name: 'Make a mark' }).click();
  await expect(page.getByLabel('Words of the mark')).toHaveValue(
    /sinks [\d.]+ % of a leg into the ground at frame \d+(, and the (left|right) foot as well)?\. A foot stays on the ground/,
  );
  await expect(page.getByRole('combobox', { name: 'Point' })).toHaveValue(/^foot\./);
  await page.getByRole('button', { name: 'Discard' }).click();
  const student = await comeInAs('Oisín Brannagh');
  await student.getByRole('link', { name: 'Look at the shot' }).first().click();
  await student.getByTestId('strip').waitFor();
  await expect(student.getByRole('button', { name: /^Findings/ })).toHaveCount(0);
});

test('other exercises have findings of their own kind, taken as marks with their frames and numbers', async ({
  comeInAs,
}) => {
  const ottoline = await comeInAs('Ottoline Farrow');
  await atDesk(ottoline, 'Oisín Brannagh', 'Quay to barge');
  await ottoline.getByRole('button', { name: /^Findings/ }).click();
  const first = ottoline.getByTestId('findings').getByRole('listitem').first();
  await expect(first).toContainText('The body floats: it falls at 0.55 of gravity');
  await first.getByRole('button', { name: 'Make a mark' }).click();
  await expect(ottoline.getByLabel('Words of the mark')).toHaveValue(/^The body floats: it falls at 0\.55 of gravity/);
  await ottoline.getByRole('link', { name: 'Docket', exact: true }).click();
  await atDesk(ottoline, 'Ulugbek Saidov', 'Signal halyard');
  await ottoline.getByRole('button', { name: /^Findings/ }).click();
  await expect(ottoline.getByTestId('findings').getByRole('listitem').first()).toContainText('mast moves as one piece');
});
