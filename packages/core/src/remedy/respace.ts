import type { Motion } from '../motion/motion.ts';
import { jointWeights } from '../motion/pose-distance.ts';
import { angleBetween, type Quat, rotate } from '../motion/quaternion.ts';
import { add, length, subtract, type Vec3 } from '../motion/vector.ts';
import { BREATH } from '../measure/attention/breath.ts';
import { measureReading } from '../measure/registry.ts';
import { jointParts } from '../measure/parts.ts';
import { smooth } from '../signal/savitzky-golay.ts';
import { inParts, spanOf } from './proposals.ts';
import { MotionEditor } from './motion-editor.ts';
import { type Asked, type Proposal, type Remedy, RemedyError } from './remedy.ts';
import { Sampler } from './resample.ts';
import { chartFractions } from './spacing-chart.ts';
import type { Range, Subject } from './subject.ts';

/** The way is measured at so many moments a frame. */
const FINE = 4;
/** What is uneven is smoothed over so many samples to each side. */
const HALF = 5;

const eased =
  (slow: 'slow-in' | 'slow-out') =>
  (asked: Asked): Proposal[] => {
    const { reading } = asked.finding;
    const span = spanOf(reading);
    if (!span || span.to - span.from < 2) return [];
    const lacks = asked.finding.distance > 0;
    const charts = lacks ? ['both', slow] : ['even', slow === 'slow-in' ? 'slow-out' : 'slow-in'];
    return charts.map((chart) => ({
      steps: [{ remedy: 'respace', parameters: { ...span, ...inParts(reading), chart } }],
    }));
  };

/** Of every breath the way in and the way out in other shares of its time. */
function breathing({ shot, target }: Asked): Proposal[] {
  const [breath] = BREATH[0].among(measureReading(shot, 'breath.cycle'));
  if (!breath || target === undefined) return [];
  return [1, 1.3, 1.7].map((more) => breathsIn(shot, breath, more * target));
}

type Breath = ReturnType<(typeof BREATH)[0]['among']>[number];

function breathsIn(shot: Asked['shot'], breath: Breath, ratio: number): Proposal {
  const { in: into, out } = breath.detail;
  const length = Math.round(into + out);
  const fills = (length * ratio) / (1 + ratio);
  const half = (u: number): number => (1 - Math.cos(Math.PI * u)) / 4;
  const chart = Array.from({ length: length - 1 }, (_, k) => {
    const own = k + 1 <= fills ? half((k + 1) / fills) : 0.5 + half((k + 1 - fills) / (length - fills));
    return own.toFixed(4);
  }).join('+');
  const [first, last] = [
    shot.firstFrame,
    shot.firstFrame + (shot.loop === 'none' ? shot.motion.frames : shot.period) - 1,
  ];
  const spans = (breath.frames ?? []).flatMap((top) => {
    const from = Math.round(top - into);
    const to = from + length;
    const around = (label: number): number =>
      label < first ? label + last - first + 1 : label > last ? label - (last - first + 1) : label;
    const inside = from >= first && to <= last;
    return inside || shot.loop !== 'none' ? [{ from: around(from), to: around(to) }] : [];
  });
  return { steps: spans.map((span) => ({ remedy: 'respace', parameters: { ...span, parts: 'upper', chart } })) };
}

/**
 * Puts the frames of a move on other places of their own way: nothing goes anywhere it did not go before, only at other times.
 *
 * @example respace:from=1,to=13,joint=hand.R,chart=slow-in // the right arm eases into frame 13
 */
export const RESPACE: Remedy = {
  id: 'respace',
  name: 'Respace',
  does: 'the frames of a move lie on other places of their own way',
  needs: 'a range of three frames or more in which something moves',
  works: 'poses',
  parameters: {
    from: { is: 'frame', say: 'first pose' },
    to: { is: 'frame', say: 'last pose' },
    joint: { is: 'joint', say: 'the point whose way counts; its limb is respaced' },
    parts: { is: 'parts', say: 'what is respaced; all of it where it is left out' },
    chart: { is: 'fractions', default: 'both', say: 'even, slow-in, slow-out, both, halves, smooth, or fractions' },
  },
  marks: ['spacing'],
  mends: {
    'ease.in': eased('slow-in'),
    'ease.out': eased('slow-out'),
    'stutter.frames': () => {
      const even = { remedy: 'respace', parameters: { chart: 'smooth' } };
      return [{ steps: [even] }, { steps: [even, { remedy: 'plant', parameters: {} }] }];
    },
    'breath.ratio': breathing,
    'halt.share': () => [{ steps: [{ remedy: 'respace', parameters: { parts: 'upper', chart: 'smooth' } }] }],
  },
  make(subject, given) {
    const range = subject.range(given) ?? { from: 0, to: subject.wraps ? subject.period : subject.samples - 1 };
    if (range.to - range.from < 2) throw new RemedyError('respace needs a range of three frames or more');
    const joint = given.text('joint');
    const parts = given.text('parts');
    const at = joint === undefined ? undefined : subject.joint(joint);
    const own = at !== undefined ? limbOf(subject, at) : parts !== undefined ? subject.joints(parts) : undefined;
    const sampler = new Sampler(subject);
    const way = knownWay(subject, [at ?? '', parts ?? '', range.from, range.to].join(' '), () =>
      at === undefined ? wayOfPoses(subject, sampler, own, range) : wayOfPoint(subject, sampler, at, own!, range),
    );
    const all = way.at(-1)!;
    if (!(all > 1e-6)) throw new RemedyError('respace: nothing moves there');
    const moments = placed(way, fractionsOf(given.text('chart')!, way, subject, range), range.from);
    return { motion: shown(subject, sampler, moments, range, own) };
  },
};

const ways = new WeakMap<Motion, Map<string, readonly number[]>>();

/** A way through a motion, worked out once: what is dragged is where on it the frames lie. */
function knownWay({ motion, shot }: Subject, key: string, workOut: () => readonly number[]): readonly number[] {
  const own = ways.get(motion) ?? new Map<string, readonly number[]>();
  ways.set(motion, own);
  // One motion may be read as looping or not.
  const named = `${shot.loop} ${shot.period} ${key}`;
  const way = own.get(named) ?? workOut();
  own.set(named, way);
  return way;
}

/** The joints of a point's limb: the whole part it belongs to, down to it. */
function limbOf(subject: Subject, joint: number): number[] {
  const parts = jointParts(subject.shot);
  return parts.flatMap((part, j) => (part === parts[joint] ? [j] : []));
}

/** How far a point has come at every quarter of a frame, seen from what its limb hangs from. */
function wayOfPoint(
  subject: Subject,
  sampler: Sampler,
  joint: number,
  limb: readonly number[],
  { from, to }: Range,
): number[] {
  const { joints } = subject.motion;
  const chain: number[] = [];
  for (let j = joint; j >= 0 && limb.includes(j); j = joints[j]!.parent) chain.unshift(j);
  const place = (moment: number): Vec3 => {
    let point: Vec3 = [0, 0, 0];
    for (let k = chain.length - 1; k >= 0; k--) {
      const slot = subject.motion.moving.indexOf(chain[k]!);
      const offset = slot < 0 ? joints[chain[k]!]!.offset : sampler.translation(slot, moment);
      point = add(offset, k === chain.length - 1 ? point : rotate(sampler.rotation(chain[k]!, moment), point));
    }
    return point;
  };
  return summed(from, to, place, (a, b) => length(subtract(a, b)));
}

/** How far the pose of some joints has come at every quarter of a frame, degrees. */
function wayOfPoses(
  subject: Subject,
  sampler: Sampler,
  own: readonly number[] | undefined,
  { from, to }: Range,
): number[] {
  const weights = jointWeights(subject.motion);
  const joints = own ?? subject.motion.joints.map((_, j) => j);
  const pose = (moment: number): Quat[] => joints.map((j) => sampler.rotation(j, moment));
  return summed(from, to, pose, (a, b) =>
    Math.sqrt(joints.reduce((sum, j, k) => sum + Math.max(weights[j]!, 1e-6) * angleBetween(a[k]!, b[k]!) ** 2, 0)),
  );
}

function summed<T>(from: number, to: number, at: (moment: number) => T, distance: (a: T, b: T) => number): number[] {
  const way = [0];
  let last = at(from);
  for (let k = 1; k <= FINE * (to - from); k++) {
    const next = at(from + k / FINE);
    way.push(way.at(-1)! + distance(last, next));
    last = next;
  }
  return way;
}

/** The share of the way that every frame of the range should have come. */
function fractionsOf(chart: string, way: readonly number[], subject: Subject, { from, to }: Range): number[] {
  const steps = to - from;
  if (chart === 'smooth') {
    const all = way.at(-1)!;
    const own = Float64Array.from({ length: steps + 1 }, (_, k) => way[FINE * k]! / all);
    const wraps = subject.wraps && steps === subject.period;
    // What is left of even steps goes round with a loop.
    const rest = Float64Array.from({ length: wraps ? steps : steps + 1 }, (_, k) => own[k]! - k / steps);
    const calm = smooth(rest, HALF, 2, wraps);
    const begins = calm[0]!;
    return Array.from({ length: steps + 1 }, (_, k) =>
      k === 0
        ? 0
        : k === steps
          ? 1
          : k / steps + calm[k]! - (wraps ? begins : begins + (k / steps) * (calm.at(-1)! - begins)),
    );
  }
  const whole = chartFractions(chart, steps);
  if (!whole)
    throw new RemedyError(
      `respace: ${steps - 1} fractions are needed, one for each frame between ${subject.label(from)} and ${subject.label(to)}`,
    );
  return whole;
}

/** The moments at which the way has come so far. */
function placed(way: readonly number[], fractions: readonly number[], from: number): number[] {
  const all = way.at(-1)!;
  let k = 0;
  return fractions.map((fraction) => {
    const wanted = fraction * all;
    while (k < way.length - 2 && way[k + 1]! < wanted) k++;
    while (k > 0 && way[k]! > wanted) k--;
    const step = way[k + 1]! - way[k]!;
    const moment = from + (k + (step > 0 ? Math.min(1, Math.max(0, (wanted - way[k]!) / step)) : 0)) / FINE;
    const near = Math.round(moment);
    return Math.abs(moment - near) < 1e-6 ? near : moment;
  });
}

function shown(
  subject: Subject,
  sampler: Sampler,
  moments: readonly number[],
  { from }: Range,
  own: readonly number[] | undefined,
) {
  const editor = new MotionEditor(subject.motion);
  const joints = own ?? subject.motion.joints.map((_, j) => j);
  moments.forEach((moment, k) => {
    if (moment === from + k) return;
    for (let f = subject.within(from + k); f < subject.samples; f += subject.period) {
      for (const j of joints) {
        editor.setLocal(f, j, sampler.rotation(j, moment));
        const slot = subject.motion.moving.indexOf(j);
        if (slot < 0) continue;
        // A loop that has gone round lies a period’s way farther on.
        const gone = subtract(sampler.translation(slot, f), sampler.translation(slot, from + k));
        editor.setOwnPlace(f, j, add(sampler.translation(slot, moment), gone));
      }
      if (!subject.wraps) break;
    }
  });
  return editor.motion;
}
