// Parts of this run in the page.
/* global document, requestAnimationFrame, KeyboardEvent */
// Pictures: following a point against decoding the same frames, and a frame backwards on the page.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import sharp from 'sharp';
import { FLAGS, signedIn } from './bench-desk.mjs';

const FRAMES = 240;
const FPS = 24;

/** A walk, drawn at 1280×720, again and again, encoded. */
async function longClip(folder) {
  const { figureShot } = await import('../../packages/pictures/dist/drawn/drawn-shots.js');
  const { CODECS, encodeShot } = await import('../../packages/pictures/dist/drawn/encode-shot.js');
  const walk = figureShot({ exemplar: 'walk' });
  const long = {
    ...walk,
    frames: FRAMES,
    svg: (frame) => walk.svg(frame % walk.frames),
    points: (frame) => walk.points(frame % walk.frames),
  };
  const path = join(folder, 'walk.mp4');
  await encodeShot(long, path, { args: CODECS.mp4, grain: 3 });
  return { long, path };
}

const percentile = (values, share) => [...values].sort((a, b) => a - b)[Math.floor(share * (values.length - 1))];

/**
 * The page: a frame backwards on a clip of 240 frames, from the key to the sharp picture; and what was fetched until the first frame was seen.
 * @param school see `onBenchSchool`
 * @returns the 95th percentile of a step over a frame's time, and the share of the stored pictures that had come at the first frame
 */
export async function picturesOnTheDesk({ server, instructor, handIn, stateOf }) {
  const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-bench-'));
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: FLAGS });
  try {
    const { path } = await longClip(folder);
    const { shot, revision } = await handIn(readFileSync(path), 'walk.mp4');
    while ((await stateOf(revision)) !== 'read') await new Promise((resolve) => setTimeout(resolve, 200));
    const context = await signedIn(browser, server.address, instructor);
    const page = await context.newPage();
    await page.goto(`${server.address}/desk/${shot}`);
    await page.waitForFunction(() => document.querySelector('canvas[data-sharp="true"]'));
    const fetched = await page.evaluate(() =>
      performance
        .getEntriesByType('resource')
        .filter(({ name }) => name.includes('/pictures/'))
        .reduce((sum, { encodedBodySize }) => sum + encodedBodySize, 0),
    );
    const facts = await (await context.request.get(`${server.address}/api/revisions/${revision}/pictures`)).json();
    const whole = facts.sizes.reduce((a, b) => a + b, 0);
    await page.keyboard.press('End');
    const times = await page.evaluate(async (last) => {
      const canvas = document.querySelector('canvas[data-frame]');
      const steps = [];
      for (let frame = last - 1; frame > last - 121; frame--) {
        const begun = performance.now();
        (document.activeElement ?? document.body).dispatchEvent(
          new KeyboardEvent('keydown', { key: 'ArrowLeft', bubbles: true, cancelable: true }),
        );
        while (canvas.dataset.frame !== String(frame) || canvas.dataset.sharp !== 'true')
          await new Promise((resolve) => requestAnimationFrame(resolve));
        steps.push(performance.now() - begun);
      }
      return steps;
    }, FRAMES - 1);
    return { back: (percentile(times, 0.95) * FPS) / 1000, fetched: fetched / whole };
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/**
 * @returns how many times as long following one point through 240 frames of 1280×720 takes as decoding them
 */
export async function followingAgainstDecoding() {
  const { readClip } = await import('../../packages/pictures/dist/read-clip.js');
  const { PointFollower } = await import('../../packages/core/dist/track/follow-point.js');
  const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-bench-'));
  try {
    const { long, path } = await longClip(folder);
    const index = await readClip(path, { folder, fileName: 'walk.mp4', fps: 24 });
    const pack = readFileSync(join(folder, 'pictures.pack'));
    let at = 0;
    const blobs = index.sizes.map((size) => pack.subarray(at, (at += size)));
    const begun = performance.now();
    const frames = [];
    for (const blob of blobs) {
      const { data, info } = await sharp(blob).greyscale().raw().toBuffer({ resolveWithObject: true });
      frames.push({ width: info.width, height: info.height, pixels: new Uint8Array(data) });
    }
    const decoding = performance.now() - begun;
    const [x, y] = long.points(0)['hat tip'];
    const follower = new PointFollower(frames[0], { x, y });
    const from = performance.now();
    let last = 0;
    for (let k = 1; k < FRAMES; k++) if (follower.follow(frames[k]).confidence >= 0.5) last = k;
    if (last !== FRAMES - 1) throw new Error(`the point was lost at frame ${last + 1}`);
    return (performance.now() - from) / decoding;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
