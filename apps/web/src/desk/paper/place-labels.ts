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

/** Of many labels those that can stand without touching one another, the most important first. */
export function placeLabels(labels: readonly Label[]): Label[] {
  const placed: Label[] = [];
  for (const label of [...labels].sort((a, b) => a.priority - b.priority || a.key - b.key)) {
    const free = placed.every(
      (other) =>
        Math.abs(other.x - label.x) * 2 >= other.width + label.width ||
        Math.abs(other.y - label.y) * 2 >= other.height + label.height,
    );
    if (free) placed.push(label);
  }
  return placed;
}
