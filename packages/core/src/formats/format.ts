import type { UpAxis } from '../motion/axes.ts';
import type { Motion } from '../motion/motion.ts';
import type { ShotOptions } from '../motion/prepared-shot.ts';

/** How a file is to be read, where it leaves more than one way. */
export interface ReadOptions {
  /** Frames a second that somebody has asked for. */
  readonly fps?: number;
  /** Frames a second of the exercise: taken where the file's keys lie on its frames. */
  readonly usualFps?: number;
  /** Name of an animation, or its number, the longest being 1. */
  readonly animation?: string;
  /** Name of a figure. */
  readonly figure?: string;
  /** The character's own shape is read as well, for drawing it. */
  readonly withShape?: boolean;
  /** Undoes Draco's packing of a shape; without it such a shape is not there. */
  readonly draco?: DracoDecoder;
}

/** A module that undoes Draco's packing, as its own builds give it: half a megabyte, so it comes only where a file asks for it. */
export type DracoDecoder = () => Promise<unknown>;

/** Gives the bytes of a file that lies beside the one that is read, by the name that one has for it; undefined where there is none. */
export type Beside = (name: string) => Uint8Array | undefined;

/** A motion as a file brought it, with what was odd about the file in words for the person who handed it in. */
export interface ReadMotion {
  readonly motion: Motion;
  readonly warnings: readonly string[];
  /** How its motion is to be taken, where the format knows: of a puppet on a picture. */
  readonly asShot?: Pick<ShotOptions, 'roles' | 'legLength' | 'firstFrame' | 'isFlat' | 'hasTurns'>;
}

/** What a motion is written with, where the format says it and the motion does not. */
export interface WriteOptions {
  /** The axis of the motion that is up. */
  readonly up?: UpAxis;
  /** Metres of one of the motion's units. */
  readonly metresPerUnit?: number;
}

/** A format that a motion comes in: told from the bytes of a file, never from its name. */
export interface MotionFormat {
  readonly name: 'bvh' | 'gltf' | 'lottie';
  /** What it is called to people. */
  readonly label: string;
  /** What its files are called. */
  readonly endings: readonly string[];
  /** Whether a file is of this format, by its bytes. */
  accepts(bytes: Uint8Array): boolean;
  /**
   * Reads a file.
   * @throws FormatError where it is damaged
   */
  read(bytes: Uint8Array, options: ReadOptions, beside: Beside): ReadMotion | Promise<ReadMotion>;
  /** Writes a motion: read again it is the same. Undefined where the format is only read. */
  write?(motion: Motion, options?: WriteOptions): Uint8Array | Promise<Uint8Array>;
}
