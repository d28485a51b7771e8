import { type FixedPoint, footPoints } from '../motion/feet/foot-points.ts';
import { type GaitView, type Landing, viewGait } from '../measure/gait/gait-view.ts';
import { add, cross, dot, length, normalise, reject, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { axisAngle, multiply, type Quat, rotate } from '../motion/quaternion.ts';
import { Body } from '../quantity/body.ts';
import { median } from '../signal/statistics.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { type Leg, legsOf, putFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { partsOf, sideOfPart } from './proposals.ts';
import { type Asked, type Proposal, type Remedy, RemedyError } from './remedy.ts';
import type { Subject } from './subject.ts';

/** Points of a foot within this of its lowest stand on the ground, %L. */
const LOW = 1;
/** A foot that goes less than this, %L, stands. */
const STILL = 0.3;
/** Contacts are known to a frame: so many at both ends are not asked whether the foot is still. */
const TRIM = 1;

/** All feet first: what both do together comes from the body. */
const feet = (asked: Asked): Proposal[] => {
  const sides = new Set(partsOf(asked).map(sideOfPart));
  const [side] = sides;
  const own: Proposal[] =
    side === undefined || sides.size > 1 ? [] : [{ steps: [{ remedy: 'plant', parameters: { foot: side } }] }];
  return [...own, { steps: [{ remedy: 'plant', parameters: { foot: 'both' } }] }];
};

/**
 * Puts feet where they stand: still over the ground while they are planted, and on it; the way between is bent along. Where both feet stand over the ground, or
 * under it, by as much, the whole body is put on it first.
 *
 * @example plant:foot=L // the left foot stands still at every contact
 * @example plant:foot=L,flat=1 // and its sole lies flat on the ground in the middle of each
 * @example plant:foot=L,from=5,to=9,flat=1 // flat from 5 to 9, of the contact that those are in
 */
export const PLANT: Remedy = {
  id: 'plant',
  name: 'Plant',
  does: 'a foot stands still where it is planted, on the ground',
  needs: 'hips and legs, and a foot that is planted at some time',
  works: 'poses',
  parameters: {
    foot: { is: 'one of', words: ['L', 'R', 'both'], default: 'both', say: 'which foot' },
    from: { is: 'frame', say: 'only contacts from this frame on' },
    to: { is: 'frame', say: 'and up to this one' },
    flat: {
      is: 'number',
      unit: 'share',
      range: [0, 1],
      default: 0,
      say: 'how much of its pitch is taken from the sole',
    },
  },
  marks: [],
  mends: { 'gait.slide': feet, 'gait.depth': feet, 'gait.float': feet, 'gait.even': feet },
  make(subject, given) {
    const view = viewGait(subject.shot);
    if (typeof view === 'string') throw new RemedyError(`plant: ${view}`);
    const foot = given.text('foot')!;
    const legs = legsOf(subject).filter(({ side }) => foot === 'both' || side === foot);
    if (legs.length === 0) throw new RemedyError('plant: the figure has no leg of hip, knee and ankle; set the roles');
    const range = subject.range(given);
    const editor = new MotionEditor(subject.motion);
    const inRange = ({ at, until }: Landing): boolean => !range || (until >= range.from && at <= range.to);
    const landings = view.landings.filter(
      (landing) => inRange(landing) && legs.some(({ side }) => side === landing.side),
    );
    if (landings.length === 0) throw new RemedyError('plant: no foot stands there');
    if (foot === 'both' && !range && view.contacts.kind === 'flat') raise(subject, view, editor, legs);
    const flat = given.number('flat')!;
    const footing = new Map(
      legs.map((leg) => {
        const own = landings.filter(({ side }) => side === leg.side);
        const flatness = flat > 0 ? flatnessOf(subject, own, range, flat) : undefined;
        return [leg, footingOf(subject, view, editor, leg, own, flatness)];
      }),
    );
    return { motion: editor.motion, notes: putFeet(subject, editor, footing) };
  },
};

/** The points a foot may stand on. */
function solesOf(subject: Subject, side: 'L' | 'R'): FixedPoint[] {
  const foot = footPoints(subject.shot, side)!;
  return [foot.ankle, foot.heel, ...foot.front];
}

/** Moves the whole body up or down by what both feet lie under or over the ground at their contacts. */
function raise(subject: Subject, view: GaitView, editor: MotionEditor, legs: readonly Leg[]): void {
  const { up } = subject.shot.axes;
  const off = legs.map(({ side }) => {
    const points = solesOf(subject, side);
    const heights = view.landings
      .filter((landing) => landing.side === side)
      .flatMap(({ at, until }) =>
        Array.from({ length: until - at + 1 }, (_, k) => {
          const f = view.index(at + k);
          return Math.min(...points.map((point) => dot(editor.pointAt(f, point), up))) - view.contacts.ground;
        }),
      );
    return heights.length > 0 ? median(heights) : 0;
  });
  const [a = 0, b = a] = off;
  const together = Math.sign(a) === Math.sign(b) ? (Math.abs(a) < Math.abs(b) ? a : b) : 0;
  const root = subject.motion.moving.find((joint) => subject.motion.joints[joint]!.parent < 0);
  if (root === undefined || Math.abs(together) < 1e-3 * subject.shot.scale.legLength) return;
  for (let f = 0; f < subject.samples; f++) editor.shift(f, root, scale(up, -together));
}

/** What a foot is moved by at a sample. */
interface Nudge {
  readonly at: number;
  readonly by: Vec3;
}

/** Where one leg's foot stands and goes once it is planted at its contacts; nowhere on flat ground under it. */
function footingOf(
  subject: Subject,
  view: GaitView,
  editor: MotionEditor,
  leg: Leg,
  landings: readonly Landing[],
  flatness: Float64Array | undefined,
): ({ place: Vec3; turn: Quat } | undefined)[] {
  const L = subject.shot.scale.legLength;
  const { up } = subject.shot.axes;
  const own = landings.flatMap((landing) => nudges(subject, view, editor, leg, landing));
  const all = own.length > 0 ? spread(subject, own) : undefined;
  const points = solesOf(subject, leg.side);
  const sole = new Body(subject.shot).sole(leg.side);
  return Array.from({ length: subject.samples }, (_, f) => {
    let by: Vec3 = all?.[subject.within(f)] ?? [0, 0, 0];
    const ankle = editor.place(f, leg.end);
    const turn = editor.turn(f, leg.end);
    const share = flatness?.[subject.within(f)] ?? 0;
    const levels = share > 0 && sole && 'joint' in sole ? levelling(rotate(turn, sole.local), up, share) : undefined;
    const placed = points.map((point) => {
      const out = subtract(editor.pointAt(f, point), ankle);
      return add(add(ankle, by), levels ? rotate(levels, out) : out);
    });
    const lowest = Math.min(...placed.map((point) => dot(point, up)));
    if (levels) {
      // What it stood on stands there still: the ankle comes down over it, or goes up.
      const stood = Math.min(...points.map((point) => dot(add(editor.pointAt(f, point), by), up)));
      by = add(by, scale(up, stood - lowest));
    } else if (view.contacts.kind === 'flat' && lowest < view.contacts.ground)
      by = add(by, scale(up, view.contacts.ground - lowest));
    if (length(by) < 1e-9 * L && !levels) return undefined;
    return { place: add(ankle, by), turn: levels ? multiply(levels, turn) : turn };
  });
}

/** The turn that takes so large a share of its pitch from a sole that points some way. */
function levelling(points: Vec3, up: Vec3, share: number): Quat | undefined {
  const along = reject(points, up);
  if (length(along) < 1e-6) return undefined;
  const pitch = Math.atan2(dot(points, up), length(along));
  return Math.abs(pitch) < 1e-9 ? undefined : axisAngle(normalise(cross(up, along)), DEGREES * share * pitch);
}
const DEGREES = 180 / Math.PI;

/** A contact is flat but for this share of it at each end, where the foot rolls over its heel and its ball. */
const ROLLS = 0.2;
/** Frames at 24 fps over which a sole comes down flat, and leaves. */
const COMES_DOWN = 2;

/** How flat a foot is made at each sample: all of `most` in the middle of its contacts, or where a range is given for as long as that and the contact last. */
function flatnessOf(
  subject: Subject,
  landings: readonly Landing[],
  range: { readonly from: number; readonly to: number } | undefined,
  most: number,
): Float64Array {
  const flat = new Float64Array(subject.period);
  const soft = Math.max(1, Math.round(COMES_DOWN * (subject.shot.fps / 24)));
  for (const { at, until } of landings) {
    const rolls = Math.max(1, Math.round(ROLLS * (until - at + 1)));
    const [from, to] = range ? [Math.max(at, range.from), Math.min(until, range.to)] : [at + rolls, until - rolls];
    for (let f = from - soft; f <= to + soft; f++) {
      const outside = Math.max(0, from - f, f - to);
      const share = most * (1 - smoothStep(outside / (soft + 1)));
      const k = subject.wraps ? ((f % subject.period) + subject.period) % subject.period : f;
      if (from <= to && k >= 0 && k < flat.length) flat[k] = Math.max(flat[k]!, share);
    }
  }
  return flat;
}

/** What keeps a foot still and on the ground through one contact. */
function nudges(subject: Subject, view: GaitView, editor: MotionEditor, leg: Leg, { at, until }: Landing): Nudge[] {
  const { up } = subject.shot.axes;
  const low = (LOW / 100) * subject.shot.scale.legLength;
  const count = until - at + 1;
  const points = solesOf(subject, leg.side);
  let gone: Vec3 = [0, 0, 0];
  const paths: Vec3[][] = points.map(() => []);
  const heights: number[][] = points.map(() => []);
  for (let k = 0; k < count; k++) {
    if (k > 0) gone = add(gone, view.groundGone(at + k - 1, at + k));
    points.forEach((point, p) => {
      const place = add(editor.pointAt(view.index(at + k), point), view.travelled(at + k));
      paths[p]!.push(reject(subtract(place, gone), up));
      heights[p]!.push(dot(place, up));
    });
  }
  const lowest = (k: number): number => Math.min(...heights.map((own) => own[k]!));
  const slid: Vec3[] = [[0, 0, 0]];
  for (let k = 0; k + 1 < count; k++) {
    let best: Vec3 | undefined;
    let fallback: Vec3 | undefined;
    paths.forEach((path, p) => {
      const step = subtract(path[k + 1]!, path[k]!);
      const stands = heights[p]![k]! <= lowest(k) + low && heights[p]![k + 1]! <= lowest(k + 1) + low;
      if (stands && (!best || length(step) < length(best))) best = step;
      if (!fallback || length(step) < length(fallback)) fallback = step;
    });
    // Whether it stands in the first and the last frame is not sure.
    const sure = count <= 2 * TRIM + 3 || (k >= TRIM && k + 1 < count - TRIM);
    slid.push(sure ? add(slid.at(-1)!, best ?? fallback!) : slid.at(-1)!);
  }
  const flat = view.contacts.kind === 'flat';
  const stands = Array.from({ length: count }, (_, k) => lowest(k));
  const level = flat ? view.contacts.ground : median(stands);
  // A foot that rolls over its heel and its ball leaves the ground at both ends: it floats by what it never comes down from.
  const floats = Math.max(0, Math.min(...stands) - level);
  const still = slid.every((own) => length(own) < (STILL / 100) * subject.shot.scale.legLength);
  // It stands where it landed: what comes behind that is the slide.
  return slid.map((own, k) => ({
    at: at + k,
    by: add(still ? [0, 0, 0] : scale(own, -1), scale(up, Math.max(-floats, level - stands[k]!))),
  }));
}

/** Through the swing from what one contact ends with to what the next one begins with; round a loop's end as well. */
function spread(subject: Subject, nudges: readonly Nudge[]): Vec3[] {
  const { period, wraps } = subject;
  const known = [...nudges].sort((a, b) => a.at - b.at);
  const [first, last] = [known[0]!, known.at(-1)!];
  const around = wraps
    ? [{ ...last, at: last.at - period }, ...known, { ...first, at: first.at + period }]
    : [{ ...first, at: -1 }, ...known, { ...last, at: period }];
  const all: Vec3[] = Array.from({ length: period }, () => [0, 0, 0]);
  for (let k = 0; k + 1 < around.length; k++) {
    const [a, b] = [around[k]!, around[k + 1]!];
    for (let at = Math.max(a.at, -period); at < b.at; at++) {
      const u = smoothStep((at - a.at) / (b.at - a.at));
      const f = wraps ? ((at % period) + period) % period : at;
      if (f >= 0 && f < period) all[f] = add(scale(a.by, 1 - u), scale(b.by, u));
    }
  }
  return all;
}
