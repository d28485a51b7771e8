import { namesWithin } from './point-groups.ts';
import { nameParts } from '../motion/joint-names.ts';
import type { CentreRole, Role, SidedRole } from '../motion/role.ts';

/** What people call a point on the body, beside the name of its role: the joint that is seen there. */
const CENTRE_POINTS: Readonly<Record<string, CentreRole>> = {
  hips: 'hips',
  hip: 'hips',
  pelvis: 'hips',
  body: 'hips',
  spine: 'spine',
  waist: 'spine',
  chest: 'chest',
  neck: 'neck',
  head: 'head',
  nose: 'head',
};
const SIDED_POINTS: Readonly<Record<string, SidedRole>> = {
  clavicle: 'clavicle',
  shoulder: 'upperArm',
  upperarm: 'upperArm',
  elbow: 'foreArm',
  forearm: 'foreArm',
  wrist: 'hand',
  hand: 'hand',
  hip: 'thigh',
  thigh: 'thigh',
  knee: 'shin',
  shin: 'shin',
  ankle: 'foot',
  foot: 'foot',
  toe: 'toe',
  toes: 'toe',
  ball: 'toe',
};

/**
 * The roles of points by their names: a point named as a role has that role, and so has one named as what is seen there (ankle, knee, wrist),
 * with its side as `.L`, `left`, `L_`. Of two characters (`pilot: hips`, `keeper: hips`) the first is the figure. Of two that fit the first is taken; a side that nothing tells is none.
 *
 * @returns role → index of the point
 */
export function pointRoles(names: readonly string[]): Partial<Record<Role, number>> {
  const roles: Partial<Record<Role, number>> = {};
  const parts = nameParts(namesWithin(names));
  const hasHead = parts.some(({ word, side }) => word === 'head' && side === undefined);
  parts.forEach(({ word, side }, k) => {
    // Beside a head the nose is what shows where it faces.
    if (hasHead && word === 'nose') return;
    const sided = side && SIDED_POINTS[word];
    const role: Role | undefined = sided ? `${sided}.${side}` : side ? undefined : CENTRE_POINTS[word];
    if (role !== undefined && roles[role] === undefined) roles[role] = k;
  });
  return roles;
}
