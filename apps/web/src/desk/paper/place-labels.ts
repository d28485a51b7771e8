export interface Label {
  readonly text: string;
  /** Middle of the label. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Smaller is placed first. */
  readonly priority: number;
  readonly key: number;
}

/** Height of a label in the numbers' type, and width of one of its figures: nothing is measured while it is drawn. */
const HEIGHT = 11;
const FIGURE = 6.3;

/** A label of a frame's number about its middle. */
export const numberLabel = (text: string, x: number, y: number, key: number, priority: number): Label => ({
  ...{ text, x, y, key, priority },
  width: FIGURE * text.length + 7,
  height: HEIGHT,
});

/** Whether two labels would lie over one another. */
export const touches = (a: Label, b: Label): boolean =>
  Math.abs(a.x - b.x) * 2 < a.width + b.width && Math.abs(a.y - b.y) * 2 < a.height + b.height;

/** Of many labels those that can stand without touching one another, the most important first. */
export function placeLabels(labels: readonly Label[]): Label[] {
  const placed: Label[] = [];
  for (const label of [...labels].sort((a, b) => a.priority - b.priority || a.key - b.key)) {
    if (!placed.some((other) => touches(other, label))) placed.push(label);
  }
  return placed;
}
