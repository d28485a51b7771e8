/** A folder for one test file's clips, gone when it is done. */
export declare function clipFolder(): {
  path: (name: string) => string;
  end: () => void;
};
export declare const SIZE: {
  width: number;
  height: number;
};
/** A grey picture, one byte a pixel. */
export type Grey = Uint8Array;
/** A picture that carries its number: ten squares, black for one, along its lower edge. */
export declare function numbered(
  number: number,
  {
    width,
    height,
  }?: {
    width: number;
    height: number;
  },
): Grey;
/** The number a picture carries. */
export declare function numberOf(
  grey: ArrayLike<number>,
  {
    width,
    height,
  }?: {
    width: number;
    height: number;
  },
): number;
/** Encodes grey pictures with ffmpeg. */
export declare function encode(
  to: string,
  pictures: readonly Grey[],
  {
    fps,
    args,
    width,
    height,
  }?: {
    fps?: number | undefined;
    args?: readonly string[] | undefined;
    width?: number | undefined;
    height?: number | undefined;
  },
): string;
/** What each format is encoded with. */
export declare const FORMATS: readonly (readonly [name: string, file: string, args: readonly string[]])[];
/** A zip of files, stored as they are or under names of one's own (APPNOTE.TXT, no compression). */
export declare function zip(to: string, files: readonly (readonly [name: string, bytes: Uint8Array])[]): string;
