import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { characterFile } from '@ypsigraph/core/exemplar/character';
import { puppetFile } from '@ypsigraph/core/exemplar/puppet';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { readMotion } from '@ypsigraph/core/formats/read-motion';
import { words } from './at-the-desk.ts';
import { choose, openShot, test } from './people.ts';

/** A runner of layers whose right forearm was forgotten where the right foot lands. */
function runner(name: string) {
  const keys = [0, 3, 7, 10, 13, 17, 20];
  const shot = prepareShot(EXEMPLARS.run!.make({}, {}));
  const puppet = puppetFile(shot, { keys, otherwise: { 'foreArm.R': keys.filter((frame) => frame !== 10) } });
  return { name, mimeType: 'application/json', buffer: Buffer.from(puppet) };
}

const KEYS = [0, 9, 15, 21, 27, 33, 41, 51, 57, 64, 71];
/** A keeper with a body, keyed at his poses; his left hand was forgotten in one of them. */
const keeper = async (name: string) => ({
  name,
  mimeType: 'model/gltf-binary',
  buffer: Buffer.from(
    await characterFile(EXEMPLARS.take!.make({}, {}), {
      ...{ metresPerUnit: 0.01, keys: KEYS },
      otherwise: { 'hand.L': KEYS.filter((frame) => frame !== 21) },
    }),
  ),
});

/** The student's own figure lies on the paper, and the plain one takes its place when it is put away. */
async function seenBesidePlain(page: Page): Promise<void> {
  const paper = page.getByTestId('paper').getByRole('img');
  const seen = async (): Promise<string> => (await paper.screenshot()).toString('base64');
  await expect(async () => {
    const before = await seen();
    await page.waitForTimeout(300);
    expect(await seen()).toBe(before);
  }).toPass();
  const own = await seen();
  await page.getByRole('button', { name: 'Hide parts' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'the student’s own character' }).click();
  await page.keyboard.press('Escape');
  await expect.poll(seen).not.toBe(own);
}

test('a character is handed in, seen as it is, its keys in lanes, and what was left out of a pose marked and sent back', async ({
  comeInAs,
}) => {
  const student = await comeInAs('Quirin Abendroth');
  const exercise = student.getByRole('listitem').filter({ hasText: 'Foghorn' });
  await exercise.getByRole('link', { name: /Hand in/ }).click();
  const file = student.locator('input[type=file]').first();

  await test.step('what can’t be read is said at once', async () => {
    const whole = await keeper('foghorn.glb');
    await file.setInputFiles({ ...whole, buffer: whole.buffer.subarray(0, 5000) });
    await expect(student.getByRole('alert')).toContainText('the file is cut');
    await file.setInputFiles({
      ...{ name: 'foghorn.gltf', mimeType: 'model/gltf+json' },
      buffer: Buffer.from(
        JSON.stringify({
          asset: { version: '2.0' },
          nodes: [{}],
          buffers: [{ uri: 'foghorn.bin', byteLength: 8 }],
          animations: [],
        }),
      ),
    });
    await expect(student.getByRole('alert')).toContainText('“foghorn.bin”, which is not here');
  });

  await test.step('handed in', async () => {
    await file.setInputFiles(await keeper('foghorn.glb'));
    await expect(student.getByTestId('file-check')).toContainText('Frames 1 to 72 at 24 a second');
    await student.getByRole('button', { name: 'Hand it in' }).click();
    await student.waitForURL(/\/desk\//);
  });

  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Quirin Abendroth', 'Foghorn');
  await test.step('the character is drawn, or the plain figure in its place', async () => {
    await expect(page.getByTestId('strip')).toBeVisible();
    await seenBesidePlain(page);
  });

  await test.step('its keys stand in a lane, and what is wrong with them is found', async () => {
    await page
      .getByRole('button', { name: /^Findings/ })
      .first()
      .click();
    const finding = page.getByRole('listitem').filter({ hasText: 'The left hand has no key at frame 22' });
    await finding.getByRole('button', { name: 'Make a mark', exact: true }).click();
    await expect(words(page)).toHaveValue(/The left hand has no key at frame 22/);
    await expect(words(page)).toBeFocused();
    await page.keyboard.press('Control+Enter');
    await expect(page.getByTestId('mark')).toContainText('not sent');
  });

  await test.step('marks are taken away in an open format', async () => {
    const saving = page.waitForEvent('download');
    await choose(page, 'Take the marks away as', 'cues of a clip (WebVTT)');
    const saved = await saving;
    expect(saved.suggestedFilename()).toBe('foghorn-marks.vtt');
    expect(readFileSync(await saved.path(), 'utf8')).toMatch(
      /^WEBVTT - Foghorn, revision 1\n\n[0-9a-f-]{36}\n00:00:00\.875 --> 00:00:00\.917\nbreakdown.*has no key at frame 22/s,
    );
  });

  await test.step('a cure is taken away in the format that was handed in', async () => {
    await page
      .getByRole('listitem')
      .filter({ hasText: 'lasts' })
      .getByRole('button', { name: 'Show the cure' })
      .first()
      .click();
    const panel = page.getByTestId('cure');
    await expect(panel).toHaveAttribute('aria-busy', 'false');
    const saving = page.waitForEvent('download');
    await panel.getByRole('button', { name: 'Take away as glTF' }).click();
    const saved = await saving;
    expect(saved.suggestedFilename()).toBe('foghorn-one-way.glb');
    const { motion, format } = await readMotion(readFileSync(await saved.path()), { usualFps: 24 });
    expect([format, motion.fps, motion.metresPerUnit]).toEqual(['gltf', 24, 1]);
  });

  await test.step('sent back, and read by the student', async () => {
    await page.getByRole('button', { name: 'Send back' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Words to the student').fill('Key the hand.');
    await dialog.getByRole('button', { name: 'Send it back' }).click();
    await expect(dialog).toBeHidden();
    await student.reload();
    await expect(student.getByTestId('mark').filter({ hasText: 'has no key at frame 22' })).toBeVisible();
  });

  await test.step('a later file of two animations is asked which', async () => {
    await student.getByRole('link', { name: 'Hand in the next revision' }).click();
    const next = await keeper('foghorn.glb');
    const two = await withShortOne(next.buffer);
    await student
      .locator('input[type=file]')
      .first()
      .setInputFiles({ ...next, buffer: two });
    await expect(student.getByTestId('file-check')).toContainText('Frames 1 to 72');
    await choose(student, 'Which of its animations', 'a nod');
    await expect(student.getByTestId('file-check')).toContainText('Frames 1 to 13');
    await student.getByRole('button', { name: 'Hand it in' }).click();
    await expect(student.getByRole('button', { name: 'R2' })).toHaveAttribute('aria-pressed', 'true');
    await expect(student.getByTestId('strip')).toBeVisible();
    const id = /desk\/([^?]+)/.exec(student.url())![1]!;
    const shot = (await (await student.request.get(`/api/shots/${id}`)).json()) as {
      revisions: { animation: string }[];
    };
    expect(shot.revisions.at(-1)!.animation).toBe('a nod');
  });
});

/** The same file with a second, shorter animation in it. */
async function withShortOne(bytes: Buffer): Promise<Buffer> {
  const { WebIO } = await import('@gltf-transform/core');
  const io = new WebIO();
  const document = await io.readBinary(bytes);
  const [buffer] = document.getRoot().listBuffers();
  const head = document
    .getRoot()
    .listNodes()
    .find((node) => node.getName() === 'head')!;
  const numbers = (values: number[], type: 'SCALAR' | 'VEC4') =>
    document.createAccessor().setArray(Float32Array.from(values)).setType(type).setBuffer(buffer!);
  const sampler = document
    .createAnimationSampler()
    .setInput(numbers([0, 0.25, 0.5], 'SCALAR'))
    .setOutput(numbers([0, 0, 0, 1, 0.2, 0, 0, 0.98, 0, 0, 0, 1], 'VEC4'));
  const channel = document.createAnimationChannel().setTargetNode(head).setTargetPath('rotation').setSampler(sampler);
  document.createAnimation('a nod').addSampler(sampler).addChannel(channel);
  return Buffer.from(await io.writeBinary(document));
}

test('a puppet of layers is handed in, drawn as it was cut, and what was left out of a pose found', async ({
  comeInAs,
}) => {
  const student = await comeInAs('Rosalind Achebe-Moor');
  const exercise = student.getByRole('listitem').filter({ hasText: 'Last ferry' });
  await exercise.getByRole('link', { name: /Hand in/ }).click();
  const file = student.locator('input[type=file]').first();
  const whole = runner('last-ferry.json');
  await file.setInputFiles({ ...whole, buffer: whole.buffer.subarray(0, 3000) });
  await expect(student.getByRole('alert')).toContainText('it is damaged or cut');
  await file.setInputFiles(whole);
  await expect(student.getByTestId('file-check')).toContainText('Frames 1 to 21 at 24 a second');
  await student.getByRole('button', { name: 'Hand it in' }).click();
  await student.waitForURL(/\/desk\//);

  const page = await comeInAs('Ottoline Farrow');
  const player = page.waitForResponse(/lottie_light_canvas/);
  await openShot(page, 'Rosalind Achebe-Moor', 'Last ferry');
  await expect(page.getByTestId('strip')).toBeVisible();
  await player;
  await seenBesidePlain(page);
  await page
    .getByRole('button', { name: /^Findings/ })
    .first()
    .click();
  const finding = page.getByRole('listitem').filter({ hasText: 'The right forearm has no key at frame 11' });
  await expect(finding.getByRole('button', { name: 'Make a mark', exact: true })).toBeVisible();
  // It is seen on its picture alone, and is not bent.
  await expect(finding.getByRole('button', { name: 'Show the cure' })).toBeHidden();
  await expect(page.getByRole('button', { name: 'The whole picture' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'From above' })).toBeHidden();

  await test.step('what is seen is taken away: points of colour, or lines with the fonts inside', async () => {
    const taken = async (name: string): Promise<Buffer> => {
      const saving = page.waitForEvent('download');
      await page.getByRole('button', { name: 'Take a picture away' }).click();
      await page.getByRole('menuitem', { name }).click();
      return readFileSync(await (await saving).path());
    };
    const paper = (await page.getByTestId('paper').boundingBox())!;
    const png = await taken('the paper at this frame (PNG)');
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual(
      [paper.width, paper.height].map((size) => Math.round(2 * size)),
    );
    const svg = (await taken('the dial (SVG)')).toString('utf8');
    expect(svg).toMatch(/^<svg [^>]*><style>@font-face\{.*src:url\(data:/s);
    expect(svg).not.toMatch(/var\(|https?:\/\/(?!www\.w3\.org)/);
    // It is a document of its own: whoever opens it sees as many lines as there are on the page.
    const alone = await page.evaluate((text) => {
      const { documentElement } = new DOMParser().parseFromString(text, 'image/svg+xml');
      const count = (root: Element) => root.querySelectorAll('path, line, circle, text').length;
      return [count(documentElement), count(document.querySelector('[data-testid="dial"] svg')!)];
    }, svg);
    expect(alone[0]).toBe(alone[1]);
    expect(alone[0]).toBeGreaterThan(10);
    const strip = (await taken('the strip (SVG)')).toString('utf8');
    expect(strip).toMatch(/^<svg [^>]*><style>@font-face.*<foreignObject.*data:image\/png/s);
  });
});
