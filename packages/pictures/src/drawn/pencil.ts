/** A place on the drawing, pixels from its upper left corner. */
export type Place = readonly [x: number, y: number];

/** Numbers between −1 and 1 that come out the same for the same seed (Mulberry32). */
export function wobble(seed: number): () => number {
  let state = (seed * 2654435761) >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return 2 * (((t ^ (t >>> 14)) >>> 0) / 4294967296) - 1;
  };
}

const n = (value: number): string => value.toFixed(2);

/** A line drawn by hand: two strokes that don't quite meet. */
export function line(from: Place, to: Place, width: number, hand: () => number, ink = '#3a3f45'): string {
  const strokes = [0, 1].map(() => {
    const [mx, my] = [(from[0] + to[0]) / 2 + hand() * 1.2, (from[1] + to[1]) / 2 + hand() * 1.2];
    return `M${n(from[0] + hand() * 0.5)} ${n(from[1] + hand() * 0.5)}Q${n(mx)} ${n(my)} ${n(to[0] + hand() * 0.5)} ${n(to[1] + hand() * 0.5)}`;
  });
  return `<path d="${strokes.join('')}" fill="none" stroke="${ink}" stroke-width="${n(width)}" stroke-linecap="round" opacity="0.85"/>`;
}

/** A limb from joint to joint, as wide as it is at each: paper inside, pencil round it. */
export function limb(from: Place, to: Place, [a, b]: readonly [number, number], fill: string, ink: string): string {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(dx, dy) || 1;
  const [nx, ny] = [-dy / length, dx / length];
  const at = ([x, y]: Place, half: number, side: 1 | -1): string =>
    `${n(x + side * nx * half)} ${n(y + side * ny * half)}`;
  return (
    `<path d="M${at(from, a, 1)}L${at(to, b, 1)}A${n(b)} ${n(b)} 0 0 0 ${at(to, b, -1)}L${at(from, a, -1)}` +
    `A${n(a)} ${n(a)} 0 0 0 ${at(from, a, 1)}Z" fill="${fill}" stroke="${ink}" stroke-width="2.2" stroke-linejoin="round"/>`
  );
}

/** A joint as it is drawn in a rough: a small ring with its middle. */
export const joint = ([x, y]: Place, radius: number, ink: string): string =>
  `<circle cx="${n(x)}" cy="${n(y)}" r="${n(radius)}" fill="none" stroke="${ink}" stroke-width="1.6"/>` +
  `<circle cx="${n(x)}" cy="${n(y)}" r="1.8" fill="${ink}"/>`;

export const shape = (places: readonly Place[], fill: string, ink: string, width = 2.2): string =>
  `<path d="M${places.map(([x, y]) => `${n(x)} ${n(y)}`).join('L')}Z" fill="${fill}" stroke="${ink}" stroke-width="${width}" stroke-linejoin="round"/>`;

/** A sheet with its pegs' holes and what lies on it. */
export const sheet = (width: number, height: number, body: string, paper = '#fbf9f2'): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">` +
  `<rect width="${width}" height="${height}" fill="${paper}"/>${body}</svg>`;
