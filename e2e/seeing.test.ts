import { expect } from '@playwright/test';
import { atDesk, overlay, settled } from './at-the-desk.ts';
import { test } from './people.ts';

test('every lens lies over the paper by its key, says what it shows, and goes again', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Mateo Villarreal');
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
    const bare = await settled(page);
    const isBare = async (): Promise<boolean> => (await overlay(page)) === bare;
    await page.keyboard.press(key);
    await expect(page.getByRole('button', { name: new RegExp(`^${name}`) })).toHaveAttribute('aria-pressed', 'true');
    await expect(page.getByTestId('path-legend')).toContainText(legend);
    await expect.poll(isBare, { message: `bare with “${name}” on` }).toBe(false);
    await page.keyboard.press(key);
    await expect(page.getByRole('button', { name: new RegExp(`^${name}`) })).toHaveAttribute('aria-pressed', 'false');
    await expect.poll(isBare, { message: `bare once “${name}” is off again` }).toBe(true);
  }
});

test('a figure whose drawing the browser lost is drawn again once it can be', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Mateo Villarreal');
  const drawn = await settled(page);
  const canvas = page.getByRole('img', { name: 'The figure' });
  const losing = await canvas.evaluateHandle((own: HTMLCanvasElement) =>
    own.getContext('webgl2')!.getExtension('WEBGL_lose_context')!,
  );
  await losing.evaluate((own) => own.loseContext());
  expect(await settled(page)).not.toBe(drawn);
  await losing.evaluate((own) => own.restoreContext());
  await expect.poll(async () => (await overlay(page)) === drawn).toBe(true);
});

test('the exemplar beside, ghosts by their number, the cycle twice over the ground, parts alone, and all lenses at once', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Mateo Villarreal');
  const on = page.getByRole('navigation', { name: 'View and lenses' }).locator('[aria-pressed="true"]');
  const views = await on.count();
  await page.keyboard.press('y');
  await page.getByLabel('Where the exemplar is').selectOption('beside');
  await expect(page.getByTestId('paper')).toHaveCount(2);
  await page.getByLabel('Where the exemplar is').selectOption('behind');
  await expect(page.getByTestId('paper')).toHaveCount(1);
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('g');
  const three = await settled(page);
  await page.getByLabel('Ghosts on each side').selectOption('6');
  await expect.poll(async () => (await overlay(page)) === three).toBe(false);
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  // All off, and as they were.
  await page.keyboard.press('z');
  await expect(on).toHaveCount(views);
  await page.keyboard.press('z');
  await expect(on).toHaveCount(views + 2);
  await page.keyboard.press('z');

  // Twice: the frame after the last is the first again, a cycle farther on.
  const spot = await settled(page);
  await page.keyboard.press('j');
  const first = await settled(page);
  expect(first).not.toBe(spot);
  for (let k = 0; k < 24; k++) await page.keyboard.press('ArrowRight');
  const second = await settled(page);
  expect(second).not.toBe(first);
  for (let k = 0; k < 24; k++) await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await overlay(page)) === first).toBe(true);
  await page.keyboard.press('j');
  await expect.poll(async () => (await overlay(page)) === spot).toBe(true);

  await page.keyboard.press('k');
  await expect.poll(async () => (await overlay(page)) === spot).toBe(false);
  await page.keyboard.press('k');
  await expect.poll(async () => (await overlay(page)) === spot).toBe(true);
});

test('lanes fold, and stay folded for the kind of exercise; the axis comes nearer and goes back', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Hoku Kealoha');
  const lanes = page.getByTestId('lanes');
  await expect(lanes).toHaveAttribute('data-lanes', 'findings plan footfalls weave trace');
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
  await page.keyboard.press('\\');
  await expect(page.getByTitle(/^The whole shot/)).toHaveCount(0);
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
