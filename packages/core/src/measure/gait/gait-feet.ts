import { STANDARD_GRAVITY } from '../../motion/figure-scale.ts';
import { GAITS, STANDING } from '../../motion/kinds.ts';
import { framesIn, type PreparedShot } from '../../motion/prepared-shot.ts';
import { vec3At } from '../../motion/quaternion.ts';
import { mean, smallestOf } from '../../signal/statistics.ts';
import { dot, length } from '../../motion/vector.ts';
import { footName } from '../../say/part-names.ts';
import { atFrames, figures, ofLeg, span } from '../../say/words.ts';
import { straightness } from '../../signal/correlation.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, type Reading, refuse, type Span, roundTo4, together } from '../reading.ts';
import { type FixedPoint, footPoints, putPoint } from '../../motion/feet/foot-points.ts';
import { footTracks } from '../../motion/feet/standing-feet.ts';
import { type FootSide, type GaitView, type Landing, opposite, SIDES, footJitter, viewGait } from './gait-view.ts';

const PLANTED = 'a foot that stays planted for 3 frames or more';

export const FOOT_SLIDE = describeReading({
  id: 'gait.slide',
  holds: holding<number, Span & { units: number }>(),
  name: 'foot slide',
  unit: '%L',
  needs: PLANTED,
  kinds: STANDING,
  mark: 'spacing',
  region: 'legs and feet',
  explains: { 'gait.even': 'of the same part' },
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, part, detail }, _, told) =>
    told?.judgement === 'inside' || value === 0
      ? `${footName(part)} stays where it stands ${span(detail)}, to within ${ofLeg(value)}`
      : `${footName(part)} slides by ${ofLeg(value)} while it stands ${span(detail)}`,
});
const EVEN = describeReading({
  id: 'gait.even',
  holds: holding<number, Span>(),
  name: 'speed of the planted foot',
  unit: '0…1',
  needs: PLANTED,
  kinds: GAITS,
  mark: 'spacing',
  region: 'legs and feet',
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, part, detail }, _, told) =>
    `${footName(part)} travels back ${told && told.judgement !== 'inside' ? 'unevenly' : 'while it stands'} ${span(detail)} (${figures(value, 2)}, where 1 is even)`,
});
const DEPTH = describeReading({
  id: 'gait.depth',
  holds: holding<number>(),
  name: 'foot below ground',
  unit: '%L',
  needs: 'feet on flat ground',
  kinds: STANDING,
  fromPoses: true,
  mark: 'spacing',
  region: 'legs and feet',
  explains: { 'foot.clear': 'always' },
  thrownBy: { strayFrame: true },
  say: ({ value, part, frames }) =>
    value === 0
      ? `${footName(part)} stays above the ground`
      : `${footName(part)} sinks ${ofLeg(value)} into the ground${atFrames(frames)}`,
});
const FLOAT = describeReading({
  id: 'gait.float',
  holds: holding<number, Span>(),
  name: 'foot above ground',
  unit: '%L',
  needs: 'feet on flat ground',
  kinds: STANDING,
  mark: 'spacing',
  region: 'legs and feet',
  explains: { 'foot.clear': 'always' },
  thrownBy: { cutLoop: 'there', strayFrame: true },
  say: ({ value, part, detail }) =>
    value === 0
      ? `${footName(part)} comes down to the ground`
      : `${footName(part)} stays ${ofLeg(value)} over the ground ${span(detail)}`,
});
const STEP_LENGTH = describeReading({
  id: 'gait.stepLength',
  holds: holding<number, { each: number[] }>(),
  name: 'step length',
  sign: 'ahead of the other foot',
  unit: '%L',
  needs: 'a foot that lands',
  kinds: GAITS,
  mark: 'spacing',
  region: 'legs and feet',
  say: ({ value }) =>
    `where a foot lands it is ${ofLeg(Math.abs(value))} ${value < 0 ? 'behind' : 'ahead of'} the other`,
});
const TRACK = describeReading({
  id: 'gait.track',
  holds: holding<number, { each: number[] }>(),
  name: 'step width',
  sign: 'apart, under 0 crossed',
  unit: '%L',
  needs: 'a foot that lands',
  kinds: GAITS,
  mark: 'spacing',
  region: 'legs and feet',
  unseen: 'depth',
  say: ({ value }) =>
    value < 0 ? `the feet land crossed, by ${ofLeg(-value)}` : `the feet land ${ofLeg(value)} apart from side to side`,
});
const FROUDE = describeReading({
  id: 'gait.froude',
  about: 'timing',
  holds: holding<number, { metresPerSecond: number }>(),
  name: 'Froude number',
  unit: '–',
  needs: 'hips and both feet, planted at some time',
  kinds: GAITS,
  mark: 'note',

  say: ({ value, detail }) =>
    `it goes ${figures(detail.metresPerSecond, 2)} m a second in real scale, a Froude number of ${figures(value, 2)}`,
});

const ON_GROUND = [DEPTH, FLOAT] as const;
const STILL = [FOOT_SLIDE, EVEN] as const;
export const GAIT_FEET = [...STILL, ...ON_GROUND, STEP_LENGTH, TRACK, FROUDE] as const;

export const FEET_DEFAULTS = Object.freeze({
  /** Contacts are known to a frame: so many at both ends, at 24 fps, are not asked whether the foot is still. */
  trim: 1,
  /** Where the motion trembled and was smoothed, so many samples more. */
  smoothed: 3,
  /** A contact must have this many samples left to be judged. */
  least: 3,
});

/** What the planted feet do: slide, sink, float, and where they land. */
export function measureGaitFeet(shot: PreparedShot): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return refuse(GAIT_FEET, view);
  const still = view.landings.flatMap((landing) => stillness(view, landing));
  const { raised } = view.contacts;
  const heights = { L: lowestHeights(view, 'L'), R: lowestHeights(view, 'R') };
  return {
    ...together(
      still.length > 0 ? made(...still) : refuse(STILL, 'no foot stays planted for 3 frames'),
      view.contacts.kind === 'steps'
        ? refuse(ON_GROUND, 'on steps each foot stands at a height of its own')
        : made(
            ...SIDES.map((side) => depth(view, side, heights[side])),
            ...view.landings
              .filter((landing) => !isLifted(view, landing, heights[opposite(landing.side)]))
              .map((landing) => float(view, landing, heights[landing.side])),
          ),
      footfalls(view),
      made(froude(view)),
    ),
    warnings:
      raised === undefined
        ? []
        : [
            `the feet stand ${ofLeg(Math.abs(raised))} ${raised > 0 ? 'over' : 'under'} up = 0: the ground was put there`,
          ],
  };
}

const known = new WeakMap<GaitView, Partial<Record<FootSide, Float64Array>>>();

/** Lowest point of a foot at every sample that counts, over the ground. Worked out once a walk. */
export function lowestHeights(view: GaitView, side: FootSide): Float64Array {
  const own = known.get(view) ?? {};
  known.set(view, own);
  return (own[side] ??= heightsOf(view, side));
}

function heightsOf(view: GaitView, side: FootSide): Float64Array {
  const { shot, frames, contacts } = view;
  const { up } = shot.axes;
  const sole = footTracks(shot, frames).find((track) => track.side === side)!;
  const { ankle } = footPoints(shot, side)!;
  const p = new Float64Array(3);
  return sole.height.map((height, s) => {
    putPoint(shot, s, ankle, p, 0);
    return Math.min(height, p[0]! * up[0] + p[1]! * up[1] + p[2]! * up[2]) - contacts.ground;
  });
}

/** A length less what trembling alone would make of it. */
const beyond = (value: number, noise: number): number => Math.sqrt(Math.max(0, value ** 2 - noise ** 2));

/** `gait.slide` and `gait.even` of one contact: how far what it stands on goes over the ground, and how evenly its most still point goes with it. */
function stillness(view: GaitView, { side, at, until }: Landing): Reading[] {
  const { shot } = view;
  const { scale: size } = shot;
  // Smoothing draws what a foot does before and behind into its stand.
  const trim =
    Math.max(1, Math.round(FEET_DEFAULTS.trim * (shot.fps / 24))) + (shot.jitter > 0 ? FEET_DEFAULTS.smoothed : 0);
  const long = until - at + 1 >= FEET_DEFAULTS.least + 2 * trim;
  const from = at + (long ? trim : 0);
  const to = until - (long ? trim : 0);
  const count = to - from + 1;
  // On twos a short stand has no pose that is sure to be planted from end to end.
  if (count < FEET_DEFAULTS.least || (!long && shot.exposures.stride > 1)) return [];
  const foot = footPoints(shot, side)!;
  const way = wayOfStand(view, from, count);
  const paths = [foot.ankle, foot.heel, ...foot.front].map((point) => pathOverGround(view, point, way));
  const still = paths.reduce(
    (best, path) => {
      const { distance } = farthest(path.ground);
      return distance < best.distance ? { distance, path } : best;
    },
    { distance: Infinity, path: paths[0]! },
  ).path;
  const { distance, a, b } = farthest(contactPath(paths, (LOW / 100) * size.legLength));
  // On the spot the ground carries the foot back; of a figure that travels the hips go on over it.
  const onTheWay = length(view.contacts.groundVelocity) === 0;
  const along = Array.from({ length: count }, (_, k) => {
    const place = dot(vec3At(still.places, k), view.heading.forward(view.index(from + k)));
    return place - (onTheWay ? view.forward(shot.roles.hips!, from + k) : 0);
  });
  const part = `leg.${side}`;
  const detail = { from: view.label(from), to: view.label(from) + framesIn(shot, to - from) };
  const value = roundTo4(beyond((100 * distance) / size.legLength, 2.5 * footJitter(shot)));
  return [
    FOOT_SLIDE.of(value, {
      part,
      ...(value > 0 && { frames: [view.label(from + a), view.label(from + b)] }),
      detail: { ...detail, units: roundTo4(distance) },
    }),
    EVEN.of(roundTo4(straightness(along)), { part, detail }),
  ];
}

/** A point of a foot over the samples of a stand; 3 numbers a sample. */
interface FootPath {
  readonly places: Float64Array;
  readonly ground: Float64Array;
  readonly heights: Float64Array;
}

/** What a stand's points have in common at each of its samples: how far the loop has come, and how far the ground has gone by since it began; 3 numbers each. */
interface StandWay {
  readonly first: number;
  readonly samples: number;
  readonly travelled: Float64Array;
  readonly gone: Float64Array;
}

function wayOfStand(view: GaitView, first: number, samples: number): StandWay {
  const travelled = new Float64Array(3 * samples);
  const gone = new Float64Array(3 * samples);
  for (let k = 0; k < samples; k++) {
    travelled.set(view.travelled(first + k), 3 * k);
    if (k === 0) continue;
    const step = view.groundGone(first + k - 1, first + k);
    for (let c = 0; c < 3; c++) gone[3 * k + c] = gone[3 * k - 3 + c]! + step[c]!;
  }
  return { first, samples, travelled, gone };
}

/** Where a point is at each sample of the stand, its way over the ground with the ground's own taken out, and its height. */
function pathOverGround(view: GaitView, point: FixedPoint, { first, samples, travelled, gone }: StandWay): FootPath {
  const { shot } = view;
  const places = new Float64Array(3 * samples);
  const ground = new Float64Array(3 * samples);
  const heights = new Float64Array(samples);
  const [ux, uy, uz] = shot.axes.up;
  for (let k = 0; k < samples; k++) {
    const o = 3 * k;
    putPoint(shot, view.index(first + k), point, places, o);
    const px = (places[o]! += travelled[o]!);
    const py = (places[o + 1]! += travelled[o + 1]!);
    const pz = (places[o + 2]! += travelled[o + 2]!);
    const x = px - gone[o]!;
    const y = py - gone[o + 1]!;
    const z = pz - gone[o + 2]!;
    const up = x * ux + y * uy + z * uz;
    ground[o] = x - up * ux;
    ground[o + 1] = y - up * uy;
    ground[o + 2] = z - up * uz;
    heights[k] = px * ux + py * uy + pz * uz;
  }
  return { places, ground, heights };
}

/** Points this much over a foot's lowest, %L, may be the one it stands on. */
const LOW = 1;

/**
 * The way over the ground of what a foot stands on: of its points on the ground at each moment the one that keeps most still. A foot rolls from its
 * heel over its ball; while one of them rests it does not slide.
 */
function contactPath(paths: readonly FootPath[], low: number): Float64Array {
  const path = new Float64Array(paths[0]!.ground.length);
  for (let k = 0; k + 3 < path.length; k += 3) {
    const f = k / 3;
    let [lowest, next] = [Infinity, Infinity];
    for (const { heights } of paths) {
      lowest = Math.min(lowest, heights[f]!);
      next = Math.min(next, heights[f + 1]!);
    }
    let best = { size: Infinity, x: 0, y: 0, z: 0 };
    for (const isAsked of [true, false]) {
      for (const { ground: g, heights } of paths) {
        // One point leaves the ground as another meets it: then whichever keeps most still.
        if (isAsked && (heights[f]! > lowest + low || heights[f + 1]! > next + low)) continue;
        const [x, y, z] = [g[k + 3]! - g[k]!, g[k + 4]! - g[k + 1]!, g[k + 5]! - g[k + 2]!];
        const step = x * x + y * y + z * z;
        if (step < best.size) best = { size: step, x, y, z };
      }
      if (best.size < Infinity) break;
    }
    path[k + 3] = path[k]! + best.x;
    path[k + 4] = path[k + 1]! + best.y;
    path[k + 5] = path[k + 2]! + best.z;
  }
  return path;
}

/** The two places of a path, 3 numbers each, that lie farthest apart. */
function farthest(path: Float64Array): { distance: number; a: number; b: number } {
  let best = { distance: 0, a: 0, b: 0 };
  for (let a = 0; a < path.length; a += 3)
    for (let b = a + 3; b < path.length; b += 3) {
      const x = path[b]! - path[a]!;
      const y = path[b + 1]! - path[a + 1]!;
      const z = path[b + 2]! - path[a + 2]!;
      const square = x * x + y * y + z * z;
      if (square > best.distance) best = { distance: square, a: a / 3, b: b / 3 };
    }
  return { ...best, distance: Math.sqrt(best.distance) };
}

function depth(view: GaitView, side: FootSide, heights: Float64Array): Reading {
  const L = view.shot.scale.legLength;
  const deepest = Math.max(0, -smallestOf(heights));
  // Of depths that are alike but for rounding the first.
  const at = heights.findIndex((height) => -height > deepest - 1e-6 * L);
  const value = roundTo4(Math.max(0, (100 * deepest) / L - 2 * footJitter(view.shot)));
  return DEPTH.of(value, { part: `leg.${side}`, ...(value > 0 && { frames: [view.label(at)] }) });
}

/** A foot this near to the ground stands on it, %L. */
const ON_IT = 1;

/** Whether a foot that keeps still is held up while the other one stands: in a walk it never is. */
function isLifted({ shot, index }: GaitView, { at, until }: Landing, other: Float64Array): boolean {
  if (shot.kinds.some((kind) => GAITS.includes(kind) && kind !== 'any')) return false;
  for (let s = at; s <= until; s++) if ((100 * other[index(s)]!) / shot.scale.legLength > ON_IT) return false;
  return true;
}

/** `gait.float`: the least height of the planted foot's lowest point over the ground: what it never comes down from. */
function float(view: GaitView, { side, at, until }: Landing, heights: Float64Array): Reading {
  let least = Infinity;
  for (let s = at; s <= until; s++) least = Math.min(least, heights[view.index(s)]!);
  const from = view.label(at);
  return FLOAT.of(roundTo4((100 * Math.max(0, least)) / view.shot.scale.legLength), {
    part: `leg.${side}`,
    detail: { from, to: from + framesIn(view.shot, until - at) },
  });
}

/** Distances of the ankles where a foot lands: along the way and across it. */
function footfalls(view: GaitView): Measured {
  const { roles, scale: size } = view.shot;
  const landings = view.landings.filter(({ standing }) => !standing);
  if (landings.length === 0) return refuse([STEP_LENGTH, TRACK], 'no foot lands in the shot');
  const places = landings.map(({ side, at }) => {
    const here = view.place(roles[`foot.${side}`]!, at);
    const other = view.place(roles[`foot.${opposite(side)}`]!, at);
    const across = (here.left - other.left) * (side === 'L' ? 1 : -1);
    const along = here.forward - other.forward;
    return { along: (100 * along) / size.legLength, across: (100 * across) / size.legLength };
  });
  const reading = (kind: typeof STEP_LENGTH | typeof TRACK, values: number[]): Reading =>
    kind.of(roundTo4(mean(values)), { detail: { each: values.map(roundTo4) } });
  return made(
    reading(
      STEP_LENGTH,
      places.map(({ along }) => along),
    ),
    reading(
      TRACK,
      places.map(({ across }) => across),
    ),
  );
}

/** `gait.froude`: v² / (g L) of the speed over the ground. */
function froude(view: GaitView): Reading {
  const { roles, fps, scale: size } = view.shot;
  const groundVelocity = Math.hypot(...view.contacts.groundVelocity);
  const last = view.frames - 1;
  const hips = roles.hips!;
  let gone = 0;
  for (let s = 0; s < last; s++) {
    // Along the heading of one moment, so that a path round a corner is as long as it is.
    const ahead = view.heading.forward(s);
    const n = view.shot.motion.joints.length;
    const p = view.shot.world.positions;
    for (let k = 0; k < 3; k++) gone += (p[3 * ((s + 1) * n + hips) + k]! - p[3 * (s * n + hips) + k]!) * ahead[k]!;
  }
  const perFrame = groundVelocity > 0 ? groundVelocity : Math.abs(gone) / Math.max(1, last);
  const speed = perFrame * fps * size.metresPerUnit;
  const leg = size.legLength * size.metresPerUnit;
  return FROUDE.of(roundTo4(speed ** 2 / (STANDARD_GRAVITY * leg)), { detail: { metresPerSecond: roundTo4(speed) } });
}
