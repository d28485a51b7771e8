import { FrameClock } from '../src/desk/frames/frame-clock.ts';
import type { HeardSound } from '../src/desk/sound/heard-sound.ts';
import { SoundPlayer } from '../src/desk/sound/sound-player.ts';

/** A clock and an output whose time the test sets; what is played is written down. */
function desk(first = 1) {
  let now = 0;
  let tick: (() => void) | undefined;
  const clock = new FrameClock({
    now: () => 1000 * now,
    request: (next) => {
      tick = next;
      return 1;
    },
    cancel: () => void (tick = undefined),
  });
  clock.span({ first: 1, frames: 25, fps: 24, loop: 'repeat' });
  const played: { from: number; seconds: number; at: number; ended?: number }[] = [];
  const facts = { startsAt: 0.5, seconds: 1, peaks: [], onsets: [] };
  const sound: HeardSound = { facts, address: '', first, fps: 24 };
  const player = new SoundPlayer(clock, sound, {
    now: () => now,
    play: (from, seconds) => {
      const own: (typeof played)[number] = { from, seconds, at: now };
      played.push(own);
      return () => void (own.ended ??= now);
    },
  });
  return {
    ...{ clock, player, played },
    after(seconds: number): void {
      now += seconds;
      tick?.();
    },
  };
}

test('played at its own rate it is heard as it is, and anew each time round', () => {
  const { clock, played, after } = desk();
  clock.play();
  for (let k = 0; k < 90; k++) after(1 / 60);
  expect(played).toHaveLength(2);
  expect(played[0]).toMatchObject({ from: 0.5, seconds: 1 });
  expect(played[1]!.from).toBeCloseTo(0.5, 5);
  expect(played[1]!.at).toBeCloseTo(1, 1);
  expect(played[0]!.ended).toBeCloseTo(1, 1);
  clock.pause();
  expect(played[1]!.ended).toBeCloseTo(1.5, 1);
});

test('a page that is late does not let the sound run away from the frames', () => {
  const { clock, played, after } = desk();
  clock.play();
  after(0.1);
  // The clock goes on by time, and so does the sound.
  after(0.5);
  expect(played).toHaveLength(1);
  clock.seek(3);
  clock.play();
  expect(played.at(-1)).toMatchObject({ from: 0.5 + 2 / 24 });
});

test('slower it is silent; stepped, each frame is heard for a moment', () => {
  const { clock, played, after } = desk();
  clock.setSpeed(0.5);
  clock.play();
  after(0.4);
  expect(played).toEqual([]);
  clock.pause();
  clock.seek(13);
  clock.step(1);
  expect(played.map(({ seconds }) => seconds)).toEqual([0.08, 0.08]);
  expect(played[0]!.from).toBeCloseTo(1, 9);
  expect(played[1]!.from).toBeCloseTo(1 + 1 / 24, 9);
  expect(played[0]!.ended).toBeDefined();
});

test('what lies before the sound, or behind it, is silent; one that begins later begins on time', () => {
  const { clock, player, played, after } = desk(13);
  clock.seek(5);
  expect(played).toEqual([]);
  clock.seek(1);
  clock.play();
  for (let k = 0; k < 36; k++) after(1 / 60);
  expect(played).toHaveLength(1);
  expect(played[0]!.at).toBeCloseTo(0.5, 1);
  player.end();
  expect(played[0]!.ended).toBeDefined();
  clock.seek(20);
  expect(played).toHaveLength(1);
});
