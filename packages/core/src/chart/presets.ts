/** Spacings that can be asked for between two poses, by the trade's names. */
export const CHART_PRESETS = ['even', 'slow-out', 'slow-in', 'both', 'halves'] as const;
export type ChartPreset = (typeof CHART_PRESETS)[number];

const CURVES: Readonly<Record<Exclude<ChartPreset, 'halves'>, (u: number) => number>> = {
  even: (u) => u,
  'slow-out': (u) => u * u,
  'slow-in': (u) => u * (2 - u),
  both: (u) => u * u * (3 - 2 * u),
};

/**
 * A spacing as a timing chart: for every frame from one pose to the next how far it is on the way.
 *
 * `halves` is drawn as on paper: a middle, then the middle between it and the second pose, then the middle of that, as often as there are
 * frames; so it eases into the second pose.
 *
 * @param frames steps from the first pose to the second, 1 or more
 * @returns `frames + 1` fractions from 0 to 1
 * @example presetFractions('halves', 4) // [0, 0.5, 0.75, 0.875, 1]
 */
export function presetFractions(preset: ChartPreset, frames: number): number[] {
  const count = Math.max(1, Math.round(frames));
  if (preset !== 'halves') return Array.from({ length: count + 1 }, (_, k) => CURVES[preset](k / count));
  return Array.from({ length: count + 1 }, (_, k) => (k === count ? 1 : 1 - 0.5 ** k));
}
