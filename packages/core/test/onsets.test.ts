// Where something begins to sound, on sounds that are made here: the truth is when each was put in.
import fc from 'fast-check';
import { soundOnsets } from '../src/sound/onsets.ts';
import { PEAKS_PER_SECOND, soundPeaks } from '../src/sound/peaks.ts';

const RATE = 16_000;

/** Noise that is the same in every run, −1 to 1. */
function noise(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(1664525, state) + 1013904223) >>> 0;
    return state / 2 ** 31 - 1;
  };
}

const silent = (seconds: number): Float32Array => new Float32Array(Math.round(seconds * RATE));

/** A step on boards: noise that dies away. */
function step(into: Float32Array, at: number, loud = 0.8, dies = 0.03): void {
  const next = noise(Math.round(at * 1000));
  const from = Math.round(at * RATE);
  for (let n = 0; n < 5 * dies * RATE && from + n < into.length; n++)
    into[from + n]! += loud * Math.exp(-n / (dies * RATE)) * next();
}

/** A tone from one moment to another, with ends of 5 ms. */
function tone(into: Float32Array, from: number, to: number, hertz: number, loud = 0.4): void {
  for (let n = Math.round(from * RATE); n < Math.round(to * RATE); n++) {
    const t = n / RATE;
    const end = Math.min(1, (t - from) / 0.005, (to - t) / 0.005);
    into[n]! += loud * end * Math.sin(2 * Math.PI * hertz * t);
  }
}

/** Every onset that was put in is found, once, within a few milliseconds, and no other. */
function expectOnsets(samples: Float32Array, truth: readonly number[], within = 0.01): void {
  const found = soundOnsets(samples, RATE);
  expect(found).toHaveLength(truth.length);
  truth.forEach((at, k) => expect(Math.abs(found[k]! - at)).toBeLessThan(within));
}

test('steps on boards are found where they fall, loud and quiet, with wind behind them', () => {
  const truth = [0.25, 0.75, 1.27, 1.8];
  for (const wind of [0, 0.01]) {
    const samples = silent(2.2);
    const next = noise(7);
    if (wind > 0) samples.forEach((_, n) => (samples[n] = wind * next()));
    truth.forEach((at, k) => step(samples, at, k % 2 === 0 ? 0.8 : 0.25));
    expectOnsets(samples, truth);
  }
});

test('notes that follow one another without a pause begin where the pitch changes', () => {
  const samples = silent(2);
  tone(samples, 0.3, 0.8, 220);
  tone(samples, 0.8, 1.3, 330);
  tone(samples, 1.3, 1.9, 440);
  expectOnsets(samples, [0.3, 0.8, 1.3], 0.02);
});

test('what sounds from its first sample on begins there; silence, and a sound of nothing, have no onset', () => {
  const samples = silent(1);
  tone(samples, 0, 0.6, 300);
  expectOnsets(samples, [0]);
  expect(soundOnsets(silent(1), RATE)).toEqual([]);
  expect(soundOnsets(new Float32Array(0), RATE)).toEqual([]);
});

test('the same at any loudness, and later by as much as it is put later', () => {
  fc.assert(
    fc.property(fc.double({ min: 0.02, max: 1, noNaN: true }), fc.integer({ min: 0, max: 60 }), (loud, later) => {
      const make = (gain: number, by: number): Float32Array => {
        const samples = silent(1.8);
        for (const at of [0.3, 0.62, 1.04]) step(samples, at + by, gain * 0.8);
        return samples;
      };
      const own = soundOnsets(make(1, 0), RATE);
      const other = soundOnsets(make(loud, later / 100), RATE);
      expect(other).toHaveLength(own.length);
      other.forEach((at, k) => expect(at).toBeCloseTo(own[k]! + later / 100, 2));
    }),
    { numRuns: 25 },
  );
});

test('peaks are the largest samples of each hundredth of a second, whatever their sign', () => {
  const samples = silent(0.055);
  samples[3] = -0.5;
  samples[Math.round(0.02 * RATE)] = 1;
  samples[samples.length - 1] = 2;
  const peaks = soundPeaks(samples, RATE);
  expect(peaks).toEqual([128, 0, 255, 0, 0, 255]);
  expect(peaks).toHaveLength(Math.ceil(0.055 * PEAKS_PER_SECOND));
});
