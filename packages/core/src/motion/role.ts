import type { Side } from './joint-names.ts';

export const CENTRE_ROLES = ['hips', 'spine', 'chest', 'neck', 'head'] as const;
const SIDED_ROLES = ['clavicle', 'upperArm', 'foreArm', 'hand', 'thigh', 'shin', 'foot', 'toe'] as const;

export type CentreRole = (typeof CENTRE_ROLES)[number];
export type SidedRole = (typeof SIDED_ROLES)[number];
export type Role = CentreRole | `${SidedRole}.${Side}` | 'master' | 'camera' | `chain:${string}`;

/** Joint index by role. A `chain:*` role names the first joint of its chain. */
export type Roles = Partial<Record<Role, number>>;

/** All roles a figure can have one of, in the order they are shown. */
export const FIGURE_ROLES: readonly Role[] = [
  ...CENTRE_ROLES,
  ...SIDED_ROLES.flatMap((role): Role[] => [`${role}.L`, `${role}.R`]),
  'master',
  'camera',
];
