/** Where something lies on the strip: how labels fall on it, and how far down it begins. */
export interface OnStrip {
  readonly x: { (label: number): number; invert(px: number): number };
  /** Pixels a frame is wide. */
  readonly perFrame: number;
  readonly width: number;
  readonly top: number;
}
