import { alignPictures, type PictureShow } from './align-pictures.ts';
import { type Alignment, alignShots } from './frame-map.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';

/** Roles that points on pictures need, to tell where in a motion they are. */
const ROLES_THAT_TELL = 4;

/** By what two shots are laid on one axis. */
export type ComparableBy = 'poses' | 'points' | 'pictures';

/** A shot as far as it can be held against another. */
export interface Comparable {
  /** Its figure: of pictures that which its points make. */
  readonly shot?: Pick<PreparedShot, 'roles'> | undefined;
  /** It was seen from one side only. */
  readonly flat: boolean;
  readonly hasPictures: boolean;
}

/** By what two shots can be aligned: by their poses, by points that make a body, or by what their pictures look like; undefined where by nothing. */
export function comparableBy(a: Comparable, b: Comparable): ComparableBy | undefined {
  const tells = ({ shot, flat }: Comparable): boolean =>
    shot !== undefined && (!flat || Object.keys(shot.roles).length >= ROLES_THAT_TELL);
  if (tells(a) && tells(b)) return a.flat || b.flat ? 'points' : 'poses';
  return a.hasPictures && b.hasPictures ? 'pictures' : undefined;
}

/** Why two shots can't be aligned that have nothing to be held against each other by. */
export const NOTHING_IN_COMMON = 'a motion and pictures without points have nothing in common';

/** A shot to be aligned. Its pictures are asked for where they are needed. */
export interface Alignable extends Comparable {
  readonly shot?: PreparedShot | undefined;
  pictures(): Promise<PictureShow>;
}

/** Aligns two shots by whatever they have in common; see {@link comparableBy}. */
export async function alignAny(a: Alignable, b: Alignable): Promise<Alignment | string> {
  const by = comparableBy(a, b);
  if (by === undefined) return NOTHING_IN_COMMON;
  return by === 'pictures' ? alignPictures(await a.pictures(), await b.pictures()) : alignShots(a.shot!, b.shot!);
}
