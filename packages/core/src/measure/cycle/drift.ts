import { headingOf } from '../../motion/heading.ts';
import { LOOPING } from '../../motion/kinds.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { vec3At } from '../../motion/quaternion.ts';
import { regionOf } from '../../motion/regions.ts';
import { add, dot, length, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { ofLeg } from '../../say/words.ts';
import { sampled } from '../../signal/sampled.ts';
import { mean, rangeOf } from '../../signal/statistics.ts';
import { describeReading, type Explains, holding } from '../describe.ts';
import { NO_LOOP } from './cycle.ts';
import { made, type Measured, notAsked, type Reading, refuse, roundTo4 } from '../reading.ts';

/** How far a body that stays in place has moved by the end of its loop, %L. */
export interface Drift {
  readonly ahead: number;
  readonly left: number;
  readonly up: number;
}

const ofTheLegs: Explains = (_, effect) => regionOf(roleOf(effect) ?? '')?.startsWith('leg') === true;
const roleOf = ({ part, detail }: Reading): string | undefined =>
  (detail as { role?: string } | undefined)?.role ?? part;

/** What is thrown where the ground goes away under the feet. A slide is not: everybody sees it. */
const THROWN = [
  ...['gait.depth', 'gait.float', 'gait.flight', 'gait.bob', 'gait.lowAfter', 'gait.step', 'gait.shift'],
  ...['gait.track', 'gait.even', 'foot.land', 'foot.flat', 'foot.leave', 'foot.trail', 'foot.clear'],
  ...['knee.contact', 'knee.down', 'knee.passing', 'knee.up', 'kind.seen', 'mirror.height', 'step.reach'],
  ...['size.shift', 'arm.late', 'nod.late', 'hang.share'],
];

const DRIFT = describeReading({
  id: 'cycle.drift',
  holds: holding<number, Drift>(),
  name: 'drift over the loop',
  unit: '%L',
  needs: 'a loop in place',
  kinds: LOOPING,
  mark: 'spacing',
  shows: 'hips',
  explains: { ...Object.fromEntries(THROWN.map((id) => [id, 'always' as const])), 'arc.pop': ofTheLegs },
  thrownBy: { cutLoop: 'anywhere' },
  say: ({ value, detail }) =>
    value === 0
      ? 'the loop ends where it began'
      : `the body does not end its loop where it began: it is ${ofLeg(value)} ${direction(detail)}`,
});

export const DRIFTS = [DRIFT] as const;

export const DRIFT_DEFAULTS = Object.freeze({
  /** Feet that go to and fro by less than this, %L, make no steps. */
  steps: 12,
  /** A body that gets on by less than this share of what its feet make stays in place. */
  inPlace: 0.3,
});

/** Where most of a drift leads. */
function direction({ ahead, left, up }: Drift): string {
  const [most] = (
    [
      [up, 'higher', 'lower'],
      [left, 'farther left', 'farther right'],
      [ahead, 'farther ahead', 'farther back'],
    ] as const
  ).toSorted((a, b) => Math.abs(b[0]) - Math.abs(a[0]));
  return most![0] < 0 ? most![2] : most![1];
}

/**
 * `cycle.drift`: of a loop that stays in place, how far its hips are at the end from where they began: what jumps back each time it is
 * played again. What travels with its steps is no drift.
 */
export function measureDrift(shot: PreparedShot): Measured {
  const drift = driftOver(shot);
  if ('why' in drift) return drift.isAsked ? refuse(DRIFTS, drift.why) : notAsked(DRIFTS, drift.why);
  const { axes, period: T, scale: size } = shot;
  const heading = headingOf(shot, T);
  const percent = (axis: Vec3): number => roundTo4((100 * dot(drift.away, axis)) / size.legLength);
  const detail: Drift = { ahead: percent(heading.forward(0)), left: percent(heading.left(0)), up: percent(axes.up) };
  const value = roundTo4((100 * length(drift.away)) / size.legLength);
  return made(DRIFT.of(value, { part: 'hips', frames: [labelOf(shot, T - 1), labelOf(shot, 0)], detail }));
}

/** The way from where the hips are as a loop in place begins to where they are as it ends, in the file's units; or why there is none. */
export function driftOver(
  shot: PreparedShot,
): { readonly away: Vec3 } | { readonly why: string; readonly isAsked: boolean } {
  const { motion, loop, period: T, roles, scale: size } = shot;
  const { hips } = roles;
  if (loop === 'none') return { why: NO_LOOP, isAsked: false };
  if (hips === undefined) return { why: 'the hips are not known; set the roles', isAsked: true };
  if (T < 4) return { why: `it needs a loop of 4 poses or more, this one has ${T}`, isAsked: true };
  const n = motion.joints.length;
  const place = (s: number, joint: number): Vec3 => vec3At(shot.world.positions, s * n + joint);
  const step = (a: number, b: number): Vec3 => subtract(place(b, hips), place(a, hips));
  // Where the last pose comes just before the first, it would go on as far as it goes beside the seam.
  const away =
    loop === 'repeat' && motion.frames > T
      ? step(0, T)
      : add(step(0, T - 1), scale(add(step(T - 2, T - 1), step(0, 1)), 0.5));
  // Ahead is the way it faces at each frame: what drifts aside is no travel, and what walks round a bend is.
  const { forward } = headingOf(shot, T);
  const strides = [roles['foot.L'], roles['foot.R']].flatMap((foot) =>
    foot === undefined ? [] : [rangeOf(sampled(T, (s) => dot(subtract(place(s, foot), place(s, hips)), forward(s))))],
  );
  const stride = strides.length === 0 ? 0 : mean(strides);
  const { steps, inPlace } = DRIFT_DEFAULTS;
  let gone = 0;
  for (let s = 0; s + 1 < T; s++) gone += dot(step(s, s + 1), forward(s));
  return (100 * stride) / size.legLength > steps && Math.abs(gone) > inPlace * 2 * stride
    ? { why: 'the body travels with its steps', isAsked: false }
    : { away };
}
