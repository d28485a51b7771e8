import { Loops } from '../src/loops.ts';

const HOUR_MS = 60 * 60 * 1000;

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

test('what sleeps ends at once', async () => {
  const loops = new Loops('test');
  let done = 0;
  loops.add('nothing', HOUR_MS, () => Promise.resolve(++done < 3));
  await jest.advanceTimersByTimeAsync(0);
  await loops.end();
  expect(done).toBe(3);
});

test('what is under way is waited for, and sleeps no more when it is done', async () => {
  const loops = new Loops('test');
  let finish: (more: boolean) => void = () => undefined;
  loops.add('something', HOUR_MS, () => new Promise((resolve) => (finish = resolve)));
  let ended = false;
  const ending = loops.end().then(() => (ended = true));
  await jest.advanceTimersByTimeAsync(1_000);
  expect(ended).toBe(false);
  finish(false);
  // No time passes from here.
  await ending;
});

test('what does not come to its end is left after three seconds', async () => {
  const loops = new Loops('test');
  loops.add('something that hangs', HOUR_MS, () => new Promise(() => undefined));
  const ending = loops.end();
  await jest.advanceTimersByTimeAsync(3_000);
  await ending;
});

test('one that has slept very often ends as any other', async () => {
  const loops = new Loops('test');
  let done = 0;
  loops.add('often', 1, () => {
    done++;
    return Promise.resolve(false);
  });
  await jest.advanceTimersByTimeAsync(30_000);
  await loops.end();
  expect(done).toBeGreaterThan(29_000);
});
