import { jointIndex } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { angleBetween, type Quat, quatAt, vec3At } from '../motion/quaternion.ts';
import { angleBetweenDirections, dot, length, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { figureAxes } from '../motion/way.ts';
import { Body } from '../quantity/body.ts';
import { directionsIn } from '../quantity/directions.ts';
import { quantitySignal } from '../quantity/measure-quantity.ts';
import type { LoosePose } from './loose-pose.ts';

/** What is wanted of a pose: as little of it as differs from what is there. */
export interface WantedPose {
  /** Local rotations of the joints that are turned, by name. */
  readonly turns: Readonly<Record<string, Quat>>;
  /** Local places of the joints that are moved by themselves, by name; of points on pictures where they are wanted. */
  readonly moved: Readonly<Record<string, Vec3>>;
  /** Where the parts that changed should point: in the figure's own forward, left and up. */
  readonly directions: Readonly<Record<string, Vec3>>;
  /** Where the joint that was pulled should be: ahead of the hips and beside them, and over the ground, %L. Empty where none was. */
  readonly places: Readonly<Record<string, Vec3>>;
}

/** As much of a pose as a later one can be held against. */
export type ToldPose = Pick<WantedPose, 'directions' | 'places'>;

export const NOTHING_WANTED: WantedPose = Object.freeze({ turns: {}, moved: {}, directions: {}, places: {} });

/** A rotation, degrees, or a part's direction, that differs by less is the same. */
const SAME = 0.1;
/** A place that differs by less than this, %L, is the same. */
const SAME_PLACE = 0.1;

/** What differs between the pose of a shot at a sample and the one that is wanted. */
export function wantedPose(
  shot: PreparedShot,
  sample: number,
  now: LoosePose,
  wanted: LoosePose,
  pulled: readonly string[],
): WantedPose {
  const { joints, moving } = shot.motion;
  const named = <T>(list: readonly (readonly [joint: number, value: T])[]): Record<string, T> =>
    Object.fromEntries(list.map(([joint, value]) => [joints[joint]!.name, value]));
  const turned = joints.flatMap((_, joint): [number, Quat][] => {
    const q = quatAt(wanted.rotations, joint);
    return angleBetween(quatAt(now.rotations, joint), q) > SAME / 10 ? [[joint, q.map(toSix) as unknown as Quat]] : [];
  });
  const moved = moving.flatMap((joint): [number, Vec3][] => {
    const [was, is] = [now.ownPlace(joint)!, wanted.ownPlace(joint)!];
    const far = (100 * length(subtract(is, was))) / shot.scale.legLength > SAME_PLACE / 10;
    return far ? [[joint, is.map(toSix) as unknown as Vec3]] : [];
  });
  const before = directionsIn(shot, sample, now.world);
  const directions = Object.entries(directionsIn(shot, sample, wanted.world)).filter(
    ([part, direction]) => angleBetweenDirections(before[part]!, direction) > SAME,
  );
  const places = pulled.flatMap((name) => {
    const place = placeIn(shot, sample, wanted, name);
    return place ? [[name, place] as const] : [];
  });
  return {
    turns: named(turned),
    moved: named(moved),
    directions: Object.fromEntries(directions.map(([part, v]) => [part, v.map(toSix) as unknown as Vec3])),
    places: Object.fromEntries(places),
  };
}

const toSix = (value: number): number => Math.round(value * 1e6) / 1e6 + 0;

/** The pose that is wanted, put on a figure's own at a sample: joints it does not have are left out. */
export function poseWanted(shot: PreparedShot, own: LoosePose, { turns, moved }: WantedPose): LoosePose {
  const at = (name: string): number => jointIndex(shot.motion, name);
  const turned = Object.entries(turns).reduce(
    (pose, [name, q]) => (at(name) < 0 ? pose : pose.withLocal(at(name), q)),
    own,
  );
  return Object.entries(moved).reduce(
    (pose, [name, place]) => (pose.ownPlace(at(name)) ? pose.withPlace(at(name), place) : pose),
    turned,
  );
}

/** What a pose is told by: where its parts point, and where joints are. */
export const toldPose = (shot: PreparedShot, sample: number, pose: LoosePose, joints: readonly string[]): ToldPose => ({
  directions: Object.fromEntries(
    Object.entries(directionsIn(shot, sample, pose.world)).map(([part, v]) => [part, v.map(toSix) as unknown as Vec3]),
  ),
  places: Object.fromEntries(
    joints.flatMap((name) => {
      const place = placeIn(shot, sample, pose, name);
      return place ? [[name, place]] : [];
    }),
  ),
});

/** Where a joint is in a pose, %L: ahead of the middle of the hips and to its left, and over the ground; undefined where that can't be told. */
function placeIn(shot: PreparedShot, sample: number, pose: LoosePose, name: string): Vec3 | undefined {
  const joint = jointIndex(shot.motion, name);
  if (joint < 0) return undefined;
  const height = quantitySignal(shot, 'height', name);
  if (typeof height === 'string') return undefined;
  const [ahead, left, up] = figureAxes(shot, sample);
  const n = shot.motion.joints.length;
  const percent = 100 / shot.scale.legLength;
  const at = pose.place(joint);
  const was = vec3At(shot.world.positions, sample * n + joint);
  const middle = new Body(shot).hipMiddle ?? [];
  const hips = middle.reduce<Vec3>(
    (sum, own) => pose.place(own).map((v, c) => sum[c]! + v / middle.length) as unknown as Vec3,
    [0, 0, 0],
  );
  const from = scale(subtract(at, hips), percent);
  const over = height[sample]! + percent * dot(subtract(at, was), up);
  return [dot(from, ahead), dot(from, left), over].map(toTwo) as unknown as Vec3;
}

const toTwo = (value: number): number => Math.round(value * 100) / 100 + 0;
