import FFT from 'fft.js';
import { largestOf } from '../signal/statistics.ts';

/** How onsets are found: times in seconds, shares of what the whole sound has. */
export const ONSET_DEFAULTS = Object.freeze({
  /** Each spectrum is of so long a stretch, and begins so long after the one before. */
  window: 0.032,
  hop: 0.01,
  /** Magnitudes are taken as log(1 + `loudness` · m), m as a share of the largest: what is quiet counts too, and noise far below it does not. */
  loudness: 1000,
  /** A rise is an onset where none this near to it is greater … */
  alone: 0.03,
  /** … and it lies this far above the mean of those around it: as a share of the greatest rise of the sound. */
  above: 0.1,
  before: 0.1,
  after: 0.07,
  /** Two onsets are at least this far apart. */
  apart: 0.05,
  /** For so long, soon after, what has begun is no quieter than a share of what was there before, and of the loudest there is: what ends begins nothing. */
  goesOn: 0.03,
  ofBefore: 0.7,
  ofLoudest: 0.03,
  /** The beginning itself is where the energy of stretches this short rises most. */
  fine: 0.002,
});

/**
 * Where something begins to sound, by the rise of its spectrum from one moment to the next (*spectral flux*: J. P. Bello and others, “A Tutorial on
 * Onset Detection in Music Signals”, 2005; the peaks chosen as S. Böck, F. Krebs and M. Schedl do, “Evaluating the Online Capabilities of Onset
 * Detection Methods”, 2012; thresholds from memory, tried on made sounds), then put where the energy itself rises.
 *
 * @param samples one channel, −1 to 1
 * @param rate samples a second
 * @returns seconds from the first sample, in order
 */
export function soundOnsets(samples: Float32Array, rate: number): number[] {
  const { window, hop, alone, above, before, after, apart } = ONSET_DEFAULTS;
  const step = Math.round(hop * rate);
  const flux = spectralFlux(samples, rate, step);
  const most = largestOf(flux);
  if (!(most > 0)) return [];
  const spans = [alone, before, after].map((seconds) => Math.max(1, Math.round(seconds / hop)));
  const [near, back, ahead] = spans as [number, number, number];
  const loudness = loudnessOf(samples, Math.round(ONSET_DEFAULTS.goesOn * rate));
  const onsets: number[] = [];
  flux.forEach((rise, k) => {
    const around = flux.subarray(Math.max(0, k - back), k + ahead + 1);
    const mean = around.reduce((sum, own) => sum + own, 0) / around.length;
    if (rise < mean + above * most) return;
    if (rise < largestOf(flux.subarray(Math.max(0, k - near), k + near + 1))) return;
    const at = steepest(samples, rate, k * step - (window * rate) / 2, k * step + (window * rate) / 2);
    if (at - (onsets.at(-1) ?? -Infinity) >= apart && loudness.begins(Math.round(at * rate))) onsets.push(at);
  });
  return onsets;
}

/** How much louder each band is than a step before, all of them together; what becomes quieter counts for nothing. Each about sample k · step. */
function spectralFlux(samples: Float32Array, rate: number, step: number): Float64Array {
  const size = 2 ** Math.ceil(Math.log2(ONSET_DEFAULTS.window * rate));
  const fft = new FFT(size);
  const hann = Float64Array.from({ length: size }, (_, n) => 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / size));
  const [windowed, spectrum] = [new Array<number>(size), fft.createComplexArray()];
  const count = Math.ceil(samples.length / step);
  const magnitudes: Float64Array[] = [];
  let loudest = 0;
  // The first is of the silence before it: what sounds from its first sample on begins there.
  for (let k = -1; k < count; k++) {
    const from = k < 0 ? -size : k * step - size / 2;
    for (let n = 0; n < size; n++) windowed[n] = hann[n]! * (samples[from + n] ?? 0);
    fft.realTransform(spectrum, windowed);
    const own = Float64Array.from({ length: size / 2 }, (_, b) =>
      Math.hypot(spectrum[2 * b] as number, spectrum[2 * b + 1] as number),
    );
    loudest = Math.max(loudest, largestOf(own));
    magnitudes.push(own);
  }
  if (loudest === 0) return new Float64Array(count);
  for (const own of magnitudes)
    own.forEach((value, b) => (own[b] = Math.log1p((ONSET_DEFAULTS.loudness * value) / loudest)));
  return Float64Array.from({ length: count }, (_, k) =>
    magnitudes[k + 1]!.reduce((sum, value, b) => sum + Math.max(0, value - magnitudes[k]![b]!), 0),
  );
}

/** How loud a sound is over so many samples; whether something loud enough goes on from one of them. */
function loudnessOf(samples: Float32Array, length: number): { begins(at: number): boolean } {
  const energy = (from: number): number => {
    let sum = 0;
    for (let n = Math.max(0, from); n < Math.min(samples.length, from + length); n++) sum += samples[n]! ** 2;
    return sum;
  };
  let loudest = 0;
  for (let at = 0; at < samples.length; at += length) loudest = Math.max(loudest, energy(at));
  const { ofBefore, ofLoudest } = ONSET_DEFAULTS;
  return {
    begins: (at) => {
      const own = energy(at + (length >> 1));
      return own >= ofBefore ** 2 * energy(at - length) && own >= ofLoudest ** 2 * loudest;
    },
  };
}

/** Where, from one sample to another, the energy of short stretches rises most, seconds. */
function steepest(samples: Float32Array, rate: number, from: number, to: number): number {
  const length = Math.max(1, Math.round(ONSET_DEFAULTS.fine * rate));
  const energy = (at: number): number => {
    let sum = 0;
    for (let n = at; n < at + length; n++) sum += (samples[n] ?? 0) ** 2;
    return sum;
  };
  const begins = Math.max(0, Math.round(from));
  let [best, most] = [begins, -Infinity];
  for (let at = begins; at <= Math.min(samples.length - 1, to); at += Math.max(1, length >> 2)) {
    const rise = energy(at) - energy(at - length);
    if (rise > most) [best, most] = [at, rise];
  }
  return best / rate;
}
