import type { ReadMotion } from '@ypsigraph/contract/against-the-brief';
import type { Pictures, Tracks } from '@ypsigraph/contract/pictures';
import type { PictureFacts, PictureOptions } from '@ypsigraph/core/track/picture-shot';
import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';

/** One file to be read in a process of its own. */
export interface ReadingTask {
  /** Where its bytes are. */
  readonly path: string;
  /** Where the report is to be written, as JSON; left out where only its being readable is asked. */
  readonly measure?: { readonly to: string; readonly fileName: string; readonly options: ShotOptions };
  /** It is only looked at: what of it a brief says something about is told. */
  readonly look?: Pick<ShotOptions, 'kind' | 'fps'>;
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

/** What comes back: `refused` is said to the person who handed the file in. */
export type ReadingAnswer =
  | { readonly done: true; readonly clip?: Pictures; readonly looked?: ReadMotion }
  | { readonly refused: string }
  | { readonly failed: string };

/** Said of a file whose motion the limit of memory refuses, or ends the process for. */
export const TOO_LARGE =
  'its motion takes more memory than a shot may: export fewer frames, or leave out joints that do not move';
