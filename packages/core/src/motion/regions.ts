/** A region of the body: one limb has two. */
export type Region = 'hips' | 'trunk' | 'head' | `${'arm' | 'leg'}.${'L' | 'R'}`;

/** What of a figure is worked on together, in the order one works: the body first, then the legs, then what hangs on them. */
export const BODY_GROUPS = [
  'the whole figure',
  'body',
  'legs and feet',
  'arms and hands',
  'head',
  'what drags',
] as const;
export type BodyGroup = (typeof BODY_GROUPS)[number];

const LIMBS: Readonly<Record<'arm' | 'leg', readonly string[]>> = {
  arm: ['arm', 'clavicle', 'upperArm', 'foreArm', 'hand'],
  leg: ['leg', 'thigh', 'shin', 'foot', 'toe'],
};

const CENTRE: Readonly<Record<string, Region>> = {
  hips: 'hips',
  spine: 'trunk',
  chest: 'trunk',
  neck: 'head',
  head: 'head',
};

/**
 * The region of the body that a part or a role belongs to; undefined for what may hang anywhere, and for the whole body.
 *
 * @example regionOf('foreArm.L') // 'arm.L'
 * @example regionOf('chain:strap') // undefined
 */
export function regionOf(name: string): Region | undefined {
  const [word, side] = name.split('.');
  if (side === 'L' || side === 'R')
    for (const limb of ['arm', 'leg'] as const) if (LIMBS[limb].includes(word!)) return `${limb}.${side}`;
  return CENTRE[name];
}

/** The group of the body that a part or a role belongs to; undefined where its name does not say. */
export function bodyGroupOf(name: string): BodyGroup | undefined {
  if (name.startsWith('chain')) return 'what drags';
  if (name === 'master' || name === 'body') return 'body';
  const region = regionOf(name);
  if (region === undefined) return undefined;
  if (region === 'head') return 'head';
  return region.startsWith('leg') ? 'legs and feet' : region.startsWith('arm') ? 'arms and hands' : 'body';
}
