import { CHART_PRESETS, type ChartPreset, presetFractions } from '../chart/presets.ts';

/** A spacing of its own as a recipe spells it: how far each frame between the two poses is on the way. @example asChart([0, 0.3, 0.8, 1]) // '0.3000+0.8000' */
export const asChart = (fractions: readonly number[]): string =>
  fractions
    .slice(1, -1)
    .map((own) => Math.min(1, Math.max(0, own)).toFixed(4))
    .join('+');

/**
 * How far each frame is on the way, both poses with it, of a chart that a recipe spells.
 *
 * @param steps frames from the one pose to the other
 * @returns undefined where it has another number of frames, or is the shot's own, smoothed
 * @example chartFractions('0.3+0.8', 3) // [0, 0.3, 0.8, 1]
 */
export function chartFractions(chart: string, steps: number): number[] | undefined {
  if ((CHART_PRESETS as readonly string[]).includes(chart)) return presetFractions(chart as ChartPreset, steps);
  const given = chart.split('+').map(Number);
  const whole = given.length === steps + 1 ? given : [0, ...given, 1];
  return whole.length === steps + 1 && whole.every(Number.isFinite) ? whole : undefined;
}
