/** What the neighbours of a sample weigh in its prediction, the nearest first, alike on both sides. */
export type NeighbourWeights = readonly number[];

/** `P̂[i] = (−P[i−2] + 4P[i−1] + 4P[i+1] − P[i+2]) / 6`: exact for a cubic that is sampled evenly. */
export const CUBIC_WEIGHTS = [4 / 6, -1 / 6] as const;

/** Exact up to the fifth power: three neighbours on each side. */
export const QUINTIC_WEIGHTS = [15 / 20, -6 / 20, 1 / 20] as const;

/** The four neighbours of a cubic's prediction: how far each lies from the sample, and what it weighs. */
export const CUBIC_NEIGHBOURS = [
  [-2, CUBIC_WEIGHTS[1]],
  [-1, CUBIC_WEIGHTS[0]],
  [1, CUBIC_WEIGHTS[0]],
  [2, CUBIC_WEIGHTS[1]],
] as const;

/** What a cubic through its four neighbours predicts for a sample, from the two before it and the two after it. */
export const predicted = (before2: number, before1: number, after1: number, after2: number): number =>
  CUBIC_WEIGHTS[0] * (before1 + after1) + CUBIC_WEIGHTS[1] * (before2 + after2);
