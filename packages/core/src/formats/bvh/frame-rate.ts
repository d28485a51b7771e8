/** Rates in common use, tried first when a frame time was rounded. */
const USUAL = [24, 30, 12, 25, 60, 15, 48, 50, 90, 100, 120, 200, 240];

/**
 * Frames a second from a frame time as it is written. “0.0417” means 24, not 23.98: a usual rate, or else a whole one, is taken
 * where the time is that rate's to the digits written, so 24000/1001 written with six digits stays what it is.
 *
 * @param text the frame time in seconds, as written in the file
 * @example frameRate('0.0333333') // 30
 */
export function frameRate(text: string): number {
  const time = Number(text);
  const [mantissa = '', exponent = '0'] = text.toLowerCase().split('e');
  const decimals = (mantissa.split('.')[1] ?? '').length - Number(exponent);
  const rounding = 0.5001 * 10 ** -decimals;
  const fits = (rate: number): boolean => Math.abs(1 / rate - time) <= rounding;
  const whole = Math.round(1 / time);
  const usual = USUAL.filter((rate) => Math.abs(rate - 1 / time) < 0.02 * rate).find(fits);
  return usual ?? (whole > 0 && fits(whole) ? whole : 1 / time);
}
