import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { type DrawnShot, figureShot } from '@ypsigraph/pictures/drawn/drawn-shots';
import { CODECS, encodeShot } from '@ypsigraph/pictures/drawn/encode-shot';
import { make, settled, words } from './at-the-desk.ts';
import { choose, openShot, test } from './people.ts';

test.setTimeout(180_000);
const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-e2e-'));
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

const walk = figureShot({ exemplar: 'walk', width: 640, height: 360, leg: 110 });

/** Clips whose frames carry their own number: a light square at a place of its own for each frame. */
const CELLS = 8;
function counting(name: string, args: readonly string[], frames = 30): string {
  const [width, height] = [160, 96];
  const pictures = Array.from({ length: frames }, (_, k) => {
    const grey = Buffer.alloc(width * height, 40);
    const [cx, cy] = [(k % CELLS) * 20, Math.floor(k / CELLS) * 24];
    for (let y = cy; y < cy + 24; y++) grey.fill(230, y * width + cx, y * width + cx + 20);
    return grey;
  });
  const path = join(folder, name);
  const input = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${width}x${height}`, '-r', '24', '-i', 'pipe:0'];
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...input, ...args, path], {
    input: Buffer.concat(pictures),
  });
  if (status !== 0) throw new Error(String(stderr));
  return path;
}

/** The number that the picture on the paper carries: which cell is light. */
const numberShown = (page: Page): Promise<number> =>
  page.evaluate(
    ({ cells }) => {
      const canvas = document.querySelector<HTMLCanvasElement>('[data-testid=paper] canvas[data-frame]')!;
      const { width, height } = canvas;
      const fit = 0.97 * Math.min(width / 160, height / 96);
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height);
      const light = (x: number, y: number): number =>
        data[4 * (Math.round(height / 2 + (y - 48) * fit) * width + Math.round(width / 2 + (x - 80) * fit))]!;
      const lit = [];
      for (let k = 0; k < 4 * cells; k++)
        if (light((k % cells) * 20 + 10, Math.floor(k / cells) * 24 + 12) > 128) lit.push(k);
      return lit.length === 1 ? lit[0]! : -1;
    },
    { cells: CELLS },
  );

const handIn = async (page: Page, exercise: string, path: string): Promise<void> => {
  await page.goto('/worksheet');
  await page
    .getByRole('listitem')
    .filter({ hasText: exercise })
    .getByRole('link', { name: /Hand in/ })
    .click();
  await page.locator('input[type=file]').setInputFiles(path);
  await expect(page.getByTestId('file-check')).toContainText('Pictures');
  await page.getByRole('button', { name: 'Hand it in' }).click();
  await page.waitForURL(/\/desk\//);
};

test('frame n on the page is frame n of the file, stepped and sought, forwards and backwards, in every format', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Quirin Abendroth');
  for (const [name, args] of [
    ['counting.webm', ['-c:v', 'libvpx', '-b:v', '2M', '-g', '12']],
    ['counting.mp4', ['-c:v', 'libx264', '-bf', '3', '-pix_fmt', 'yuv420p']],
    ['counting.gif', []],
  ] as const) {
    await handIn(page, 'Cold morning', counting(name, args));
    await expect(page.locator('canvas[data-sharp=true]')).toBeVisible();
    const slider = page.getByRole('slider', { name: 'Frame', exact: true });
    await slider.focus();
    const at = async (frame: number): Promise<void> => {
      await expect(page.locator('canvas[data-frame]').first()).toHaveAttribute('data-frame', String(frame));
      expect(await numberShown(page)).toBe(frame);
    };
    await page.keyboard.press('Home');
    await at(0);
    for (const frame of [1, 2, 3]) {
      await page.keyboard.press('ArrowRight');
      await at(frame);
    }
    await page.keyboard.press('End');
    await at(29);
    for (const frame of [28, 27, 26]) {
      await page.keyboard.press('ArrowLeft');
      await at(frame);
    }
    await page.getByRole('button', { name: 'Withdraw' }).click();
    await expect(page.getByRole('link', { name: 'Hand in the next revision' })).toBeVisible();
  }
});

/** Where a place of the picture lies on the paper. */
async function onPaper(page: Page, shot: DrawnShot, [x, y]: readonly [number, number]): Promise<[number, number]> {
  const box = (await page.getByTestId('placing').boundingBox())!;
  const fit = 0.97 * Math.min(box.width / shot.width, box.height / shot.height);
  return [box.x + box.width / 2 + (x - shot.width / 2) * fit, box.y + box.height / 2 + (y - shot.height / 2) * fit];
}

test('a clip is handed in, the tip of its hat followed and put right, and a spacing mark with a wanted chart sent back', async ({
  comeInAs,
}) => {
  const path = join(folder, 'walk.mp4');
  await encodeShot(walk, path, { args: CODECS.mp4, grain: 3 });
  const student = await comeInAs('Quirin Abendroth');
  await handIn(student, 'Last ferry', path);
  await expect(student.locator('canvas[data-sharp=true]')).toBeVisible();

  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Quirin Abendroth', 'Last ferry');
  await expect(page.locator('canvas[data-sharp=true]')).toBeVisible();
  await page.keyboard.press('Home');
  await page.keyboard.press('P');
  const panel = page.getByTestId('points-panel');
  await panel.getByLabel('Name of a new point').fill('tip of the hat');
  await panel.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(panel.getByTestId('point-here')).toContainText('not known here');
  await page.mouse.click(...(await onPaper(page, walk, walk.points(0)['hat tip']!)));
  // The next frame comes by itself.
  await expect(page.locator('canvas[data-frame]').first()).toHaveAttribute('data-frame', '1');
  await page.mouse.click(...(await onPaper(page, walk, walk.points(1)['hat tip']!)));
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('ArrowRight');
  await panel.getByRole('button', { name: 'Follow on' }).click();
  await expect(panel.getByRole('button', { name: /^tip of the hat/ })).toContainText('100 %');
  await expect(panel.getByRole('status')).toHaveText('kept');

  // What was kept is where it was drawn, to a pixel; where a hand put it, it stayed.
  const id = /desk\/([^?]+)/.exec(page.url())![1]!;
  const shot = (await (await page.request.get(`/api/shots/${id}`)).json()) as { revisions: { id: string }[] };
  const tracks = (await (await page.request.get(`/api/revisions/${shot.revisions.at(-1)!.id}/tracks`)).json()) as {
    points: { places: [number, number, number, number][] }[];
  };
  const { places } = tracks.points[0]!;
  expect(places).toHaveLength(24);
  expect(places.filter(([, , , sure]) => sure === 1).map(([at]) => at)).toEqual([0, 1]);
  const off = places.map(([at, x, y]) =>
    Math.hypot(x - walk.points(at)['hat tip']![0], y - walk.points(at)['hat tip']![1]),
  );
  expect(Math.max(...off)).toBeLessThan(1.5);

  await page.keyboard.press('P');
  await choose(page, 'Point', 'tip of the hat');
  await expect(page.getByTestId('path-legend')).toContainText('tip of the hat');
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('2');
  await expect(words(page)).toBeFocused();
  const composer = page.getByTestId('composer');
  await composer.getByLabel('from', { exact: true }).fill('1');
  await composer.getByLabel('to', { exact: true }).fill('9');
  await composer.getByRole('group', { name: 'Spacing that is wanted' }).getByRole('button').nth(1).click();
  await expect(page.getByTestId('told')).toContainText('wanted');
  await make(page, 'The hat lags behind the head: ease it out of the contact.');
  await page.getByRole('button', { name: 'Send back' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Words to the student').fill('Only the hat.');
  await dialog.getByRole('button', { name: 'Send it back' }).click();
  await expect(dialog).toBeHidden();

  await student.reload();
  await expect(student.getByTestId('mark').filter({ hasText: 'The hat lags' })).toBeVisible();

  // The next revision, laid over the first.
  await student.getByRole('link', { name: 'Hand in the next revision' }).click();
  const next = join(folder, 'next.webm');
  await encodeShot(figureShot({ exemplar: 'walk', set: { arm: 30 }, width: 640, height: 360, leg: 110 }), next, {
    args: CODECS.webm,
  });
  await student.locator('input[type=file]').setInputFiles(next);
  await student.getByRole('button', { name: 'Hand it in' }).click();
  await expect(student.getByRole('button', { name: 'R2' })).toHaveAttribute('aria-pressed', 'true');
  await page.goto(`/desk/${id}`);
  await expect(page.locator('canvas[data-sharp=true]')).toBeVisible();
  await page.getByRole('button', { name: 'Compare' }).click();
  await expect(page.getByTestId('paper')).toHaveCount(2);
  await choose(page, 'How the two revisions are seen', 'wiped');
  await expect(page.getByTestId('paper')).toHaveCount(1);
  await expect(page.getByText('Revision 1 over 2')).toBeVisible();
  const meet = page.getByRole('slider', { name: 'Where the two revisions meet' });
  const half = await settled(page);
  await meet.fill('0.2');
  expect(await settled(page)).not.toBe(half);
  await choose(page, 'How the two revisions are seen', 'side by side');
});

test('what is no clip is refused in words, and nothing of it is handed in', async ({ comeInAs }) => {
  const page = await comeInAs('Quirin Abendroth');
  await page.goto('/worksheet');
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Signal halyard' })
    .getByRole('link', { name: /Hand in/ })
    .click();
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'walk.mp4', mimeType: 'video/mp4', buffer: Buffer.from('#EXTM3U\nfile:///etc/passwd') });
  await page.getByRole('button', { name: 'Hand it in' }).click();
  await expect(page.getByRole('alert')).toContainText('no such clip is in it');
});
