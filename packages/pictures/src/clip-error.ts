/** A clip that can't be taken: what is wrong with it, and what to do, in words for the person who hands it in. */
export class ClipError extends Error {
  override readonly name = 'ClipError';
}

/** What a clip may have. */
export const CLIP_LIMITS = Object.freeze({
  /** 512 MB. */
  bytes: 512 * 1024 * 1024,
  seconds: 180,
  /** Frames a second. */
  fps: 120,
  /** Longest side of a picture, pixels: 4K. */
  side: 4096,
  /** Drawings in an archive. */
  drawings: 180 * 60,
  /** Bytes of all drawings once they are unpacked. */
  unpacked: 2 * 1024 * 1024 * 1024,
});
