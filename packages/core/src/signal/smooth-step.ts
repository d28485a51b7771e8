/** 0 before 0, 1 after 1, and between them a curve that starts and ends level. */
export function smoothStep(u: number): number {
  const t = Math.min(1, Math.max(0, u));
  return t * t * (3 - 2 * t);
}
