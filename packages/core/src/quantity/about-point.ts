import type { PreparedShot } from '../motion/prepared-shot.ts';
import { type QuantityOf, quantitiesOf, quantitySignal } from './measure-quantity.ts';
import type { Quantity } from './quantities.ts';

type Told = readonly [quantity: Quantity, of: string];

/** What is asked of the whole body. */
const BODY: readonly Told[] = [
  ['lean', 'trunk'],
  ['side', 'trunk'],
  ['height', 'hips'],
  ['turn', 'chest'],
  ['pitch', 'head'],
];

/** What is usually turned up or down where somebody points at a joint of this role, the commonest first; `.S` is its side. */
const ABOUT: Readonly<Record<string, readonly Told[]>> = {
  hips: [
    ['height', 'hips'],
    ['shift', 'hips'],
    ['tilt', 'pelvis'],
    ['turn', 'pelvis'],
    ['ahead', 'hips'],
  ],
  spine: [
    ['lean', 'trunk'],
    ['side', 'trunk'],
    ['turn', 'chest'],
  ],
  chest: [
    ['lean', 'trunk'],
    ['side', 'trunk'],
    ['turn', 'chest'],
    ['turn', 'shoulders'],
    ['tilt', 'shoulders'],
  ],
  neck: [
    ['lean', 'neck'],
    ['side', 'neck'],
  ],
  head: [
    ['pitch', 'head'],
    ['turn', 'head'],
    ['side', 'head'],
    ['lean', 'head'],
  ],
  clavicle: [
    ['tilt', 'shoulders'],
    ['turn', 'shoulders'],
  ],
  upperArm: [
    ['swing', 'upperArm.S'],
    ['spread', 'upperArm.S'],
  ],
  foreArm: [['bend', 'elbow.S']],
  hand: [['bend', 'wrist.S']],
  thigh: [
    ['lean', 'thigh.S'],
    ['side', 'thigh.S'],
  ],
  shin: [
    ['bend', 'knee.S'],
    ['lean', 'shin.S'],
  ],
  foot: [
    ['pitch', 'foot.S'],
    ['height', 'foot.S'],
    ['ahead', 'foot.S'],
  ],
};
/** Tips of limbs are told by where they are before they are told by how they bend. */
const PLACED_FIRST: readonly string[] = ['hand', 'toe'];
const PLACES: readonly Quantity[] = ['height', 'ahead', 'shift'];

/**
 * Quantities that a point of a figure is asked for, the usual one first: of a hand its height, of a shin the bend of its knee; of the whole body its lean.
 * Only what the figure shows.
 *
 * @param point a joint's name; null for the whole body
 */
export function quantitiesAbout(shot: PreparedShot, point: string | null): QuantityOf[] {
  const role = point === null ? undefined : roleOf(shot, point);
  const [part, side] = (role ?? '').split('.') as [string, string | undefined];
  const own = (point === null ? BODY : (ABOUT[part] ?? [])).map(([quantity, of]): QuantityOf => ({
    quantity,
    of: side === undefined ? of : of.replace('.S', `.${side}`),
  }));
  const at = role ?? point;
  const places = at === null ? [] : PLACES.map((quantity): QuantityOf => ({ quantity, of: at }));
  const known = new Set(quantitiesOf(shot).map(({ quantity, of }) => `${quantity} ${of}`));
  const bend: QuantityOf[] = point !== null && known.has(`bend ${point}`) ? [{ quantity: 'bend', of: point }] : [];
  const all = PLACED_FIRST.includes(part) ? [...places, ...own, ...bend] : [...own, ...bend, ...places];
  return all.filter(
    ({ quantity, of }, k) =>
      all.findIndex((other) => other.quantity === quantity && other.of === of) === k &&
      typeof quantitySignal(shot, quantity, of) !== 'string',
  );
}

function roleOf({ motion, roles }: PreparedShot, point: string): string | undefined {
  const found = Object.entries(roles).find(([role, joint]) => {
    const isBody = !role.startsWith('chain:') && role !== 'master' && role !== 'camera';
    return isBody && motion.joints[joint!]?.name === point;
  });
  return found?.[0];
}
