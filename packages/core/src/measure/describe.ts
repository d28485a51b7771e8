import type { BodyGroup } from '../motion/regions.ts';
import type { Kind } from '../motion/kinds.ts';
import type { Quantity } from '../quantity/quantities.ts';
import type { BodyTopic } from '../trade/body-topics.ts';
import type { MarkKind } from '../trade/mark-kinds.ts';
import type { Reading } from './reading.ts';

/** What a gauge has said of a reading: sentences are told, and never judge. */
export interface Told {
  readonly judgement: 'inside' | 'near' | 'outside';
  /** −1 under the band, 1 over it, 0 within it or where there is no band. */
  readonly side: -1 | 0 | 1;
}

type Value = Reading['value'];

/** A reading with its value and detail as its description types them. */
export type ReadingOf<V extends Value, D extends object> = Omit<Reading, 'value' | 'detail'> & {
  readonly value: V;
  readonly detail: D;
};

/** The types of a reading's value and detail, for the compiler alone. */
export interface Holds<V extends Value, D extends object> {
  readonly value?: V;
  readonly detail?: D;
}

/** What a reading holds: `holding<number, { from: number; to: number }>()`. */
export const holding = <V extends Value, D extends object = Record<never, never>>(): Holds<V, D> => ({});

/** When a reading that is not inside its band explains another one: always, of its own part, of its own part where their frames meet, or by a rule of its own. */
export type Explains =
  'always' | 'of the same part' | 'of the same part and frames' | ((cause: Reading, effect: Reading) => boolean);

/** A number in a reading's detail that a gauge may judge. */
export interface DetailNumber {
  readonly name: string;
  readonly unit: string;
  readonly sign?: string;
  /** The reading as a sentence where this number is not inside its band. */
  readonly say: (reading: Reading, part: string) => string;
}

/** All that is known of a reading before it is made. */
export interface Description<Id extends string, V extends Value, D extends object> {
  readonly id: Id;
  readonly holds: Holds<V, D>;
  /** What people call it. */
  readonly name: string;
  readonly unit: string;
  /** What a value over 0 means, where it may be under 0 as well. */
  readonly sign?: string;
  /** What a shot must have for it, in words. */
  readonly needs: string;
  /** Kinds of exercise it is made for; none: only when it is asked for. */
  readonly kinds: readonly Kind[];
  /** Its value is a length of time in frames, so that a band on it is one of 24 fps and scales with the shot's rate. */
  readonly time?: true;
  /** Its value is a frame's label, not a length of time. */
  readonly isLabel?: true;
  /** It only says how big something is: nothing that a table of what was found would list. */
  readonly isSize?: true;
  /** It can be told from single poses or pairs of them, and so also where poses are held. */
  readonly fromPoses?: true;
  /** It is told once of the shot, and not of each character in it. */
  readonly ofShot?: true;
  /** Why points on pictures can't tell it: they lie in a plane, do not turn, or a chain's last has no line of its own. */
  readonly unseen?: 'depth' | 'own turn' | 'end of the chain';
  /** Kind of mark it becomes when it is taken. */
  readonly mark: MarkKind;
  /** Role of the joint that shows it, where its part does not say. */
  readonly shows?: string;
  /** Where a teacher who goes through a body comes to it, where its family and its part do not say so. */
  readonly about?: BodyTopic;
  /** What of the figure it is about, where neither its part nor the joint that shows it says so. */
  readonly region?: BodyGroup;
  /** The quantity it tells the size of, for showing it over the frames: of which part, by the reading's own. */
  readonly quantity?: {
    readonly quantity: Quantity;
    readonly of: (part: string | undefined) => string;
    /** What of it the reading tells over its frames; how far it goes where it is left out. */
    readonly amount?: 'mean';
  };
  /** What of its part it is about, where no quantity says so. */
  readonly tells?: (part: string) => string;
  /** The key pose that stands at its frame. */
  readonly keyPose?: string;
  /** Values it may have, of a reading that is words. */
  readonly values?: readonly string[];
  /** What yes and what no says, of a reading that is one of the two. */
  readonly yesOrNo?: readonly [yes: string, no: string];
  /** Numbers in its detail that a gauge may judge. */
  readonly numbers?: Readonly<Record<string, DetailNumber>>;
  /** The number of each link in its detail that a gauge may judge, in the reading's own unit. */
  readonly ofLink?: 'lag' | 'likeness';
  /** Flags in its detail that a gauge may leave out, and what they say. */
  readonly flags?: Readonly<Record<string, string>>;
  /** Readings it explains, by id. */
  readonly explains?: Readonly<Record<string, Explains>>;
  /** What else throws it: a loop that is cut, anywhere in the shot or where it is read across the seam; a frame out of place, where they meet. */
  readonly thrownBy?: { readonly cutLoop?: 'anywhere' | 'there'; readonly strayFrame?: true };
  /**
   * The reading as a sentence without a full stop.
   * @param part its part in words, “the left hand”; “the body” where it has none
   * @param told what its gauge says; undefined where none holds it
   */
  readonly say: (reading: ReadingOf<V, D>, part: string, told: Told | undefined) => string;
  /** What to do by hand where no remedy puts it right: a whole sentence. */
  readonly byHand?: (reading: ReadingOf<V, D>) => string;
}

/** A described reading: how one is made and found, and everything that is known of it in general. */
export interface ReadingKind<
  Id extends string = string,
  V extends Value = Value,
  D extends object = object,
> extends Description<Id, V, D> {
  /** A reading of this id, in its unit. */
  of(
    value: V,
    more?: Omit<Reading, 'id' | 'value' | 'unit' | 'detail'> & { readonly detail?: D; unit?: string },
  ): Reading;
  /** Those of several readings that are of this id, with their value and detail as they are described. */
  among(readings: readonly Reading[]): ReadingOf<V, D>[];
}

/**
 * Describes a reading once: the registry, the catalogue, gauges, findings, marks, charts and sentences all read this.
 *
 * @example
 * const BOB = describeReading({ id: 'gait.bob', holds: holding<number>(), name: 'up and down of the hips', unit: '%L', … });
 * BOB.of(4.2) // { id: 'gait.bob', value: 4.2, unit: '%L' }
 * BOB.among(report.readings)[0]?.value // a number
 */
export function describeReading<const Id extends string, V extends Value, D extends object>(
  description: Description<Id, V, D>,
): ReadingKind<Id, V, D> {
  return Object.freeze({
    ...description,
    of: (value: V, { unit = description.unit, ...more }: Parameters<ReadingKind<Id, V, D>['of']>[1] = {}): Reading => {
      const { part, ...rest } = more;
      return { id: description.id, ...(part !== undefined && { part }), value, unit, ...rest };
    },
    // Only `of` makes readings of this id, so that they hold what is described.
    among: (readings: readonly Reading[]) => readings.filter(({ id }) => id === description.id) as ReadingOf<V, D>[],
  });
}

/** Descriptions of different values and details in one list. */
// A sentence takes its own reading's type; a list of several can only be called through `sayReading`, which finds it by its id.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyReadingKind = ReadingKind<string, any, any>;
