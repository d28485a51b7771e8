import type { ReadMotion } from '@ypsigraph/contract/against-the-brief';
import type { Media } from '@ypsigraph/contract/vocabulary';
import type { Pictures, Tracks } from '@ypsigraph/contract/pictures';
import type { PictureFacts, PictureOptions } from '@ypsigraph/core/track/picture-shot';
import type { SmallFigure } from '@ypsigraph/core/small/small-figure';
import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';

/** What a process of its own is asked for, with what it reads. `to`: where the answer is to be written, as JSON. */
export type ReadingTask =
  /** Whether a motion can be read at all. */
  | { readonly does: 'check'; readonly path: string }
  | {
      readonly does: 'measure';
      readonly path: string;
      readonly to: string;
      readonly fileName: string;
      readonly options: ShotOptions;
    }
  /** Whether it is a clip, and, of a motion up to so many bytes, what a brief says something about. */
  | {
      readonly does: 'look';
      readonly path: string;
      readonly fileName: string;
      readonly options: Pick<ShotOptions, 'kind' | 'fps'>;
      readonly motionUpTo: number;
    }
  /** A clip is decoded: where its pictures go, and the rate of drawings. */
  | {
      readonly does: 'decode';
      readonly path: string;
      readonly folder: string;
      readonly fileName: string;
      readonly fps: number;
    }
  /** The points of a clip are measured. */
  | {
      readonly does: 'measure points';
      readonly to: string;
      readonly fileName: string;
      readonly format: string;
      readonly facts: PictureFacts;
      readonly tracks: Tracks;
      readonly options: PictureOptions;
      readonly warnings: readonly string[];
    }
  | { readonly does: 'align'; readonly to: string; readonly a: AlignedSide; readonly b: AlignedSide };
export type Does = ReadingTask['does'];
export type TaskOf<D extends Does> = Extract<ReadingTask, { readonly does: D }>;

/** What each gives where the file was not refused. */
interface Gives {
  readonly check: object;
  readonly measure: { readonly small?: SmallFigure };
  readonly look: Looked;
  readonly decode: Pictures;
  readonly 'measure points': object;
  readonly align: object;
}

/** A shot that is aligned: a motion's file, or what is stored of a clip. */
export type AlignedSide =
  | { readonly motion: { readonly path: string; readonly options: ShotOptions } }
  | {
      readonly pictures: {
        /** Where its small pictures are, one behind the other, how many bytes each has, and which each frame shows. */
        readonly pack: string;
        readonly sizes: readonly number[];
        readonly pictures: readonly number[];
        readonly facts: PictureFacts;
        readonly tracks: Tracks;
        readonly options: PictureOptions;
      };
    };

/** What went wrong here, and not with the file: there was no room for it, or something else. */
export type Failed = { readonly noRoom: true } | { readonly failed: string };

/** What comes back; `refused` is said to the person who handed the file in. */
export type ReadingAnswer<D extends Does = Does> =
  { readonly gives: Gives[D] } | { readonly refused: string; readonly asClip?: boolean } | Failed;

/** What a look at a file tells: that it is a clip or a sound, or what of a motion a brief says something about. */
export interface Looked {
  readonly media: Media | 'sound';
  readonly motion?: ReadMotion;
}

/** Said while it is being done: share of the frames of a clip that are decoded. */
export interface ReadingProgress {
  readonly progress: number;
}

/** Said of a file whose motion the limit of memory refuses, or ends the process for. */
export const TOO_LARGE =
  'its motion takes more memory than a shot may: export fewer frames, or leave out joints that do not move';
