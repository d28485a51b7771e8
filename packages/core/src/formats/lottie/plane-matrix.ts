/** A transform of the plane: a point x, y comes to a·x + c·y + e, b·x + d·y + f. */
export type PlaneMatrix = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

export const UNMOVED: PlaneMatrix = [1, 0, 0, 1, 0, 0];

/** What is moved by `inner` and then by `outer`. */
export const within = ([a, b, c, d, e, f]: PlaneMatrix, [p, q, r, s, t, u]: PlaneMatrix): PlaneMatrix => [
  a * p + c * q,
  b * p + d * q,
  a * r + c * s,
  b * r + d * s,
  a * t + c * u + e,
  b * t + d * u + f,
];

/** Where a point comes to. */
export const placeOf = ([a, b, c, d, e, f]: PlaneMatrix, x: number, y: number): readonly [number, number] => [
  a * x + c * y + e,
  b * x + d * y + f,
];

const turned = (degrees: number): PlaneMatrix => {
  const angle = (degrees * Math.PI) / 180;
  return [Math.cos(angle), Math.sin(angle), -Math.sin(angle), Math.cos(angle), 0, 0];
};

/** The numbers of a layer's own transform: y down, degrees clockwise, scales 1 for full size. */
export interface LayerPose {
  readonly anchor: readonly number[];
  readonly position: readonly number[];
  readonly scale: readonly number[];
  readonly rotation: number;
  readonly skew: number;
  readonly skewAxis: number;
}

/**
 * The transform of a layer or a group (*Lottie Specification 1.0*, transform): its anchor is brought to 0, scaled, skewed along its axis, turned, and put at
 * its position.
 */
export function poseMatrix({ anchor, position, scale, rotation, skew, skewAxis }: LayerPose): PlaneMatrix {
  const turn = within([1, 0, 0, 1, position[0]!, position[1]!], turned(rotation));
  const slanted =
    skew === 0
      ? turn
      : within(
          turn,
          within(turned(-skewAxis), within([1, 0, Math.tan((-skew * Math.PI) / 180), 1, 0, 0], turned(skewAxis))),
        );
  return within(within(slanted, [scale[0]!, 0, 0, scale[1]!, 0, 0]), [1, 0, 0, 1, -anchor[0]!, -anchor[1]!]);
}
