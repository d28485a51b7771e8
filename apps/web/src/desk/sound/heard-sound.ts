import type { Sound } from '@ypsigraph/contract/pictures';

/** A sound on the axis of a shot. */
export interface HeardSound {
  readonly facts: Sound;
  /** Where its bytes are. */
  readonly address: string;
  /** Label that is seen where it begins, and frames a second of the axis. */
  readonly first: number;
  readonly fps: number;
}

/** A sound without its bytes' address, as far as it lies on the axis. */
type OnAxis = Pick<HeardSound, 'first' | 'fps'>;

/** Seconds into the sound at which a label's frame begins. @example secondsAt({ first: 1, fps: 24 }, 13) // 0.5 */
export const secondsAt = ({ first, fps }: OnAxis, label: number): number => (label - first) / fps;

/** Labels at which something begins to sound; parts of a frame count. */
export const onsetLabels = ({ facts, first, fps }: HeardSound): number[] => facts.onsets.map((at) => first + at * fps);
