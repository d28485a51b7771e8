import { STANDARD_GRAVITY } from '../../motion/figure-scale.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { add, dot, length, mean, reject, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { type FootPoints, footPoints, pointAt } from './foot-points.ts';
import { type FootSide, type GaitView, type Landing, SIDES, viewGait } from './gait-view.ts';
import { made, type Measured, type Reading, tidy, together, unmade } from '../reading.ts';
import { straightness } from '../../signal/correlation.ts';

export const GAIT_FEET_IDS = [
  'gait.slide',
  'gait.even',
  'gait.depth',
  'gait.float',
  'gait.stepLength',
  'gait.track',
  'gait.froude',
] as const;

export const FEET_DEFAULTS = Object.freeze({
  /** Contacts are known to a frame: so many at both ends, at 24 fps, are not asked whether the foot is still. */
  trim: 1,
  /** A contact must have this many samples left to be judged. */
  least: 3,
});

/** What the planted feet do: slide, sink, float, and where they land. */
export function measureGaitFeet(shot: PreparedShot): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return { readings: [], unmade: GAIT_FEET_IDS.map((id) => ({ id, why: view })) };
  return together(
    made(...view.landings.flatMap((landing) => stillness(view, landing))),
    view.contacts.kind === 'steps' ? noGround() : ground(view),
    footfalls(view),
    made(froude(view)),
  );
}

const ground = (view: GaitView): Measured =>
  made(...SIDES.map((side) => depth(view, side)), ...view.landings.map((landing) => float(view, landing)));

const noGround = (): Measured =>
  together(...['gait.depth', 'gait.float'].map((id) => unmade(id, 'on steps each foot stands at a height of its own')));

const indexOf = (view: GaitView, sample: number): number =>
  view.wraps ? ((sample % view.frames) + view.frames) % view.frames : sample;

/** Lowest point of a foot at a sample, over the ground. */
function lowest(view: GaitView, foot: FootPoints, sample: number): number {
  const index = indexOf(view, sample);
  const heights = [foot.ankle, foot.heel, ...foot.front].map((point) =>
    dot(pointAt(view.shot, index, point), view.shot.axes.up),
  );
  return Math.min(...heights) - view.contacts.ground;
}

/** `gait.slide` and `gait.even` of one contact: how far its most still point goes over the ground, and how evenly with it. */
function stillness(view: GaitView, { side, at, until }: Landing): Reading[] {
  const { axes, scale: size } = view.shot;
  const trim = Math.max(1, Math.round(FEET_DEFAULTS.trim * (view.shot.fps / 24)));
  const long = until - at + 1 >= FEET_DEFAULTS.least + 2 * trim;
  const from = at + (long ? trim : 0);
  const to = until - (long ? trim : 0);
  const samples = Array.from({ length: Math.max(0, to - from + 1) }, (_, k) => from + k);
  if (samples.length < FEET_DEFAULTS.least) return [];
  const foot = footPoints(view.shot, side)!;
  const tracks = samples.map((s) =>
    [foot.ankle, ...foot.front].map((point) => add(pointAt(view.shot, indexOf(view, s), point), view.travelled(s))),
  );
  const overGround = tracks[0]!.map((_, point) =>
    tracks.map((points, k) => reject(subtract(points[point]!, scale(view.contacts.belt, k)), axes.up)),
  );
  const travels = overGround.map((path) => farthest(path));
  const still = travels.reduce((best, { distance }, k) => (distance < travels[best]!.distance ? k : best), 0);
  const { distance, a, b } = travels[still]!;
  // On the spot the ground carries the foot back; of a figure that travels the hips go on over it.
  const onTheWay = length(view.contacts.belt) === 0;
  const along = tracks.map(
    (points, k) =>
      dot(points[still]!, view.forward) - (onTheWay ? view.place(view.shot.roles.hips!, from + k).forward : 0),
  );
  const part = `leg.${side}`;
  const detail = { from: view.label(from), to: view.label(from) + (to - from) };
  const value = tidy((100 * distance) / size.legLength);
  return [
    {
      id: 'gait.slide',
      part,
      value,
      unit: '%L',
      frames: [view.label(from + a), view.label(from + b)],
      detail: { ...detail, units: tidy(distance) },
    },
    { id: 'gait.even', part, value: tidy(straightness(along)), unit: '0…1', detail },
  ];
}

/** The two places of a path that lie farthest apart. */
function farthest(path: readonly Vec3[]): { distance: number; a: number; b: number } {
  let best = { distance: 0, a: 0, b: 0 };
  for (let a = 0; a < path.length; a++) {
    for (let b = a + 1; b < path.length; b++) {
      const distance = Math.hypot(...subtract(path[b]!, path[a]!));
      if (distance > best.distance) best = { distance, a, b };
    }
  }
  return best;
}

function depth(view: GaitView, side: FootSide): Reading {
  const foot = footPoints(view.shot, side)!;
  let deepest = 0;
  let frame: number | undefined;
  for (let s = 0; s < view.frames; s++) {
    const under = -lowest(view, foot, s);
    if (under > deepest) {
      deepest = under;
      frame = view.label(s);
    }
  }
  const value = tidy((100 * deepest) / view.shot.scale.legLength);
  return {
    id: 'gait.depth',
    part: `leg.${side}`,
    value,
    unit: '%L',
    ...(value > 0 && frame !== undefined && { frames: [frame] }),
  };
}

/** `gait.float`: the least height of the planted foot's lowest point over the ground: what it never comes down from. */
function float(view: GaitView, { side, at, until }: Landing): Reading {
  const foot = footPoints(view.shot, side)!;
  let least = Infinity;
  for (let s = at; s <= until; s++) least = Math.min(least, lowest(view, foot, s));
  return {
    id: 'gait.float',
    part: `leg.${side}`,
    value: tidy((100 * Math.max(0, least)) / view.shot.scale.legLength),
    unit: '%L',
    detail: { from: view.label(at), to: view.label(at) + (until - at) },
  };
}

/** Distances of the ankles where a foot lands: along the way and across it. */
function footfalls(view: GaitView): Measured {
  const { roles, scale: size } = view.shot;
  const landings = view.landings.filter(({ standing }) => !standing);
  if (landings.length === 0)
    return together(...['gait.stepLength', 'gait.track'].map((id) => unmade(id, 'no foot lands in the shot')));
  const apart = landings.map(({ side, at }) => {
    const here = view.place(roles[`foot.${side}`]!, at);
    const other = view.place(roles[`foot.${side === 'L' ? 'R' : 'L'}`]!, at);
    const across = (here.left - other.left) * (side === 'L' ? 1 : -1);
    return { along: (100 * (here.forward - other.forward)) / size.legLength, across: (100 * across) / size.legLength };
  });
  const reading = (id: string, values: number[]): Reading => ({
    id,
    value: tidy(mean(values)),
    unit: '%L',
    detail: { each: values.map(tidy) },
  });
  return made(
    reading(
      'gait.stepLength',
      apart.map(({ along }) => along),
    ),
    reading(
      'gait.track',
      apart.map(({ across }) => across),
    ),
  );
}

/** `gait.froude`: v² / (g L) of the speed over the ground. */
function froude(view: GaitView): Reading {
  const { roles, fps, scale: size } = view.shot;
  const belt = Math.hypot(...view.contacts.belt);
  const last = view.frames - 1;
  const hips = roles.hips!;
  const travelled = view.place(hips, last).forward - view.place(hips, 0).forward;
  const perFrame = belt > 0 ? belt : Math.abs(travelled) / Math.max(1, last);
  const speed = perFrame * fps * size.metresPerUnit;
  const leg = size.legLength * size.metresPerUnit;
  return {
    id: 'gait.froude',
    value: tidy(speed ** 2 / (STANDARD_GRAVITY * leg)),
    unit: '–',
    detail: { metresPerSecond: tidy(speed) },
  };
}
