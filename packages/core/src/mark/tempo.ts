import { CORE_VERSION } from '../measure/registry.ts';
import { figures, frames } from '../say/words.ts';
import type { Payload } from './mark.ts';

/** A tempo: so many frames for what is played, at so many frames a second. */
export interface Tempo {
  readonly frames: number;
  readonly fps: number;
}

/** Steps a minute of a cycle of two steps: 120 · fps / T. @example stepsAMinute({ frames: 24, fps: 24 }) // 120 */
export const stepsAMinute = ({ frames: length, fps }: Tempo): number => (120 * fps) / length;

/** How many times as fast as it is a shot goes at another tempo. @example paceOf({ frames: 24, fps: 24 }, { frames: 20, fps: 24 }) // 1.2 */
export const paceOf = (own: Tempo, other: Tempo): number => own.frames / own.fps / (other.frames / other.fps);

/** Tempos that are offered: what the trade works at. Common practice. */
export const RATES: readonly number[] = [24, 25, 30];

/** A tempo in words: “20 frames at 24 a second: 144 steps a minute”; without steps where nothing takes any. */
export const sayTempo = (tempo: Tempo, takesSteps: boolean): string =>
  `${frames(tempo.frames)} at ${figures(tempo.fps)} a second: ${
    takesSteps ? `${Math.round(stepsAMinute(tempo))} steps a minute` : `${figures(tempo.frames / tempo.fps, 2)} s`
  }`;

/** The numbers of a timing mark that wants a cycle to last so many frames: every later revision is held against its own cycle. */
export const tempoMark = (cycle: number, wanted: number): Payload => ({
  kind: 'timing',
  core: CORE_VERSION,
  quote: { reading: 'cycle.length', value: cycle, unit: 'frames', band: [wanted, wanted] },
  measured: null,
  wanted: null,
});
