/** A picture's size in pixels. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Longest side of the pictures the desk shows, by how many there are: all of them together stay within some hundred megabytes. */
const SHOWN: readonly (readonly [upTo: number, side: number])[] = [
  [1500, 1920],
  [4500, 1280],
  [Infinity, 960],
];
/** Height of the small pictures of strip and row of poses, and their greatest width. */
const SMALL: Size = { width: 240, height: 120 };
/** Width of the pictures in which drawings are told apart. */
const COMPARED = 320;

/** The size pictures are shown at: their own, or smaller. */
export function shownSize({ width, height }: Size, frames: number): Size {
  const side = SHOWN.find(([upTo]) => frames <= upTo)![1];
  return within({ width, height }, { width: side, height: side });
}

export const smallSize = (own: Size): Size => within(own, SMALL);
export const comparedSize = (own: Size): Size => within(own, { width: COMPARED, height: 2 * COMPARED });

/** As large as fits, never larger than it is. */
function within({ width, height }: Size, most: Size): Size {
  const scale = Math.min(1, most.width / width, most.height / height);
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}
