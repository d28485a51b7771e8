/** Peaks of a sound a second, as it is drawn. */
export const PEAKS_PER_SECOND = 100;

/**
 * How loud a sound gets, stretch by stretch: its largest sample of each, whatever its sign, from 0 to 255.
 *
 * @param samples one channel, −1 to 1
 * @param rate samples a second
 */
export function soundPeaks(samples: Float32Array, rate: number): number[] {
  const count = Math.ceil((samples.length * PEAKS_PER_SECOND) / rate);
  return Array.from({ length: count }, (_, k) => {
    let most = 0;
    const to = Math.min(samples.length, Math.round(((k + 1) * rate) / PEAKS_PER_SECOND));
    for (let n = Math.round((k * rate) / PEAKS_PER_SECOND); n < to; n++) most = Math.max(most, Math.abs(samples[n]!));
    return Math.min(255, Math.round(255 * most));
  });
}
