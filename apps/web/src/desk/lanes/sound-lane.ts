import { onsetEvents } from '@ypsigraph/core/measure/keys/shot-events';
import { PEAKS_PER_SECOND } from '@ypsigraph/core/sound/peaks';
import { type HeardSound, onsetLabels, secondsAt } from '../sound/heard-sound.ts';
import type { Lane } from './lane.ts';

interface Heard {
  readonly sound: HeardSound;
  readonly onsets: readonly number[];
}

/** A click this near to an onset, in frames, is on it. */
const NEAR = 0.75;

/** How loud the sound is, and where something begins to sound. */
export const SOUND_LANE: Lane<Heard> = {
  id: 'sound',
  name: 'sound',
  legend: 'how loud it is; stroke: something begins to sound. With a delay mark begun a click picks one',
  needs: 'frames',
  prepare: ({ source: { sound } }) => sound && { sound, onsets: onsetLabels(sound) },
  height: () => 26,
  draw({ context, x, perFrame, from, to, height, inks }, { sound, onsets }) {
    const { peaks } = sound.facts;
    const middle = height / 2 + 1;
    context.fillStyle = inks.graphite;
    // Frames are as wide as they are long: what is heard while one is seen lies on it.
    const left = (label: number): number => x(label) - perFrame / 2;
    const step = Math.max(1, Math.floor(PEAKS_PER_SECOND / (sound.fps * perFrame)));
    const begins = Math.max(0, Math.floor(secondsAt(sound, from) * PEAKS_PER_SECOND));
    const ends = Math.min(peaks.length, Math.ceil(secondsAt(sound, to + 1) * PEAKS_PER_SECOND));
    const wide = Math.max(1, (step * sound.fps * perFrame) / PEAKS_PER_SECOND - 0.4);
    for (let k = begins; k < ends; k += step) {
      let loud = 0;
      for (let n = k; n < Math.min(ends, k + step); n++) loud = Math.max(loud, peaks[n]!);
      const half = Math.max(0.5, (loud / 255) * (height / 2 - 3));
      context.fillRect(left(sound.first + (k * sound.fps) / PEAKS_PER_SECOND), middle - half, wide, 2 * half);
    }
    context.strokeStyle = inks.ink;
    context.lineWidth = 1.4;
    for (const label of onsets) {
      if (label < from || label > to + 1) continue;
      context.beginPath();
      context.moveTo(left(label), 2);
      context.lineTo(left(label), height - 1);
      context.stroke();
    }
  },
  spot({ onsets }, label) {
    const [near] = onsets
      .filter((own) => Math.abs(own - 0.5 - label) <= NEAR)
      .toSorted((a, b) => Math.abs(a - 0.5 - label) - Math.abs(b - 0.5 - label));
    if (near === undefined) return undefined;
    const event = onsetEvents([near])[0]!;
    return { text: `something begins to sound, at ${event.label}`, from: event.label, to: event.label, event };
  },
};
