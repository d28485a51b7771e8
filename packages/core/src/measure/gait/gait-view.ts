import { meanHeading } from '../../motion/heading.ts';
import { quatAt, rotate } from '../../motion/quaternion.ts';
import { loopPeriod } from '../../motion/loop.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { add, cross, dot, length, reject, scale, subtract, type Vec3 } from '../../motion/vector.ts';
import { type Contacts, findContacts } from './contacts.ts';

export const SIDES = ['L', 'R'] as const;
export type FootSide = (typeof SIDES)[number];

/** One landing of one foot, in order of time. Samples; of a loop within the period, its planted time may go on past it. */
export interface Landing {
  readonly side: FootSide;
  readonly at: number;
  readonly until: number;
  /** It did not land within the shot: the figure stands on it when the shot begins, or is about to leave it. */
  readonly standing: boolean;
}

/** A walk as its measures look at it: along the way the figure faces, on the ground it was found on. */
export interface GaitView {
  readonly shot: PreparedShot;
  readonly frames: number;
  readonly wraps: boolean;
  readonly contacts: Contacts;
  readonly landings: readonly Landing[];
  readonly forward: Vec3;
  readonly left: Vec3;
  /** Place of a joint at a sample: forward, up, left; units. Samples wrap on a loop. */
  place(joint: number, sample: number): { forward: number; up: number; left: number };
  /** Height of the hips at a sample, less the climb where the figure goes up or down steps. */
  hipsUp(sample: number): number;
  /** How far a looping figure that travels has come at a sample past its period. */
  travelled(sample: number): Vec3;
  /** Turn of a joint about up, degrees, positive to the left, against the mean heading. */
  turn(joint: number, sample: number): number;
  /** Label of a sample; on a loop, of where it falls in the period. */
  label(sample: number): number;
}

/** The walk in a shot, or why there is none to measure. */
export function viewGait(shot: PreparedShot): GaitView | string {
  const { roles, motion, axes, world, loop } = shot;
  const missing = (['hips', 'foot.L', 'foot.R'] as const).filter((role) => roles[role] === undefined);
  if (missing.length > 0) return `it needs ${missing.join(', ')}; set the roles`;
  const frames = loopPeriod(loop, motion.frames);
  if (frames < 6) return `it needs 6 frames or more, the shot has ${frames}`;
  const contacts = findContacts(shot);
  const landings = SIDES.flatMap((side) =>
    (contacts.feet[side] ?? []).map(({ from, to }): Landing => {
      const standing = loop === 'none' && from === 0 && (stands(shot) || isLeaving(contacts, side, to));
      return { side, at: from, until: to, standing };
    }),
  ).sort((a, b) => a.at - b.at || a.until - b.until);
  if (landings.length === 0) return 'no foot is ever planted on the ground';
  const heading = meanHeading(shot, frames);
  const forward = rotate(heading, axes.forward);
  const left = cross(axes.up, forward);
  const wraps = loop !== 'none';
  const n = motion.joints.length;
  const index = (sample: number): number => (wraps ? ((sample % frames) + frames) % frames : sample);
  const place: GaitView['place'] = (joint, sample) => {
    const k = 3 * (index(sample) * n + joint);
    const p = add([world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!], travelled(sample));
    return { forward: dot(p, forward), up: dot(p, axes.up), left: dot(p, left) };
  };
  const travelled = (sample: number): Vec3 =>
    wraps ? scale(contacts.advance, Math.floor(sample / frames)) : [0, 0, 0];
  const up = (sample: number): number => place(roles.hips!, sample).up;
  const climbs = contacts.kind === 'steps';
  const climb = climbs
    ? wraps
      ? dot(contacts.advance, axes.up) / frames
      : (up(frames - 1) - up(0)) / (frames - 1)
    : 0;
  return {
    shot,
    frames,
    wraps,
    contacts,
    landings,
    forward,
    left,
    place,
    travelled,
    hipsUp: (sample) => up(sample) - climb * sample,
    turn: (joint, sample) => {
      const facing = rotate(quatAt(world.rotations, index(sample) * n + joint), axes.forward);
      return (Math.atan2(dot(facing, left), dot(facing, forward)) * 180) / Math.PI;
    },
    label: (sample) => shot.firstFrame + index(sample),
  };
}

/** Of two feet that are planted when the shot begins, the one that leaves first landed before it. */
const isLeaving = ({ feet }: Contacts, side: FootSide, until: number): boolean =>
  (feet[side === 'L' ? 'R' : 'L'] ?? []).some(({ from, to }) => from === 0 && to > until);

/** Hips slower than this share of their usual speed stand. */
const STANDS = 0.3;

/** Whether a figure that goes somewhere stands when the shot begins. */
function stands({ motion, world, roles, axes, fps }: PreparedShot): boolean {
  const n = motion.joints.length;
  const at = (f: number): Vec3 => {
    const k = 3 * (f * n + roles.hips!);
    return [world.positions[k]!, world.positions[k + 1]!, world.positions[k + 2]!];
  };
  const last = motion.frames - 1;
  const reach = Math.min(last, Math.max(1, Math.round(fps / 12)));
  const first = length(reject(subtract(at(reach), at(0)), axes.up)) / reach;
  const speeds = Float64Array.from({ length: last }, (_, f) =>
    length(reject(subtract(at(f + 1), at(f)), axes.up)),
  ).sort();
  return first < STANDS * speeds[Math.floor(0.75 * (last - 1))]!;
}

/** A sample list 0 … frames − 1 turned into a signal. */
export const signal = (view: GaitView, value: (sample: number) => number): Float64Array =>
  Float64Array.from({ length: view.frames }, (_, f) => value(f));

/** A step: from one foot's landing to the other's. `to` may lie past a loop's period. */
export interface Step {
  readonly side: FootSide;
  readonly from: number;
  readonly to: number;
}

/** Steps in order: each landing that is followed by one of the other foot. */
export function findSteps({ landings, wraps, frames }: GaitView): Step[] {
  const steps: Step[] = [];
  landings.forEach((landing, i) => {
    if (landing.standing) return;
    const next = landings[i + 1] ?? (wraps ? { ...landings[0]!, at: landings[0]!.at + frames } : undefined);
    if (next && next.side !== landing.side && next.at > landing.at)
      steps.push({ side: landing.side, from: landing.at, to: next.at });
  });
  return steps;
}
