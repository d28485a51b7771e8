/** What stands for the whole of a character where a reading of it has no part. */
const BODY = 'body';

/** Whose a part is, and which of theirs. */
export interface CharacterPart {
  /** Undefined of the one figure, or the first of several. */
  readonly character: string | undefined;
  /** Undefined where it is the whole body's. */
  readonly part: string | undefined;
}

/**
 * Of several characters in one shot the readings of all but the first say whose they are in their part.
 *
 * @example splitCharacter('pilot: leg.L') // { character: 'pilot', part: 'leg.L' }
 * @example splitCharacter('pilot: body') // { character: 'pilot', part: undefined }
 * @example splitCharacter('chain:strap') // { character: undefined, part: 'chain:strap' }
 */
export function splitCharacter(part: string | undefined): CharacterPart {
  const at = part?.indexOf(': ') ?? -1;
  if (part === undefined || at < 1) return { character: undefined, part };
  const own = part.slice(at + 2);
  return { character: part.slice(0, at), part: own === BODY ? undefined : own };
}

/** The way back of {@link splitCharacter}: a part of a character that is not the first. What says so already stays. */
export const partOf = (character: string, part: string | undefined): string =>
  part !== undefined && splitCharacter(part).character === character ? part : `${character}: ${part ?? BODY}`;

/** A reading, or what stands for one, as it would be told of the character alone. */
export function withoutCharacter<T extends { readonly part?: string }>(reading: T): T {
  const { character, part } = splitCharacter(reading.part);
  if (character === undefined) return reading;
  const { part: _, ...rest } = reading;
  return (part === undefined ? rest : { ...rest, part }) as T;
}
