/** One point of a picture over its frames. */
export interface PointTrack {
  readonly name: string;
  /** x to the right, y up, in pixels, 2 numbers a frame; not a number where nobody has placed it. */
  readonly places: Float64Array;
  /** How surely it was followed to each frame: 1 where a hand placed it, 0 where nobody did. */
  readonly confidence: Float64Array;
  /** What is known of it besides where it is, of a layer of a puppet. */
  readonly layer?: PointLayer;
}

/** A layer of a puppet, whose anchor a point is. */
export interface PointLayer {
  /** The point it hangs from, among all, before its own; −1 for none. */
  readonly hangs: number;
  /** How far it is turned at each frame, degrees, to the left over 0; 0 as it was drawn. */
  readonly turns: Float64Array;
  /** Where what it draws lies beside the point, while it is not turned: left, bottom, right, top in pixels, y up. */
  readonly box?: readonly [left: number, bottom: number, right: number, top: number];
}

/** Points followed on the frames of a picture shot. */
export interface PointTracks {
  readonly fps: number;
  /** Label of the first frame. */
  readonly firstFrame: number;
  readonly frames: number;
  readonly points: readonly PointTrack[];
}

/** A point followed at least so surely counts as known. */
export const SURE = 0.5;

/** Share of frames at which a point is known, 0…1. */
export const knownShare = ({ confidence }: PointTrack): number =>
  confidence.length === 0 ? 0 : confidence.reduce((sum, own) => sum + Number(own >= SURE), 0) / confidence.length;

/**
 * The places of a point with the frames between filled in: on the straight way from the last that is known to the next; before the first and
 * after the last it stays. All zero where it is nowhere known.
 *
 * @example between 0 at frame 1 and 4 at frame 3, frame 2 is filled with 2
 */
export function filledPlaces({ places }: PointTrack): Float64Array {
  const frames = places.length / 2;
  const filled = new Float64Array(places.length);
  const known: number[] = [];
  for (let f = 0; f < frames; f++)
    if (!Number.isNaN(places[2 * f]!) && !Number.isNaN(places[2 * f + 1]!)) known.push(f);
  if (known.length === 0) return filled;
  let k = 0;
  for (let f = 0; f < frames; f++) {
    while (k + 1 < known.length && known[k + 1]! <= f) k++;
    const a = known[k]!;
    const b = known[k + 1] ?? a;
    const u = f <= a || b === a ? 0 : (f - a) / (b - a);
    for (let c = 0; c < 2; c++) filled[2 * f + c] = places[2 * a + c]! + u * (places[2 * b + c]! - places[2 * a + c]!);
  }
  return filled;
}
