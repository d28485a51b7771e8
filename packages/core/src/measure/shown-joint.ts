import { partOf, splitCharacter } from './characters.ts';
import type { Reading } from './reading.ts';
import { readingKind } from './registry.ts';

/** The joint that shows a limb best: its tip. */
const TIP_ROLES: Readonly<Record<string, string>> = {
  'leg.L': 'foot.L',
  'leg.R': 'foot.R',
  'arm.L': 'hand.L',
  'arm.R': 'hand.R',
  spine: 'chest',
};

/**
 * The joint that shows a reading, by name; undefined where it is the whole body's.
 *
 * @param roles names of joints by role, as a report has them
 */
export function shownJoint({ id, part: whole, detail }: Reading, roles: Readonly<Record<string, string>>) {
  const named = (detail as { joint?: string } | undefined)?.joint;
  if (named !== undefined) return named;
  const { character, part } = splitCharacter(whole);
  const role = part === undefined ? readingKind(id)?.shows : (TIP_ROLES[part] ?? part);
  if (role === undefined) return undefined;
  return roles[character === undefined ? role : partOf(character, role)];
}
