import { KINDS } from '../../motion/kinds.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { frames, list, span } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4, together } from '../reading.ts';

type Pattern = 'ones' | 'twos' | 'threes' | 'stepped' | 'mixed' | 'still';

const PATTERN = describeReading({
  id: 'exposure.pattern',
  holds: holding<Pattern, { lengths: readonly number[]; poses: number[] }>(),
  name: 'exposure',
  unit: '–',
  needs: 'something that moves, over 4 frames or more',
  kinds: KINDS,
  fromPoses: true,
  mark: 'timing',
  ofShot: true,
  explains: { 'kind.seen': ({ value }) => value === 'still' },
  values: ['ones', 'twos', 'threes', 'mixed', 'stepped', 'still'],
  say: ({ value, detail: { poses } }) =>
    value === 'still'
      ? 'nothing moves: the whole shot is one pose'
      : value === 'stepped' || value === 'mixed'
        ? `poses are held ${value === 'stepped' ? 'longer than three frames' : 'for unequal times'}: blocking, ${poses.length} poses`
        : `poses are exposed on ${value}`,
});
const HELD = describeReading({
  id: 'exposure.held',
  holds: holding<number, { each: { from: number; to: number }[] }>(),
  name: 'pose held too long',
  unit: 'frames',
  needs: 'something that moves, over 4 frames or more',
  kinds: KINDS,
  fromPoses: true,
  mark: 'timing',
  ofShot: true,
  thrownBy: { cutLoop: 'there' },
  say: ({ value, detail: { each } }) =>
    value === 0
      ? 'no pose stands longer than its neighbours in the midst of motion'
      : each.length === 1
        ? `the pose ${span(each[0]!)} stands ${frames(value)} too long in the midst of motion`
        : `poses stand too long in the midst of motion, ${frames(value)} in all: ${list(each.slice(0, 4).map(span))}`,
});

export const EXPOSURE = [PATTERN, HELD] as const;

/**
 * `exposure.pattern`: how long poses are held exactly; its detail the share of frames on each, every exposure's length and the labels at
 * which poses begin. `exposure.held`: frames by which a pose in the midst of motion, or behind a cycle, stands longer than that pattern.
 */
export function measureExposure(shot: PreparedShot): Measured {
  const { exposures, firstFrame } = shot;
  const total = exposures.lengths.reduce((sum, length) => sum + length, 0);
  if (total < 4) return refuse(EXPOSURE, `it needs 4 frames or more, the shot has ${total}`);
  if (exposures.pattern === 'still')
    return together(
      made(PATTERN.of('still', { detail: { lengths: exposures.lengths, poses: [] } })),
      refuse([HELD], 'nothing moves: the whole shot is one pose'),
    );
  const share = { ones: 0, twos: 0, threes: 0, stepped: 0 };
  const poses: number[] = [];
  let at = firstFrame + exposures.front;
  // Of a loop that repeats its first pose the last frame is not played.
  const played = shot.habit === 'repeat' ? total - 1 : total;
  for (const [k, length] of exposures.lengths.entries()) {
    const own = k === exposures.lengths.length - 1 ? length - (total - played) : length;
    if (own > 0) share[own === 1 ? 'ones' : own === 2 ? 'twos' : own === 3 ? 'threes' : 'stepped'] += own / played;
    poses.push(at);
    at += length;
  }
  const shares = Object.fromEntries(Object.entries(share).map(([name, value]) => [name, roundTo4(value)]));
  const each = exposures.held.map(({ from, to }) => ({ from: firstFrame + from, to: firstFrame + to }));
  return made(
    PATTERN.of(exposures.pattern, {
      detail: { ...shares, lengths: exposures.lengths, poses: exposures.blocking ? poses : [] },
    }),
    HELD.of(
      exposures.held.reduce((sum, { extra }) => sum + extra, 0),
      { ...(each.length > 0 && { frames: each.map(({ from }) => from) }), detail: { each } },
    ),
  );
}
