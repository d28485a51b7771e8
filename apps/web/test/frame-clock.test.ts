import { studied } from '../src/desk/frames/demonstrated.ts';
import { FrameClock } from '../src/desk/frames/frame-clock.ts';

/** A clock whose time the test sets. */
function clockAt() {
  let now = 0;
  let tick: (() => void) | undefined;
  const clock = new FrameClock({
    now: () => now,
    request: (next) => {
      tick = next;
      return 1;
    },
    cancel: () => void (tick = undefined),
  });
  return {
    clock,
    /** Lets time go by, and the page draw once. */
    after(milliseconds: number): number {
      now += milliseconds;
      tick?.();
      return clock.get().frame;
    },
  };
}

const CYCLE = { first: 1, frames: 25, fps: 24, loop: 'repeat' as const };

describe('the frame clock', () => {
  test('plays at the shot’s rate, whatever the rate of the page', () => {
    const { clock, after } = clockAt();
    clock.span(CYCLE);
    clock.play();
    expect(after(500)).toBe(13);
    // A slow picture skips frames; it does not fall behind.
    expect(after(400)).toBe(22);
    for (let i = 0; i < 100; i++) after(1);
    expect(clock.get().frame).toBe(1);
  });

  test('a loop that repeats its first frame goes from the frame before the last to the first: none is shown twice', () => {
    const { clock, after } = clockAt();
    clock.span(CYCLE);
    clock.play();
    const shown = Array.from({ length: 48 }, () => after(1000 / 24));
    expect(shown.slice(0, 24)).toEqual([...Array.from({ length: 23 }, (_, k) => k + 2), 1]);
    expect(shown.slice(24)).toEqual(shown.slice(0, 24));
    expect(shown).not.toContain(25);
  });

  test('a loop whose last frame comes before the first plays all of its frames', () => {
    const { clock, after } = clockAt();
    clock.span({ ...CYCLE, frames: 24, loop: 'follow' });
    clock.play();
    const shown = Array.from({ length: 24 }, () => after(1000 / 24));
    expect(new Set(shown).size).toBe(24);
    expect(shown.at(-1)).toBe(1);
  });

  test.each([
    [1, 13],
    [0.5, 7],
    [0.25, 4],
  ] as const)('at speed %d it is at frame %i after half a second', (speed, frame) => {
    const { clock, after } = clockAt();
    clock.span(CYCLE);
    clock.setSpeed(speed);
    clock.play();
    expect(after(500)).toBe(frame);
  });

  test('a change of speed goes on from the frame that is shown', () => {
    const { clock, after } = clockAt();
    clock.span(CYCLE);
    clock.play();
    after(500);
    clock.setSpeed(0.25);
    expect(clock.get().frame).toBe(13);
    expect(after(500)).toBe(16);
  });

  test('steps go round what is played, and stop it', () => {
    const { clock } = clockAt();
    clock.span({ ...CYCLE, first: 0 });
    clock.seek(0);
    clock.play();
    clock.step(-1);
    expect(clock.get()).toMatchObject({ frame: 23, playing: false });
    clock.step(1);
    expect(clock.get().frame).toBe(0);
  });

  test('seeking stays within the shot, and may show the frame that is not played', () => {
    const { clock } = clockAt();
    clock.span(CYCLE);
    clock.seek(99);
    expect(clock.get().frame).toBe(25);
    clock.seek(-4);
    expect(clock.get().frame).toBe(1);
  });

  test('another shot keeps the frame where it has it', () => {
    const { clock } = clockAt();
    clock.span(CYCLE);
    clock.seek(20);
    clock.span({ first: 1, frames: 31, fps: 24, loop: 'repeat' });
    expect(clock.get().frame).toBe(20);
    clock.span({ first: 1, frames: 13, fps: 24, loop: 'none' });
    expect(clock.get().frame).toBe(13);
  });
});

describe('another tempo', () => {
  test('goes by faster or slower, and another shot begins at its own', () => {
    let now = 0;
    const ticks: (() => void)[] = [];
    const clock = new FrameClock({ now: () => now, request: (tick) => ticks.push(tick), cancel: () => undefined });
    clock.span({ first: 1, frames: 100, fps: 24, loop: 'none' });
    clock.setPace(1.5);
    clock.play();
    now = 1000;
    ticks.at(-1)!();
    expect(clock.get().frame).toBe(1 + 36);
    clock.span({ first: 1, frames: 50, fps: 24, loop: 'none' });
    expect(clock.get().pace).toBe(1);
  });
});

describe('what shows how', () => {
  const clock = { playing: true, frame: 1 };
  const map = (demonstration: { plays: number | null; stills: boolean }, id = 'take') =>
    studied((label) => 2 * label, demonstration, id, { get: () => clock as never });

  test('goes along, however often, where nothing is said', () => {
    const seen = map({ plays: null, stills: false });
    expect([1, 9, 1, 9, 1, 9].map(seen)).toEqual([2, 18, 2, 18, 2, 18]);
  });

  test('is stepped only: while the shot plays it stands', () => {
    clock.playing = false;
    const seen = map({ plays: null, stills: true });
    expect([3, 4].map(seen)).toEqual([6, 8]);
    clock.playing = true;
    expect([5, 9, 1].map(seen)).toEqual([8, 8, 8]);
    clock.playing = false;
    expect(seen(7)).toBe(14);
  });

  test('is played so many times through, and can be stepped then', () => {
    clock.playing = true;
    const seen = map({ plays: 2, stills: false }, 'two plays');
    expect([1, 5, 9, 1, 5, 9].map(seen)).toEqual([2, 10, 18, 2, 10, 18]);
    expect([1, 5].map(seen)).toEqual([18, 18]);
    clock.playing = false;
    expect(seen(4)).toBe(8);
  });
});
