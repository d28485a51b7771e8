/** Labels of the first and last frame of something that lasts. Its length is `to − from`. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

/** A measured value. Readings are plain values: drawn by charts, quoted by marks, compared between revisions. */
export interface Reading {
  /** Id of the measure, such as `arc.off`. */
  readonly id: string;
  /** The part, limb or joint it belongs to; left out where it is the whole body's. */
  readonly part?: string;
  readonly value: number | string | boolean;
  readonly unit: string;
  /** Labels of the frames it is about. */
  readonly frames?: readonly number[];
  /** What else is told of it: typed by the reading's own description. */
  readonly detail?: object;
  readonly note?: string;
  /** The shot’s own camera never sees what it is about. */
  readonly outOfPicture?: true;
}

/** A measure that could not be made, and why, in words a person understands. */
export interface Unmade {
  readonly id: string;
  readonly part?: string;
  readonly why: string;
  /** Such a shot has nothing that it could be wrong in: nobody waits for it. */
  readonly notAsked?: true;
}

export interface Measured {
  readonly readings: readonly Reading[];
  readonly unmade: readonly Unmade[];
  /** What had to be assumed, in words. */
  readonly warnings?: readonly string[];
}

export const made = (...readings: Reading[]): Measured => ({ readings, unmade: [] });

/** The one way to refuse: every one of these readings is unmade, for one reason. */
export const refuse = (kinds: readonly { readonly id: string }[], why: string, part?: string): Measured => ({
  readings: [],
  unmade: kinds.map(({ id }) => (part === undefined ? { id, why } : { id, part, why })),
});

/** Refuses what such a shot can't be wrong in: nothing waits to be judged. */
export function notAsked(kinds: readonly { readonly id: string }[], why: string, part?: string): Measured {
  const { unmade } = refuse(kinds, why, part);
  return { readings: [], unmade: unmade.map((one) => ({ ...one, notAsked: true })) };
}

/** Several results as one, in order. */
export const together = (...results: Measured[]): Measured => ({
  readings: results.flatMap((result) => result.readings),
  unmade: results.flatMap((result) => result.unmade),
  warnings: [...new Set(results.flatMap((result) => result.warnings ?? []))],
});

/** A number with at most four decimals: readings are written into files and compared. */
export const roundTo4 = (value: number): number => Math.round(value * 1e4) / 1e4 + 0; // + 0: no minus zero
