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
  readonly detail?: Readonly<Record<string, unknown>>;
  readonly note?: string;
}

/** A measure that could not be made, and why, in words a person understands. */
export interface Unmade {
  readonly id: string;
  readonly part?: string;
  readonly why: string;
}

export interface Measured {
  readonly readings: readonly Reading[];
  readonly unmade: readonly Unmade[];
}

export const unmade = (id: string, why: string, part?: string): Measured => ({
  readings: [],
  unmade: [part === undefined ? { id, why } : { id, part, why }],
});

export const made = (...readings: Reading[]): Measured => ({ readings, unmade: [] });

/** Several results as one, in order. */
export const together = (...results: Measured[]): Measured => ({
  readings: results.flatMap((result) => result.readings),
  unmade: results.flatMap((result) => result.unmade),
});

/** A number with at most four decimals: readings are written into files and compared. */
export const tidy = (value: number): number => Math.round(value * 1e4) / 1e4 + 0; // + 0: no minus zero
