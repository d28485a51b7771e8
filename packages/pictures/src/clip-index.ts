import type { Difference } from '@ypsigraph/core/track/camera-shift';
import type { Exposure } from '@ypsigraph/core/track/held-pictures';
import type { Size } from './shown-size.ts';

/** What is known of a clip's sound. Times are seconds from where its first frame begins. */
export interface Sound {
  /** Where in the kept sound the first frame begins, seconds. */
  readonly startsAt: number;
  readonly seconds: number;
  /** How loud it gets, 0 to 255, in each hundredth of a second. */
  readonly peaks: readonly number[];
  /** Where something begins to sound. */
  readonly onsets: readonly number[];
}

/** What is known of a clip's pictures once it has been read. */
export interface ClipIndex {
  /** What the file is: WebM, GIF, drawings … */
  readonly format: string;
  readonly fps: number;
  readonly frames: number;
  /** Its own size, upright, in pixels: what places of points are told in. */
  readonly width: number;
  readonly height: number;
  readonly shown: Size;
  readonly small: Size;
  /** For each frame the stored picture that is seen at it. */
  readonly pictures: readonly number[];
  /** Bytes of each stored picture, in the file of those shown and in that of the small ones. */
  readonly sizes: readonly number[];
  readonly smallSizes: readonly number[];
  /** Which frames show the same drawing, in samples from 0. */
  readonly exposures: readonly Exposure[];
  readonly sound?: Sound;
  readonly warnings: readonly string[];
}

/** What one way of reading gives: pictures in order, and when each begins. */
export interface ReadPictures {
  readonly own: Size;
  readonly shown: Size;
  readonly small: Size;
  readonly sizes: readonly number[];
  readonly smallSizes: readonly number[];
  /** Change of each picture from the one before, without the first. */
  readonly changes: readonly Difference[];
  readonly times: readonly number[];
  readonly tick: number;
  readonly last?: number;
  readonly declared?: number;
  readonly sound?: Sound;
  readonly warnings: readonly string[];
}

/** Where a clip's pictures are put. */
export interface ClipFolder {
  /** A folder of its own, empty. */
  readonly folder: string;
  /** Longest side of the pictures kept; by how many there are where it is left out. */
  readonly side?: number;
  /** Told what share of the pictures has been decoded. */
  readonly onProgress?: (share: number) => void;
}

export const PACK = 'pictures.pack';
export const SMALL_PACK = 'small.pack';
export const SOUND = 'sound.webm';
