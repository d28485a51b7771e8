const LIMBS: Readonly<Record<string, string>> = {
  leg: 'leg',
  arm: 'arm',
  hand: 'hand',
  foot: 'foot',
  toe: 'toe',
  shin: 'shin',
  thigh: 'thigh',
  clavicle: 'collar bone',
  shoulder: 'shoulder',
  upperArm: 'upper arm',
  foreArm: 'forearm',
  elbow: 'elbow',
  knee: 'knee',
  wrist: 'wrist',
};

/** Parts on the middle line that are called by their own word. */
const CENTRE = ['hips', 'spine', 'chest', 'neck', 'head', 'master', 'camera', 'trunk', 'pelvis', 'shoulders', 'sound'];

/** What a part or role is called, and whether that is a word of the trade or a joint's own name. */
function named(part: string | undefined): { readonly name: string; readonly ofJoint?: true } {
  if (part === undefined) return { name: 'body' };
  const [word, side] = part.split('.') as [string, string | undefined];
  const limb = LIMBS[word];
  if (limb && (side === 'L' || side === 'R')) return { name: `${side === 'L' ? 'left' : 'right'} ${limb}` };
  if (CENTRE.includes(part)) return { name: part };
  return part.startsWith('chain:') ? { name: part.slice(6) } : { name: part, ofJoint: true };
}

/** A part or role in a sentence: “the left hand”, “the hips”, “the strap”; a joint’s name stays in quotation marks. */
export function partName(part: string | undefined): string {
  const { name, ofJoint } = named(part);
  return ofJoint ? `“${name}”` : `the ${name}`;
}

/** The same as a label: “left hand”, “hips”, “strap”, “forearm” of both sides, and a joint’s name as it is. */
export const partLabel = (part: string | undefined): string => LIMBS[part ?? ''] ?? named(part).name;

/** The foot of a leg: feet land and slide, legs don’t. */
export const footName = (part: string | undefined): string => partName(part?.replace(/^leg\./, 'foot.'));

const MANY = ['the hips', 'the shoulders'];

/** A part as a subject with its verb in the right number: “the hips go”, “the head goes”. */
export const does = (part: string, one: string, many: string): string => `${part} ${MANY.includes(part) ? many : one}`;
