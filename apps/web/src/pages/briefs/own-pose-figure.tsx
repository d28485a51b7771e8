import type { PlannedPose } from '@ypsigraph/contract/briefs';

export type Pose = NonNullable<PlannedPose['pose']>;
export type Place = readonly [number, number];

/** A part of a figure of a usual build: what it hangs from, how long it is in leg lengths, and where it points when the figure stands at ease. */
interface Part {
  readonly from?: string;
  readonly length: number;
  readonly atEase: readonly [forward: number, left: number, up: number];
}

/** A limb of both sides; at ease the left one hangs a little in front of the right one, so that both are to be seen. */
const sided = (part: string, length: number, from?: string, bends = 0): [string, Part][] =>
  (['L', 'R'] as const).map((side) => {
    const angle = ((side === 'L' ? 6 : -6) + bends) * (Math.PI / 180);
    return [
      `${part}.${side}`,
      {
        ...(from && { from: from === 'trunk' ? from : `${from}.${side}` }),
        length,
        atEase: [Math.sin(angle), 0, -Math.cos(angle)],
      },
    ];
  });

/** Each after what it hangs from; what hangs from nothing hangs from the hips. */
const PARTS: ReadonlyMap<string, Part> = new Map<string, Part>([
  ['trunk', { length: 0.6, atEase: [0, 0, 1] }],
  ['neck', { from: 'trunk', length: 0.1, atEase: [0, 0, 1] }],
  ['head', { from: 'neck', length: 0.22, atEase: [0, 0, 1] }],
  ...sided('upperArm', 0.34, 'trunk'),
  ...sided('foreArm', 0.32, 'upperArm', 8),
  ...sided('hand', 0.1, 'foreArm', 8),
  ...sided('thigh', 0.5),
  ...sided('shin', 0.5, 'thigh', -4),
]);

/** A figure that stands at ease, to be drawn into a pose. */
export const atEase = (): Pose => ({
  directions: Object.fromEntries([...PARTS].map(([part, { atEase: way }]) => [part, [...way]])),
  drawn: true,
});

/** A part of a pose as a line on a picture. */
export interface PartLine {
  readonly part: string;
  readonly from: Place;
  readonly to: Place;
  /** Pixels it would be long if it lay in the picture. */
  readonly length: number;
  /** The pose says nothing of it: it is drawn as it hangs at ease. */
  readonly leftOut: boolean;
}

/** How much of what lies to the left is seen, from the figure's left side turned a little: none of a pose that was drawn. */
const ASIDE = 0.34;

/**
 * The lines of a pose, seen from its left side; empty where nothing of it has a body.
 * @param hips where the middle of its hips lies
 * @param leg pixels
 */
export function poseLines(pose: Pose, hips: Place, leg: number): PartLine[] {
  if (![...PARTS.keys()].some((part) => pose.directions[part])) return [];
  const aside = pose.drawn ? 0 : ASIDE;
  const along = Math.sqrt(1 - aside * aside);
  const ends = new Map<string, Place>();
  return [...PARTS].map(([part, { from, length, atEase: usual }]) => {
    const start = (from === undefined ? undefined : ends.get(from)) ?? hips;
    const [forward, left, up] = pose.directions[part] ?? usual;
    const end: Place = [start[0] + leg * length * (along * forward - aside * left), start[1] - leg * length * up];
    ends.set(part, end);
    return { part, from: start, to: end, length: leg * length, leftOut: !pose.directions[part] };
  });
}

/** The colour of a part: of its side, or ink. */
export const inkOf = (part: string): string =>
  part.endsWith('.R') ? 'var(--right)' : part.endsWith('.L') ? 'var(--left)' : 'var(--ink)';

/** A part as a stroke of the pencil; in dots where the pose leaves it out. */
export const PartStroke = ({ line: { part, from, to, leftOut }, width }: { line: PartLine; width: number }) => (
  <line
    x1={from[0]}
    y1={from[1]}
    x2={to[0]}
    y2={to[1]}
    stroke={inkOf(part)}
    strokeWidth={width}
    strokeLinecap="round"
    strokeDasharray={leftOut ? '1 7' : undefined}
  />
);

const [SIZE, SCALE] = [44, 17];

/** A pose as a few lines; nothing of what has no body. */
export function OwnPoseFigure({ pose }: { pose: Pose }) {
  const lines = poseLines(pose, [SIZE / 2, 24], SCALE).filter(({ leftOut }) => !leftOut);
  if (lines.length === 0) return null;
  return (
    <svg width={SIZE} height={SIZE} viewBox={`0 0 ${SIZE} ${SIZE}`} role="img" aria-label="The pose">
      {lines.map((line) => (
        <PartStroke key={line.part} line={line} width={1.6} />
      ))}
    </svg>
  );
}
