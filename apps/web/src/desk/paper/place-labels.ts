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
