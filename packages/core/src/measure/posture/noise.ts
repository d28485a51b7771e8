import { sampled } from '../../signal/sampled.ts';
import { mean } from '../../signal/statistics.ts';

export const NOISE_DEFAULTS = Object.freeze({
  /** Told from stretches of so many samples; one frame out of place lies in two of them at most. */
  stretch: 6,
  /** Of the stretches, sorted by how much each trembles, the one at this share counts: it must tremble nearly everywhere. */
  at: 0.25,
  /** What it usually is counts up to so many times (in variance) what it is there. */
  alike: 4,
  /** So large a share of the samples must turn round, by more than what this standard deviation would make; more where poses are held, since there a fast move turns round as well. */
  turning: 0.55,
  turningHeld: 0.75,
  least: 0.25,
});

/** The fourth differences (1, −4, 6, −4, 1) of white noise, one beside the next: Σ hₖ·hₖ₊₁ times its variance. */
const BESIDE = -56;
/** A quaternion moves by half of what it turns, in radians. */
const DEGREES = 360 / Math.PI;

/**
 * How much a rotation trembles without a pattern: standard deviation of what is new at every sample, degrees over all axes. A smooth
 * motion's fourth differences go on from sample to sample; those of noise turn round, which tells it however far the motion goes.
 *
 * @param rotations 4 numbers a sample, each on the side of the one before: a quaternion moves by half of what it turns
 * @param wraps whether the last sample is followed by the first
 * @param held whether each sample stands for several frames
 * @example noiseOf(ofASmoothTurn, true, false) // 0
 */
export function noiseOf(rotations: readonly Float64Array[], wraps: boolean, held: boolean): number {
  const samples = rotations[0]!.length;
  const count = wraps ? samples : samples - 5;
  if (count < 2 * NOISE_DEFAULTS.stretch) return 0;
  const fourths = rotations.map((values) => {
    const at = (s: number): number => values[s < samples ? s : s - samples]!;
    return sampled(count + 1, (s) => DEGREES * (at(s) - 4 * at(s + 1) + 6 * at(s + 2) - 4 * at(s + 3) + at(s + 4)));
  });
  const beside = sampled(count, (s) => fourths.reduce((sum, own) => sum + own[s]! * own[s + 1]!, 0));
  const { turning, turningHeld, least } = NOISE_DEFAULTS;
  const turns = beside.filter((product) => product < BESIDE * least ** 2).length;
  if (turns < (held ? turningHeld : turning) * count) return 0;
  const stretches = Math.floor(count / NOISE_DEFAULTS.stretch);
  const each = sampled(
    stretches,
    (k) =>
      mean(beside.subarray(Math.floor((k * count) / stretches), Math.floor(((k + 1) * count) / stretches))) / BESIDE,
  ).sort();
  const [calm, usual] = [NOISE_DEFAULTS.at, 0.5].map((share) => each[Math.floor(share * stretches)]!) as [
    number,
    number,
  ];
  return Math.sqrt(Math.max(0, Math.min(usual, NOISE_DEFAULTS.alike * calm)));
}
