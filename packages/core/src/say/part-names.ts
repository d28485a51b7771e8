const LIMBS: Readonly<Record<string, string>> = {
  leg: 'leg',
  arm: 'arm',
  hand: 'hand',
  foot: 'foot',
  toe: 'toe',
  shin: 'shin',
  thigh: 'thigh',
  clavicle: 'collar bone',
  upperArm: 'upper arm',
  foreArm: 'forearm',
};

/** A part or role in words: “the left hand”, “the hips”, “the strap”; a joint’s name stays in quotation marks. */
export function partName(part: string | undefined): string {
  if (part === undefined) return 'the body';
  const [word, side] = part.split('.') as [string, string | undefined];
  const limb = LIMBS[word];
  if (limb && (side === 'L' || side === 'R')) return `the ${side === 'L' ? 'left' : 'right'} ${limb}`;
  if (['hips', 'spine', 'chest', 'neck', 'head', 'master', 'camera'].includes(part)) return `the ${part}`;
  return part.startsWith('chain:') ? `the ${part.slice(6)}` : `“${part}”`;
}

/** The foot of a leg: feet land and slide, legs don’t. */
export const footName = (part: string | undefined): string => partName(part?.replace(/^leg\./, 'foot.'));
