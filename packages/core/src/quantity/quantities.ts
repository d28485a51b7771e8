/** Quantities: what an animator turns up or down of a body. */
export const QUANTITIES = [
  'lean',
  'side',
  'turn',
  'tilt',
  'pitch',
  'swing',
  'spread',
  'bend',
  'height',
  'shift',
  'ahead',
] as const;
export type Quantity = (typeof QUANTITIES)[number];

/** What is known of a quantity before it is measured. */
export interface QuantityKind {
  /** What people call it. */
  readonly name: string;
  readonly unit: '°' | '%L';
  /** Where it is 0, and what a value over 0 means. */
  readonly zero: string;
  readonly plus: string;
  /** A picture from the side does not show it: it lies across, or it is a turn about what is seen end on. */
  readonly unseen?: true;
  /** What of a body has it; a point's is any joint's. */
  readonly of: readonly string[] | 'points';
}

const both = (...names: string[]): string[] => names.flatMap((name) => [`${name}.L`, `${name}.R`]);
const LEANING = ['trunk', 'neck', 'head', ...both('thigh', 'shin')];

/**
 * Every quantity, with its unit and its sign. Angles are of directions in the figure's own forward, left and up at that frame (see `motion/way.ts`), so
 * that names, rest pose, axes and size of a rig make no difference; lengths are percent of leg length.
 */
export const QUANTITY_KINDS: Readonly<Record<Quantity, QuantityKind>> = Object.freeze({
  lean: { name: 'lean', unit: '°', zero: 'upright', plus: 'forward', of: LEANING },
  side: { name: 'lean to the side', unit: '°', zero: 'upright', plus: 'to the left', unseen: true, of: LEANING },
  turn: {
    name: 'turn',
    unit: '°',
    zero: 'facing the way it goes',
    plus: 'to the left',
    unseen: true,
    of: ['pelvis', 'chest', 'shoulders', 'head'],
  },
  tilt: { name: 'tilt', unit: '°', zero: 'level', plus: 'left side high', unseen: true, of: ['pelvis', 'shoulders'] },
  pitch: { name: 'pitch', unit: '°', zero: 'level', plus: 'head down, toes up', of: ['head', ...both('foot')] },
  swing: { name: 'swing', unit: '°', zero: 'hanging straight down', plus: 'forward', of: both('upperArm') },
  spread: {
    name: 'spread',
    unit: '°',
    zero: 'hanging straight down',
    plus: 'away from the body',
    unseen: true,
    of: both('upperArm'),
  },
  bend: {
    name: 'bend',
    unit: '°',
    zero: 'straight',
    plus: 'bent, under 0 the wrong way',
    of: [...both('elbow'), ...both('knee'), ...both('wrist')],
  },
  height: { name: 'height', unit: '%L', zero: 'on the ground', plus: 'up', of: 'points' },
  shift: {
    name: 'shift',
    unit: '%L',
    zero: 'under the middle of the hips',
    plus: 'to the left',
    unseen: true,
    of: 'points',
  },
  ahead: { name: 'way ahead', unit: '%L', zero: 'level with the middle of the hips', plus: 'forward', of: 'points' },
});
