// Parts of this run in the page.
/* global window, document, requestAnimationFrame, KeyboardEvent */
import { chromium } from 'playwright-core';

const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

export const FLAGS = [
  '--headless',
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--enable-precise-memory-info',
  '--js-flags=--expose-gc',
];

/** Times a desk is opened, for a median. */
const OPENINGS = 7;

/**
 * The desk in a browser: script a frame while scrubbing with every lens and lane on, what a long shot costs more than a short one, and how
 * long it takes until the first frame is seen, over what a desk with next to nothing on it and the transfer of the file take.
 * @param school see `onBenchSchool`
 * @param texts recordings of the same figure: a few frames, a short one, a long one
 */
export async function onTheDesk({ server, instructor, handIn, stateOf }, texts) {
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: FLAGS });
  try {
    const shots = [];
    for (const text of texts) {
      const handed = await handIn(text);
      while ((await stateOf(handed.revision)) !== 'read') await new Promise((resolve) => setTimeout(resolve, 200));
      shots.push(handed);
    }
    const [few, short, long] = shots;
    const times = { few: [], long: [], transfer: [] };
    for (let k = 0; k < OPENINGS; k++) {
      times.few.push((await opened(browser, server.address, instructor, few)).first);
      const { first, transfer } = await opened(browser, server.address, instructor, long);
      times.long.push(first);
      times.transfer.push(transfer);
    }
    return {
      short: await scrubbed(browser, server.address, instructor, short.shot),
      long: await scrubbed(browser, server.address, instructor, long.shot),
      firstFrame: median(times.long) / (median(times.few) + median(times.transfer)),
    };
  } finally {
    await browser.close();
  }
}

export async function signedIn(browser, address, cookie) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
  const at = cookie.indexOf('=');
  await context.addCookies([{ name: cookie.slice(0, at), value: cookie.slice(at + 1), url: address }]);
  return context;
}

/** From the address to the first frame that is drawn, in a browser that has seen nothing yet; and how long the file alone takes to come. */
async function opened(browser, address, cookie, { shot, revision }) {
  const context = await signedIn(browser, address, cookie);
  const page = await context.newPage();
  await page.goto(`${address}/desk/${shot}`);
  await page.waitForFunction(() => performance.getEntriesByName('first frame').length > 0);
  const times = await page.evaluate(async (path) => {
    const first = performance.getEntriesByName('first frame')[0].startTime;
    const start = performance.now();
    await (await fetch(path, { cache: 'no-store' })).arrayBuffer();
    return { first, transfer: performance.now() - start };
  }, `/api/revisions/${revision}/file`);
  await context.close();
  return times;
}

async function scrubbed(browser, address, cookie, shot) {
  const context = await signedIn(browser, address, cookie);
  const page = await context.newPage();
  // Every frame of the page is timed: what its callbacks take, from the first to the last.
  await page.addInitScript(() => {
    const ask = window.requestAnimationFrame.bind(window);
    window.spent = 0;
    window.requestAnimationFrame = (work) =>
      ask((time) => {
        const start = performance.now();
        work(time);
        window.spent += performance.now() - start;
      });
  });
  await page.goto(`${address}/desk/${shot}`);
  page.on('pageerror', (error) => console.error(error.message));
  await page.waitForFunction(() => document.querySelector('[data-lanes*="footfalls"]'), undefined, {
    timeout: 60_000,
  });
  for (const key of ['y', 'g', 'w', 'r', 'e', 'q', 'b', 'v', 't']) await page.keyboard.press(key);
  await page.waitForTimeout(1500);
  const result = await page.evaluate(async () => {
    const times = [];
    const next = () => new Promise((resolve) => setTimeout(resolve, 0));
    const shown = () => new Promise((resolve) => requestAnimationFrame(() => resolve()));
    // Keys go to whatever has the focus, and bubble up to the window from there.
    const step = async () => {
      window.spent = 0;
      const start = performance.now();
      (document.activeElement ?? document.body).dispatchEvent(
        new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true, cancelable: true }),
      );
      const handled = performance.now() - start;
      await shown();
      await next();
      return handled + window.spent;
    };
    for (let k = 0; k < 60; k++) await step();
    window.gc?.();
    const before = performance.memory?.usedJSHeapSize ?? 0;
    for (let k = 0; k < 240; k++) times.push(await step());
    const grown = (performance.memory?.usedJSHeapSize ?? 0) - before;
    return { times, bytes: grown / 240 };
  });
  await context.close();
  return { script: median(result.times), bytes: result.bytes };
}
