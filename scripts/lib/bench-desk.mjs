// Parts of this run in the page.
/* global window, document, requestAnimationFrame, KeyboardEvent */
import { chromium } from 'playwright-core';

const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

const FLAGS = [
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

/**
 * Scrubbing on the desk in a browser with every lens and lane on: script a frame, and what a long shot costs more than a short one.
 * @param school see `onBenchSchool`
 * @param texts a short and a long recording of the same figure
 * @returns medians in milliseconds of script a frame, and bytes allocated a frame, of both
 */
export async function scrubbing({ server, instructor, handIn, stateOf }, texts) {
  const browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: FLAGS });
  try {
    const results = [];
    for (const text of texts) {
      const { shot, revision } = await handIn(text);
      while ((await stateOf(revision)) !== 'read') await new Promise((resolve) => setTimeout(resolve, 200));
      results.push(await scrubbed(browser, server.address, instructor, shot));
    }
    return results;
  } finally {
    await browser.close();
  }
}

async function scrubbed(browser, address, cookie, shot) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
  const at = cookie.indexOf('=');
  await context.addCookies([{ name: cookie.slice(0, at), value: cookie.slice(at + 1), url: address }]);
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
