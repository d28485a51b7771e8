import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import { type DrawnShot, figureShot } from '@ypsigraph/pictures/drawn/drawn-shots';
import { CODECS, encodeShot } from '@ypsigraph/pictures/drawn/encode-shot';
import { readClip } from '@ypsigraph/pictures/read-clip';
import sharp from 'sharp';
import { encode, FORMATS, SIZE, zip } from '../packages/pictures/test/clips.ts';
import { addSteps } from '../packages/pictures/test/sounding.ts';
import { make, settled, words } from './at-the-desk.ts';
import { choose, openShot, test, walkFile } from './people.ts';

const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-e2e-'));
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

const walk = figureShot({ exemplar: 'walk', width: 640, height: 360, leg: 110 });

/** The drawings as near to the spacing of a mark as they come: one is held longer, one taken elsewhere, and what comes of it is a clip again. */
async function exposesOtherwise(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Show the drawings' }).click();
  const drawings = page.getByTestId('drawings');
  const boxes = drawings.getByRole('listitem');
  await expect(drawings).toContainText(`of ${walk.frames} frames`);
  // Eased out, two frames lie between the first drawing and the second, nearer to the first than a quarter of a step.
  await page.getByTestId('missing-drawings').getByRole('button').first().click();
  await expect(page.getByRole('img', { name: 'Where drawings are missing' })).toBeVisible();
  await drawings.getByRole('button', { name: 'As it was handed in' }).click();
  await page.getByRole('button', { name: 'expose' }).click();
  await expect(boxes).toHaveCount(walk.frames);
  const edge = (await page.getByTestId('drawing-edge').nth(4).boundingBox())!;
  const wide = (await boxes.nth(4).boundingBox())!.width;
  await page.mouse.move(edge.x + 2, edge.y + 4);
  await page.mouse.down();
  await page.mouse.move(edge.x + 2 + 2 * wide, edge.y + 4, { steps: 5 });
  await page.mouse.up();
  await expect(drawings.getByRole('button', { name: 'Drawing 5, 3 frames from 5' })).toBeVisible();
  await drawings.getByRole('button', { name: /^Drawing 2,/ }).focus();
  await page.keyboard.press('Space');
  await expect(drawings).toContainText('Drawing 2 is');
  for (const next of [3, 4]) {
    const there = `at the place of Drawing ${next}`;
    // Lifted, the places in the row are measured first: a key that comes before that takes it nowhere.
    await expect(async () => {
      if (!(await drawings.textContent())!.includes(there)) await page.keyboard.press('ArrowRight');
      await expect(drawings).toContainText(there, { timeout: 10_000 });
    }).toPass();
  }
  await page.keyboard.press('Space');
  await expect(boxes).toHaveText([
    '1',
    '3',
    '4',
    '2',
    '5',
    ...Array.from({ length: walk.frames - 5 }, (_, k) => `${k + 6}`),
  ]);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    drawings.getByRole('button', { name: 'WebM' }).click(),
  ]);
  const path = join(folder, download.suggestedFilename());
  await download.saveAs(path);
  const counted = [
    '-v',
    'error',
    '-count_frames',
    '-select_streams',
    'v',
    '-show_entries',
    'stream=nb_read_frames,r_frame_rate',
  ];
  const told = execFileSync('ffprobe', [...counted, '-of', 'csv=p=0', path], { encoding: 'utf8' });
  expect(told.trim()).toBe(`24/1,${walk.frames + 2}`);
  await drawings.getByRole('button', { name: 'As it was handed in' }).click();
  // Opened for a mark, what is kept goes along with that one, and no other is begun.
  const mark = page.getByTestId('mark').filter({ hasText: 'The hat lags' });
  await mark.getByRole('button', { name: 'Show the drawings' }).click();
  await drawings.getByTitle('Keep with a mark').click();
  await expect(words(page)).toHaveValue(/^The hat lags/);
  await expect(words(page)).toBeFocused();
  await page.keyboard.press('Control+Enter');
  await expect(mark.getByRole('button', { name: 'One way to do it' })).toBeVisible();
  await expect(page.getByTestId('mark')).toHaveCount(1);
  await drawings.getByRole('button', { name: 'As it was handed in' }).click();
}

/** Clips whose frames carry their own number: a light square at a place of its own for each frame. */
const CELLS = 8;
const COUNTED = 30;
const lit = (number: number): Uint8Array => {
  const { width, height } = SIZE;
  const grey = new Uint8Array(width * height).fill(40);
  const [cx, cy] = [(number % CELLS) * 20, Math.floor(number / CELLS) * 24];
  for (let y = cy; y < cy + 24; y++) grey.fill(230, y * width + cx, y * width + cx + 20);
  return grey;
};
const COUNTING = Array.from({ length: COUNTED }, (_, k) => lit(k));

/** The same as a zip of drawings, numbered from 1. */
async function countingDrawings(): Promise<string> {
  const raw = { ...SIZE, channels: 1 } as const;
  const drawings = COUNTING.map(async (grey, k): Promise<[string, Uint8Array]> => [
    `drawings/d${k + 1}.png`,
    await sharp(grey, { raw }).png().toBuffer(),
  ]);
  return zip(join(folder, 'counting.zip'), await Promise.all(drawings));
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

const handInPage = async (page: Page, exercise: string): Promise<void> => {
  await page.goto('/worksheet');
  await page
    .getByRole('listitem')
    .filter({ hasText: exercise })
    .getByRole('link', { name: /Hand in/ })
    .click();
};

const handIn = async (page: Page, exercise: string, path: string): Promise<void> => {
  await handInPage(page, exercise);
  await page.locator('input[type=file]').setInputFiles(path);
  await expect(page.getByTestId('file-check')).toContainText('Pictures');
  await page.getByRole('button', { name: 'Hand it in' }).click();
  await page.waitForURL(/\/desk\//);
};

// Every format is read into the same store of pictures, which is proven where it is made: here one whose pictures come out of order, and drawings.
const OUT_OF_ORDER = FORMATS.find(([format]) => format === 'H.264 with pictures out of order')!;
const CLIPS_AND_DRAWINGS: readonly (readonly [string, () => string | Promise<string>])[] = [
  [OUT_OF_ORDER[0], () => encode(join(folder, OUT_OF_ORDER[1]), COUNTING, { args: OUT_OF_ORDER[2] })],
  ['a zip of drawings', countingDrawings],
];
for (const [format, make] of CLIPS_AND_DRAWINGS)
  test(`frame n on the page is frame n of the file, stepped and sought, forwards and backwards: ${format}`, async ({
    comeInAs,
  }) => {
    const page = await comeInAs('Quirin Abendroth');
    await handIn(page, 'Cold morning', await make());
    await expect(page.locator('canvas[data-sharp=true]')).toBeVisible();
    const slider = page.getByRole('slider', { name: 'Frame', exact: true });
    await slider.focus();
    const at = async (frame: number): Promise<void> => {
      await expect(page.locator('canvas[data-frame]').first()).toHaveAttribute('data-frame', String(frame));
      expect(await numberShown(page)).toBe(frame);
    };
    await page.keyboard.press('Home');
    await at(0);
    for (const frame of [1, 2]) {
      await page.keyboard.press('ArrowRight');
      await at(frame);
    }
    await page.keyboard.press('End');
    await at(29);
    for (const frame of [28, 27]) {
      await page.keyboard.press('ArrowLeft');
      await at(frame);
    }
    await page.getByRole('button', { name: 'Withdraw' }).click();
    await expect(page.getByRole('link', { name: 'Hand in the next revision' })).toBeVisible();
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
  // A slow connection: what is placed while the first point is on its way waits for its answer.
  await page.route('**/api/revisions/*/tracks', async (route) => {
    if (route.request().method() !== 'GET') await new Promise((resolve) => setTimeout(resolve, 2_500));
    await route.continue();
  });
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
  await expect(panel.getByRole('status')).toHaveText('saved');
  await page.unroute('**/api/revisions/*/tracks');

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
  await exposesOtherwise(page);
  await page.getByRole('button', { name: 'Send back' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Words to the student').fill('Only the hat.');
  await dialog.getByRole('button', { name: 'Send it back' }).click();
  await expect(dialog).toBeHidden();

  await student.reload();
  await expect(student.getByTestId('mark').filter({ hasText: 'The hat lags' })).toBeVisible();

  // The next revision is slower: it is seen beside the first, each of its frames with the one that shows the same, and laid over it.
  await student.getByRole('link', { name: 'Hand in the next revision' }).click();
  const next = join(folder, 'next.webm');
  await encodeShot(
    figureShot({ exemplar: 'walk', set: { arm: 30, length: 30 }, width: 640, height: 360, leg: 110 }),
    next,
    {
      args: CODECS.webm,
    },
  );
  await student.locator('input[type=file]').setInputFiles(next);
  await student.getByRole('button', { name: 'Hand it in' }).click();
  await expect(student.getByRole('button', { name: 'R2' })).toHaveAttribute('aria-pressed', 'true');
  await page.goto(`/desk/${id}`);
  await expect(page.locator('canvas[data-sharp=true]')).toBeVisible();
  await page.getByRole('button', { name: 'Compare' }).click();
  await expect(page.getByTestId('paper')).toHaveCount(2);
  await expect(page.getByText('aligned by the likeness of its pictures')).toBeVisible();
  const [first, second] = [page.locator('canvas[data-frame]').nth(0), page.locator('canvas[data-frame]').nth(1)];
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('End');
  await expect(second).toHaveAttribute('data-frame', '29');
  await expect(first).toHaveAttribute('data-frame', '23');
  for (let k = 0; k < 14; k++) await page.keyboard.press('ArrowLeft');
  await expect(second).toHaveAttribute('data-frame', '15');
  // Half of 30 frames is half of 24, to within a frame.
  await expect(first).toHaveAttribute('data-frame', /^1[123]$/);
  await choose(page, 'Which of their frames belong together', 'by label');
  await expect(first).toHaveAttribute('data-frame', '15');
  await choose(page, 'Which of their frames belong together', 'aligned');
  await expect(first).toHaveAttribute('data-frame', /^1[123]$/);
  await choose(page, 'How the two revisions are seen', 'wiped');
  await expect(page.getByTestId('paper')).toHaveCount(1);
  await expect(page.getByText(/Revision 1 over 2, aligned/)).toBeVisible();
  const meet = page.getByRole('slider', { name: 'Where the two revisions meet' });
  const half = await settled(page);
  await meet.fill('0.2');
  expect(await settled(page)).not.toBe(half);
  await choose(page, 'How the two revisions are seen', 'side by side');
});

test('what is no clip is refused in words, and nothing of it is handed in', async ({ comeInAs }) => {
  const page = await comeInAs('Quirin Abendroth');
  await handInPage(page, 'Signal halyard');
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'walk.mp4', mimeType: 'video/mp4', buffer: Buffer.from('#EXTM3U\nfile:///etc/passwd') });
  await page.getByRole('button', { name: 'Hand it in' }).click();
  await expect(page.getByRole('alert')).toContainText('no such clip is in it');
});

test('a motion and the clip of it come together: side by side on one axis, put right, heard, and the figure over the clip', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Quirin Abendroth');
  await handInPage(page, 'Two voices');
  const silent = encode(join(folder, 'silent.webm'), COUNTING, { args: FORMATS[0]![2] });
  const clip = addSteps(silent, [6, 15], { to: join(folder, 'beside.webm'), codec: ['-c:a', 'libopus'] });
  await page.getByLabel(/Drop your motion/).setInputFiles(walkFile('turn.bvh'));
  await expect(page.getByTestId('file-check')).toContainText('joints');
  await page.getByLabel(/The clip of it/).setInputFiles(clip);
  await page.getByLabel(/The clip’s first frame is frame/).fill('3');
  await page.getByRole('button', { name: 'Hand it in' }).click();
  await page.waitForURL(/\/desk\//);

  const shown = page.locator('canvas[data-frame]').first();
  await expect(page.getByText('The clip', { exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(shown).toHaveAttribute('data-sharp', 'true');
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('Home');
  await expect(shown).toHaveAttribute('data-frame', '0');
  for (let k = 0; k < 6; k++) await page.keyboard.press('ArrowRight');
  // Frame 7 of the motion is the fifth of a clip that begins at its third.
  await expect(shown).toHaveAttribute('data-frame', '4');
  expect(await numberShown(page)).toBe(4);
  // It is put right, and kept.
  await page.getByRole('spinbutton', { name: 'clip from frame' }).fill('5');
  await expect(shown).toHaveAttribute('data-frame', '2');
  await page.waitForResponse((response) => /clip$/.test(response.url()) && response.ok());
  await page.reload();
  await expect(page.getByRole('spinbutton', { name: 'clip from frame' })).toHaveValue('5');

  // Its sound is heard, and lies where it lies: a step at its seventh frame is one of the motion's eleventh.
  const sounds = page.getByRole('button', { name: 'Sound', exact: true });
  await sounds.click();
  await expect(sounds).toHaveAttribute('data-heard', 'true');
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await page.keyboard.press('Shift+S');
  await expect(sounds).toHaveAttribute('aria-pressed', 'false');

  await choose(page, 'How motion and clip are seen', 'over the clip');
  const beneath = page.getByRole('img', { name: 'The clip beneath the figure' });
  await expect(beneath).toHaveAttribute('data-sharp', 'true');
  await expect(page.getByTestId('paper')).toHaveCount(1);
  const before = await settled(page);
  await page.getByRole('slider', { name: 'size' }).press('ArrowRight');
  await page.waitForResponse((response) => /clip$/.test(response.url()) && response.ok());
  expect(await settled(page)).not.toBe(before);
  await choose(page, 'How motion and clip are seen', 'clip beside');

  const teacher = await comeInAs('Ottoline Farrow');
  await openShot(teacher, 'Quirin Abendroth', 'Two voices');
  await expect(teacher.getByTestId('lanes')).toHaveAttribute('data-lanes', /sound/);
  await teacher.getByRole('slider', { name: 'Frame', exact: true }).focus();
  await teacher.keyboard.press('9');
  const composer = teacher.getByTestId('composer');
  await choose(composer, 'second', /^11\s+onset of the sound/);
  await expect(teacher.getByTestId('told')).toContainText('the onset of the sound at 11 comes');
});

test('a motion and its sound come together: heard, moved, and both in the review that is taken away as a clip', async ({
  comeInAs,
}) => {
  const silent = encode(join(folder, 'quiet.mov'), COUNTING, { args: ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'] });
  const clip = addSteps(silent, [6], { to: join(folder, 'stepped.mov'), codec: ['-c:a', 'pcm_s16le'] });
  const sound = join(folder, 'steps.wav');
  execFileSync('ffmpeg', ['-v', 'error', '-i', clip, '-vn', sound]);
  const page = await comeInAs('Rosalind Achebe-Moor');
  await handInPage(page, 'Foghorn');
  const drop = page.locator('input[type=file]').first();
  await drop.setInputFiles(sound);
  await expect(page.getByTestId('file-check')).toContainText('Drop the motion it belongs to as well');
  await expect(page.getByRole('button', { name: 'Hand it in' })).toBeDisabled();
  await drop.setInputFiles(walkFile('stepping.bvh'));
  await expect(page.getByTestId('file-check')).toContainText('joints');
  await page.getByLabel(/The sound begins with frame/).fill('2');
  await page.getByRole('button', { name: 'Hand it in' }).click();
  await page.waitForURL(/\/desk\//);
  await expect(page.getByTestId('lanes')).toHaveAttribute('data-lanes', /sound/);
  await expect(page.getByText('The clip', { exact: true })).toHaveCount(0);
  const begins = page.getByRole('spinbutton', { name: 'sound from frame' });
  await expect(begins).toHaveValue('2');
  await begins.fill('5');
  await page.waitForResponse((response) => /clip$/.test(response.url()) && response.ok());
  await page.reload();
  await expect(begins).toHaveValue('5');
  await expect(page.getByTestId('lanes')).toHaveAttribute('data-lanes', /sound/);

  const saving = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Take a picture away' }).click();
  await page.getByRole('menuitem', { name: 'the review, frame by frame (WebM)' }).click();
  const film = join(folder, 'review.webm');
  await (await saving).saveAs(film);
  // Every frame is there, and carries its place on the axis beneath the picture.
  const [width, height] = execFileSync(
    'ffprobe',
    ['-v', 'error', '-select_streams', 'v', '-show_entries', 'stream=width,height', '-of', 'csv=p=0', film],
    { encoding: 'utf8' },
  )
    .split(',')
    .map(Number) as [number, number];
  const grey = execFileSync('ffmpeg', ['-v', 'error', '-i', film, '-f', 'rawvideo', '-pix_fmt', 'gray', '-'], {
    maxBuffer: 1e9,
  });
  expect(grey.length).toBe(25 * width * height);
  const paper = (await page.getByTestId('paper').boundingBox())!;
  const row = Math.round((paper.height + 7) * (width / paper.width));
  for (let frame = 0; frame < 25; frame++) {
    const from = (frame * height + row) * width;
    const dark = [...grey.subarray(from, from + width).keys()].filter((x) => grey[from + x]! < 110);
    const middle = dark.reduce((sum, x) => sum + x, 0) / dark.length;
    expect(Math.floor((25 * middle) / width)).toBe(frame);
  }
  // Its step is heard six frames after the frame that the sound begins at.
  const read = join(folder, 'film-read');
  mkdirSync(read);
  const { sound: heard } = await readClip(film, { folder: read, fileName: 'review.webm', fps: 24 });
  expect(heard!.onsets.map((at) => Math.round(24 * at))).toEqual([10]);
  await page.getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByRole('link', { name: 'Hand in the next revision' })).toBeVisible();
});

test('a clip that is handed in from a phone is shown there, and can be withdrawn', async ({ comeInAs }) => {
  const page = await comeInAs('Quirin Abendroth');
  await page.setViewportSize({ width: 390, height: 780 });
  await handIn(page, 'Signal halyard', encode(join(folder, 'phone.mp4'), COUNTING, { args: FORMATS[3]![2] }));
  await expect(page.locator('canvas[data-sharp=true]')).toBeVisible();
  // Nothing is wider than the phone.
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.getByRole('button', { name: 'Withdraw' }).click();
  await expect(page.getByRole('link', { name: 'Hand in the next revision' })).toBeVisible();
});
