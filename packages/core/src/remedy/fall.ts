import { centreOfMass } from '../motion/centre-of-mass.ts';
import { STANDARD_GRAVITY } from '../motion/figure-scale.ts';
import { findFlights } from '../measure/jump/flights.ts';
import { measureReading } from '../measure/registry.ts';
import { dot, scale } from '../motion/vector.ts';
import { sampled } from '../signal/sampled.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import { keepFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { wayTo } from './proposals.ts';
import { type Asked, type Made, type Proposal, type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import { retimedTo } from './resample.ts';
import { Subject } from './subject.ts';

/** A flight is never made shorter than this, frames: nobody would see it. */
const SHORTEST = 3;

const deeper =
  (of: 'crouch' | 'squash') =>
  (asked: Asked): Proposal[] => [
    {
      steps: [{ remedy: 'fall', parameters: { of, depth: SOUGHT } }],
      seek: { from: 0, to: Math.max(-60, Math.min(60, 2 * wayTo(asked))) },
    },
  ];
const falls = (): Proposal[] => [{ steps: [{ remedy: 'fall', parameters: { gravity: 1 } }] }];

/**
 * A jump as things fall: its flight takes the time that gravity gives its height, on a parabola; or the crouch before it and the give behind it go deeper.
 *
 * @example fall:gravity=1 // a jump that rises 0.4 m is in the air for 0.57 s: t = √(8h / g)
 * @example fall:of=crouch,depth=8 // the hips go down 8 % of a leg more before take-off
 */
export const FALL: Remedy = {
  id: 'fall',
  name: 'Fall',
  does: 'a jump is in the air as long as gravity allows, on its parabola; or crouches and gives deeper',
  needs: 'feet that leave the ground together and land',
  works: 'poses',
  parameters: {
    gravity: { is: 'number', unit: 'of gravity', range: [0.1, 5], say: 'how fast it falls: 1 as things fall' },
    depth: { is: 'number', unit: '% of a leg', range: [-60, 60], say: 'how much deeper it crouches or gives' },
    of: { is: 'one of', words: ['crouch', 'squash', 'both'], default: 'both', say: 'which of them' },
  },
  marks: ['timing', 'spacing', 'overshoot'],
  mends: {
    'jump.gravity': falls,
    'jump.parabola': falls,
    'jump.air': falls,
    'jump.crouch': deeper('crouch'),
    'jump.squash': deeper('squash'),
  },
  make(subject, given) {
    const [gravity, depth] = [given.number('gravity'), given.number('depth')];
    if ((gravity === undefined) === (depth === undefined)) throw new RemedyError('fall needs gravity, or depth');
    const flights = findFlights(subject.shot);
    if (typeof flights === 'string') throw new RemedyError(`fall: ${flights}`);
    if (flights.length === 0) throw new RemedyError('fall: the feet never leave the ground together');
    return gravity !== undefined ? onItsParabola(subject, gravity) : deepened(subject, depth!, given.text('of')!);
  },
};

/** Heights of the centre of mass; of a body without legs of its root. */
function massHeights(subject: Subject): Float64Array {
  const { shot, motion, world, samples } = subject;
  const path = centreOfMass(motion.joints, shot.roles, world, samples);
  const n = motion.joints.length;
  const root = rootOf(subject);
  return sampled(samples, (f) => {
    const [p, k] = path ? [path, 3 * f] : [world.positions, 3 * (f * n + root)];
    return dot([p[k]!, p[k + 1]!, p[k + 2]!], shot.axes.up);
  });
}

function rootOf({ motion }: Subject): number {
  const root = motion.moving.find((joint) => motion.joints[joint]!.parent < 0);
  if (root === undefined) throw new RemedyError('fall: nothing that carries the body moves by itself');
  return root;
}

function onItsParabola(subject: Subject, gravity: number): Made {
  const { shot } = subject;
  const flights = findFlights(shot);
  const whole =
    typeof flights === 'string'
      ? []
      : flights.filter(({ takeoff, landing }) => takeoff !== undefined && landing !== undefined);
  if (whole.length === 0) throw new RemedyError('fall: the shot shows no flight from take-off to landing');
  const g = (gravity * STANDARD_GRAVITY) / shot.scale.metresPerUnit / shot.fps ** 2;
  const mass = massHeights(subject);
  let moments = Array.from({ length: subject.samples }, (_, f) => f);
  // From the last one back, so that the places of those before stay.
  const made: { takeoff: number; frames: number; rise: number }[] = [];
  for (const { takeoff, landing } of [...whole].reverse()) {
    const [from, to] = [takeoff!, landing!];
    let top = from;
    for (let f = from; f <= to; f++) if (mass[f]! > mass[top]!) top = f;
    const [up, down] = [Math.max(0, mass[top]! - mass[from]!), Math.max(0, mass[top]! - mass[to]!)];
    const frames = Math.max(SHORTEST, Math.round(Math.sqrt((2 * up) / g) + Math.sqrt((2 * down) / g)));
    const own = Array.from({ length: frames + 1 }, (_, k) => (k === frames ? to : from + (k * (to - from)) / frames));
    moments = [...moments.slice(0, from), ...own, ...moments.slice(to + 1)];
    made.unshift({ takeoff: from, frames, rise: mass[to]! - mass[from]! });
  }
  const retimed = retimedTo(subject, moments);
  const own = new Subject({ ...shot, loop: 'none' }, retimed.motion);
  const editor = new MotionEditor(retimed.motion);
  const heights = massHeights(
    new Subject({ ...shot, loop: 'none', motion: retimed.motion, world: own.world }, retimed.motion),
  );
  const root = rootOf(own);
  for (const { takeoff, frames, rise } of made) {
    // Flights before it have become shorter or longer.
    const from = moments.indexOf(takeoff);
    const start = heights[from]!;
    // Through take-off and landing, falling as gravity has it: y = y₀ + v t − g t² / 2.
    const v = rise / frames + (g * frames) / 2;
    for (let k = 1; k < frames; k++) {
      const wanted = start + v * k - (g * k * k) / 2;
      editor.shift(from + k, root, scale(shot.axes.up, wanted - heights[from + k]!));
    }
  }
  return { motion: editor.motion, map: retimed.map };
}

/** The hips lower about the crouch's lowest and the squash's, with the feet where they stand. */
function deepened(subject: Subject, depth: number, of: string): Made {
  const editor = new MotionEditor(subject.motion);
  if (depth === 0) return { motion: editor.motion };
  const root = rootOf(subject);
  const { up } = subject.shot.axes;
  const found = findFlights(subject.shot);
  const flights = typeof found === 'string' ? [] : found;
  const dips: { readonly from: number; readonly low: number; readonly to: number }[] = [];
  const samples = (frames: number): number => Math.max(1, Math.round(frames * (subject.shot.fps / 24)));
  const last = subject.samples - 1;
  flights.forEach(({ takeoff, landing }, k) => {
    // Of several jumps each has the ground between the one before and the one behind to itself.
    const [since, until] = [flights[k - 1]?.landing ?? 0, flights[k + 1]?.takeoff ?? last];
    if (of !== 'squash' && takeoff !== undefined && takeoff >= 3) {
      const low = lowest(subject, 'jump.crouch', takeoff - samples(4), since, takeoff);
      dips.push({ from: Math.max(since, low - samples(10)), low, to: takeoff });
    }
    if (of !== 'crouch' && landing !== undefined && landing + 3 < subject.samples) {
      const low = lowest(subject, 'jump.squash', landing + samples(4), landing, until);
      dips.push({ from: landing, low, to: Math.min(until, low + samples(12)) });
    }
  });
  if (dips.length === 0) throw new RemedyError('fall: there is no time before take-off or after landing');
  for (const { from, low, to } of dips)
    for (let f = from + 1; f < to; f++) {
      const share =
        f <= low ? smoothStep((f - from) / Math.max(1, low - from)) : smoothStep((to - f) / Math.max(1, to - low));
      editor.shift(f, root, scale(up, (-share * depth * subject.shot.scale.legLength) / 100));
    }
  return { motion: editor.motion, notes: keepFeet(subject, editor) };
}

/** Where the hips are lowest between two samples, as the reading tells it; else at a usual place. */
function lowest(subject: Subject, id: string, usual: number, least: number, most: number): number {
  const told = measureReading(subject.shot, id)
    .map(({ detail }) => (detail as { lowest?: number } | undefined)?.lowest)
    .filter((label) => label !== undefined)
    .map((label) => subject.sample(label))
    .find((sample) => sample > least && sample < most);
  return Math.min(most - 1, Math.max(least + 1, told ?? usual));
}
