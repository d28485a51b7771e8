import type { Told } from './describe.ts';
import { withoutCharacter, splitCharacter } from './characters.ts';
import type { Reading } from './reading.ts';
import { readingKind } from './registry.ts';
import { partName } from '../say/part-names.ts';

/**
 * A reading as a sentence without a full stop, such as “the left hand leaves its arc at frame 9”.
 *
 * @param told what its gauge says of it: the sentence follows that and never judges by itself
 */
export function sayReading(reading: Reading, told?: Told): string {
  const { character } = splitCharacter(reading.part);
  // Of several characters it is said whose it is, and then as of one.
  if (character !== undefined) return `“${character}”: ${sayReading(withoutCharacter(reading), told)}`;
  const kind = readingKind(reading.id);
  if (!kind) return `${reading.id}: ${String(reading.value)} ${reading.unit}`;
  return kind.say({ ...reading, detail: reading.detail ?? {} }, partName(reading.part), told);
}

/** What to do by hand about a reading that no remedy puts right; undefined where nothing is known. */
export const sayByHand = (reading: Reading): string | undefined =>
  readingKind(reading.id)?.byHand?.({ ...reading, detail: reading.detail ?? {} });
