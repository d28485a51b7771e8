import { shortestTurn } from '../motion/quaternion.ts';
import { jointIndex } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { Role } from '../motion/role.ts';
import { subtract } from '../motion/vector.ts';
import type { QuantityOf } from '../quantity/measure-quantity.ts';
import { quantityHandles } from '../quantity/quantity-handle.ts';
import type { LoosePose } from './loose-pose.ts';
import { pullJoint } from './pull.ts';

/** A pose in which a quantity has been turned up or down. */
export interface TurnedQuantity {
  readonly pose: LoosePose;
  /** What it came to, degrees or %L. */
  readonly value: number;
}

/** A trunk turns about its lowest joint and is told from between the hips: so many rounds bring it to its value. */
const ROUNDS = 12;
/** As near as this, degrees or %L, is there. */
const THERE = 1e-6;

/**
 * A pose with one quantity changed: the joint that turns it is turned in the plane in which the quantity is told, and what hangs from it goes along; a
 * height, or a way ahead or aside, is reached for by pulling its joint.
 *
 * @param by how much is put on, degrees or %L
 * @returns undefined where the figure does not show the quantity, or nothing turns it
 * @example turnQuantity(shot, 4, pose, { quantity: 'lean', of: 'trunk' }, -5) // five degrees less lean
 */
export function turnQuantity(
  shot: PreparedShot,
  sample: number,
  pose: LoosePose,
  asked: QuantityOf,
  by: number,
): TurnedQuantity | undefined {
  return quantityTurner(shot, asked)?.(sample, pose, by);
}

/** {@link turnQuantity} for many samples of one shot: what does not change with the sample is worked out once. */
export function quantityTurner(
  shot: PreparedShot,
  asked: QuantityOf,
): ((sample: number, pose: LoosePose, by: number) => TurnedQuantity | undefined) | undefined {
  const handles = quantityHandles(shot, asked);
  const known: Known = { gain: 1 };
  return handles && ((sample, pose, by) => turnedBy(shot, asked, { sample, pose, by }, handles, known));
}

/** What is known from the sample before: what a degree of turning made of the quantity. */
interface Known {
  gain: number;
}

interface Asked {
  readonly sample: number;
  readonly pose: LoosePose;
  readonly by: number;
}

function turnedBy(
  shot: PreparedShot,
  asked: QuantityOf,
  { sample, pose, by }: Asked,
  handles: NonNullable<ReturnType<typeof quantityHandles>>,
  known: Known,
): TurnedQuantity | undefined {
  const handleOf = (own: LoosePose) => handles(sample, own.world);
  const first = handleOf(pose);
  if (!first) return undefined;
  const wanted = first.valueAt(first.at) + by;
  const joint = turnerOf(shot, asked);
  const place = isPlace(asked) ? (shot.roles[asked.of as Role] ?? jointIndex(shot.motion, asked.of)) : undefined;
  if (joint === undefined && place === undefined) return undefined;
  let own = pose;
  let handle = first;
  let now = first.valueAt(first.at);
  // What turns about another place than it is told from comes only part of the way: the next round asks for as much more.
  let gain = place === undefined ? known.gain : 1;
  for (let round = 0; round < ROUNDS && Math.abs(now - wanted) >= THERE; round++) {
    const asks = (wanted - now) / gain;
    const to = handle.placeFor(now + asks);
    own =
      place === undefined
        ? own.turned(joint!, shortestTurn(subtract(handle.at, handle.pivot), subtract(to, handle.pivot)))
        : pullJoint(shot, sample, own, place, to);
    handle = handleOf(own)!;
    const came = handle.valueAt(handle.at);
    gain = place === undefined ? Math.min(2, Math.max(0.25, (came - now) / asks)) : 1;
    now = came;
    // A last round turns by so little that rounding is all it tells.
    if (Math.abs(asks) > 1e-3) known.gain = gain;
  }
  return { pose: own, value: now };
}

const isPlace = ({ quantity }: QuantityOf): boolean =>
  quantity === 'height' || quantity === 'shift' || quantity === 'ahead';

/** Roles of the joint that turns each part, the first that the figure has. */
const TURNERS: Readonly<Record<string, readonly string[]>> = {
  trunk: ['spine', 'chest'],
  pelvis: ['hips'],
  shoulders: ['chest', 'spine'],
  chest: ['chest', 'spine'],
  elbow: ['foreArm'],
  knee: ['shin'],
  wrist: ['hand'],
};

/** The joint that turns what a quantity is of: of an elbow the forearm; undefined where the figure has none. */
export function turnerOf({ motion, roles }: PreparedShot, { quantity, of }: QuantityOf): number | undefined {
  if (isPlace({ quantity, of })) return undefined;
  const [part, side] = of.split('.') as [string, string | undefined];
  const named = (TURNERS[part] ?? [part]).map((role) => (side === undefined ? role : `${role}.${side}`));
  const joint = named.map((role) => roles[role as Role]).find((own) => own !== undefined);
  if (joint !== undefined) return joint;
  const own = jointIndex(motion, of);
  return own < 0 ? undefined : own;
}
