import type { Kind } from '../motion/kinds.ts';
import type { Reading } from './reading.ts';

/** Kinds of mark a reading can become; `note` is words alone. */
export type MarkedAs = 'timing' | 'spacing' | 'arc' | 'breakdown' | 'overshoot' | 'moving hold' | 'note';

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

/** All that is known of a reading before it is made. */
export interface Description<V extends Value, D extends object> {
  readonly id: string;
  readonly unit: string;
  /** What a shot must have for it, in words. */
  readonly needs: string;
  /** Kinds of exercise it is made for; none: only when it is asked for. */
  readonly kinds: readonly Kind[];
  /** Its value is a length of time in frames, so that a band on it is one of 24 fps and scales with the shot's rate. */
  readonly time?: true;
  /** Its value is a frame's label, not a length of time. */
  readonly isLabel?: true;
  /** It can be told from single poses or pairs of them, and so also where poses are held. */
  readonly fromPoses?: true;
  /** Kind of mark it becomes when it is taken. */
  readonly mark: MarkedAs;
  /** Role of the joint that shows it, where its part does not say. */
  readonly shows?: string;
  /**
   * The reading as a sentence without a full stop.
   * @param part its part in words, “the left hand”; “the body” where it has none
   * @param told what its gauge says; undefined where none holds it
   */
  readonly say: (reading: ReadingOf<V, D>, part: string, told: Told | undefined) => string;
}

/** A described reading: how one is made, and everything that is told of it in general. */
export interface ReadingKind<V extends Value = Value, D extends object = object> extends Description<V, D> {
  /** A reading of this id, in its unit. */
  of(
    value: V,
    more?: Omit<Reading, 'id' | 'value' | 'unit' | 'detail'> & { readonly detail?: D; unit?: string },
  ): Reading;
}

/**
 * Describes a reading once: the registry, the catalogue, gauges, marks and sentences all read this.
 *
 * @example
 * const BOB = describeReading<number, Ends>({ id: 'gait.bob', unit: '%L', …, say: ({ value }) => `the hips … by ${leg(value)}` });
 * BOB.of(4.2) // { id: 'gait.bob', value: 4.2, unit: '%L' }
 */
export function describeReading<V extends Value, D extends object = Record<never, never>>(
  description: Description<V, D>,
): ReadingKind<V, D> {
  return Object.freeze({
    ...description,
    of: (value: V, { unit = description.unit, ...more }: Parameters<ReadingKind<V, D>['of']>[1] = {}): Reading => {
      const { part, ...rest } = more;
      return { id: description.id, ...(part !== undefined && { part }), value, unit, ...rest };
    },
  });
}

/** Descriptions of different values and details in one list. */
// A sentence takes its own reading's type; a list of several can only be called through `sayReading`, which finds it by its id.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyReadingKind = ReadingKind<any, any>;
