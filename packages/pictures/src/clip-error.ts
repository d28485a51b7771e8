/** A clip that can't be taken: what is wrong with it, and what to do, in words for the person who hands it in. */
export class ClipError extends Error {
  override readonly name = 'ClipError';
}

/** A clip in which nothing is seen, though something may be heard. */
export class NothingSeenError extends ClipError {}

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
  /** Files of whatever kind in an archive. */
  entries: 20_000,
  /**
   * Pixels of all pictures together: what decoding takes is told by them. Three minutes of 1920 × 1080 at 30 frames a second are 11.2 thousand
   * million. Stills, each packed by itself, and animated pictures, which are laid on paper, take three times as long.
   */
  videoPixels: 12e9,
  stillPixels: 4e9,
  /** Bytes of all drawings once they are unpacked. */
  unpacked: 2 * 1024 * 1024 * 1024,
});
