import type { PlannedPose } from '@ypsigraph/contract/briefs';

type Place = readonly [number, number];

/** Lengths of the parts of a figure of a usual build, in leg lengths. */
const LENGTHS: Readonly<Record<string, number>> = {
  trunk: 0.6,
  neck: 0.1,
  head: 0.22,
  upperArm: 0.34,
  foreArm: 0.32,
  hand: 0.1,
  thigh: 0.5,
  shin: 0.5,
};
const [SIZE, SCALE] = [44, 17];

/** A pose as a few lines, seen from its left side, turned a little; nothing of what has no body. */
export function OwnPoseFigure({ pose }: { pose: NonNullable<PlannedPose['pose']> }) {
  const end = (from: Place, part: string): Place | undefined => {
    const way = pose.directions[part];
    if (!way) return undefined;
    const length = SCALE * (LENGTHS[part.split('.')[0]!] ?? 0.3);
    const [forward, left, up] = way;
    return [from[0] + length * (0.94 * forward - 0.34 * left), from[1] - length * up];
  };
  const hips: Place = [SIZE / 2, 24];
  const chest = end(hips, 'trunk') ?? hips;
  const neck = end(chest, 'neck') ?? chest;
  const lines: [Place, Place | undefined, string][] = [
    [hips, end(hips, 'trunk'), 'centre'],
    [chest, end(chest, 'neck'), 'centre'],
    [neck, end(neck, 'head'), 'centre'],
    ...(['L', 'R'] as const).flatMap((side): [Place, Place | undefined, string][] =>
      (
        [
          [chest, 'upperArm', 'foreArm', 'hand'],
          [hips, 'thigh', 'shin'],
        ] as const
      ).flatMap(([from, ...parts]) => {
        let at: Place | undefined = from;
        return parts.flatMap((part): [Place, Place | undefined, string][] => {
          const start: Place | undefined = at;
          if (!start) return [];
          at = end(start, `${part}.${side}`);
          return [[start, at, side]];
        });
      }),
    ),
  ];
  if (!lines.some(([, to]) => to)) return null;
  return (
    <svg width={SIZE} height={SIZE} viewBox={`0 0 ${SIZE} ${SIZE}`} role="img" aria-label="The pose">
      {lines.map(
        ([from, to, side], k) =>
          to && (
            <line
              key={k}
              x1={from[0]}
              y1={from[1]}
              x2={to[0]}
              y2={to[1]}
              stroke={side === 'R' ? 'var(--right)' : side === 'L' ? 'var(--left)' : 'var(--ink)'}
              strokeWidth={1.6}
              strokeLinecap="round"
            />
          ),
      )}
    </svg>
  );
}
