import type { ReadMotion } from '@ypsigraph/contract/against-the-brief';
import type { Media } from '@ypsigraph/contract/vocabulary';
import type { Pictures, Tracks } from '@ypsigraph/contract/pictures';
import type { PictureFacts, PictureOptions } from '@ypsigraph/core/track/picture-shot';
import type { SmallFigure } from '@ypsigraph/core/small/small-figure';
import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';

/** One file to be read in a process of its own. */
export interface ReadingTask {
  /** Where its bytes are. */
  readonly path: string;
  /** Where the report is to be written, as JSON; left out where only its being readable is asked. */
  readonly measure?: { readonly to: string; readonly fileName: string; readonly options: ShotOptions };
  /** It is only looked at: whether it is a clip, and, of a motion up to so many bytes, what a brief says something about. */
  readonly look?: Pick<ShotOptions, 'kind' | 'fps'> & { readonly fileName: string; readonly motionUpTo: number };
  /** A clip is to be decoded: where its pictures go, and the rate of drawings. */
  readonly clip?: { readonly folder: string; readonly fileName: string; readonly fps: number };
  /** The points of a clip are to be measured; no file is read. */
  readonly points?: {
    readonly to: string;
    readonly fileName: string;
    readonly format: string;
    readonly facts: PictureFacts;
    readonly tracks: Tracks;
    readonly options: PictureOptions;
    readonly warnings: readonly string[];
  };
  /** Two shots are to be aligned: what came of it goes to `to`, as JSON. */
  readonly align?: { readonly to: string; readonly a: AlignedSide; readonly b: AlignedSide };
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

/** What comes back of a file that was not refused: what was asked for; that there was no room for it; or what went wrong here. */
export type Done =
  | { readonly done: true; readonly clip?: Pictures; readonly looked?: Looked; readonly small?: SmallFigure }
  | { readonly noRoom: true }
  | { readonly failed: string };

/** What comes back: `refused` is said to the person who handed the file in. */
export type ReadingAnswer = Done | { readonly refused: string; readonly asClip?: boolean };

/** What a look at a file tells: that it is a clip, or what of a motion a brief says something about. */
export interface Looked {
  readonly media: Media;
  readonly motion?: ReadMotion;
}

/** Said while it is being done: share of the frames of a clip that are decoded. */
export interface ReadingProgress {
  readonly progress: number;
}

/** Said of a file whose motion the limit of memory refuses, or ends the process for. */
export const TOO_LARGE =
  'its motion takes more memory than a shot may: export fewer frames, or leave out joints that do not move';
