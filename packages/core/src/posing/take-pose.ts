import { partners, reflect } from '../measure/cycle/mirror.ts';
import { jointParts } from '../measure/parts.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { axisAngle, conjugate, multiply, type Quat, quatAt, shortestTurn } from '../motion/quaternion.ts';
import type { Role } from '../motion/role.ts';
import { add, dot, scale, type Vec3 } from '../motion/vector.ts';
import { findContacts } from '../motion/feet/contacts.ts';
import { figureAxes, wayOf } from '../motion/way.ts';
import { Body } from '../quantity/body.ts';
import { directionAt, quantitySignal } from '../quantity/measure-quantity.ts';
import { poseDirections } from '../quantity/directions.ts';
import { LoosePose } from './loose-pose.ts';
import { carriedBy } from './pull.ts';

/** Where a pose is taken from: a sample of a shot, as it is or mirrored in the figure's own plane. */
export interface PoseSource {
  readonly shot: PreparedShot;
  readonly sample: number;
  readonly mirrored?: boolean;
}

/**
 * A pose with some of its parts as they are in another frame, of the same shot or of another figure's. Of the same skeleton every rotation is taken; of
 * another each part is turned the way it points there. How high the hips are comes along with them; where they are over the ground does not.
 *
 * @param sample where the pose stands in its shot
 * @param parts parts that are taken (`hips`, `spine`, `head`, `arm.L` …); all of them where none are given
 */
export function takePose(
  shot: PreparedShot,
  sample: number,
  pose: LoosePose,
  from: PoseSource,
  parts?: readonly string[],
): LoosePose {
  const wanted = (part: string | undefined): boolean => part !== undefined && (!parts || parts.includes(part));
  const same = isSameSkeleton(shot, from.shot);
  const taken = same ? takenTurns(shot, sample, pose, from, wanted) : takenDirections(shot, sample, pose, from, wanted);
  return wanted('hips') ? atHeight(shot, taken, from) : taken;
}

const isSameSkeleton = (a: PreparedShot, b: PreparedShot): boolean =>
  a.motion.joints.length === b.motion.joints.length &&
  a.motion.joints.every(
    ({ name, parent }, j) => b.motion.joints[j]!.name === name && b.motion.joints[j]!.parent === parent,
  );

/** The rotation about up by which a figure's way at a sample is turned from where it faces at rest. */
const wayTurn = (shot: PreparedShot, sample: number): Quat => {
  const { turn } = wayOf(shot);
  return axisAngle(shot.axes.up, turn[shot.loop === 'none' ? sample : sample % turn.length]!);
};

function takenTurns(
  shot: PreparedShot,
  sample: number,
  pose: LoosePose,
  { shot: other, sample: at, mirrored = false }: PoseSource,
  wanted: (part: string | undefined) => boolean,
): LoosePose {
  const part = jointParts(shot);
  const partner = partners(shot);
  const n = shot.motion.joints.length;
  const [here, there] = [wayTurn(shot, sample), wayTurn(other, at)];
  return shot.motion.joints.reduce((own, { parent }, joint) => {
    const source = mirrored ? partner[joint]! : joint;
    if (source < 0 || !wanted(part[joint])) return own;
    const local = quatAt(other.motion.rotations, at * n + source);
    // What hangs from nothing also says which way the figure goes.
    const facing = parent < 0 ? multiply(conjugate(there), local) : local;
    const turned = mirrored ? reflect(facing, shot.axes.left) : facing;
    return own.withLocal(joint, parent < 0 ? multiply(here, turned) : turned);
  }, pose);
}

/** The joint that turns each part, from the trunk outwards: what hangs from another comes after it. */
const TURNED: readonly (readonly [part: string, joint: Role])[] = [
  ['trunk', 'spine'],
  ['neck', 'neck'],
  ['head', 'head'],
  ...(['L', 'R'] as const).flatMap((side): [string, Role][] => [
    [`thigh.${side}`, `thigh.${side}`],
    [`shin.${side}`, `shin.${side}`],
    [`upperArm.${side}`, `upperArm.${side}`],
    [`foreArm.${side}`, `foreArm.${side}`],
    [`hand.${side}`, `hand.${side}`],
  ]),
];
/** A trunk is turned by its lowest joint about another place than it is told by: so many rounds bring it there. */
const ROUNDS = 6;

function takenDirections(
  shot: PreparedShot,
  sample: number,
  pose: LoosePose,
  { shot: other, sample: at, mirrored = false }: PoseSource,
  wanted: (part: string | undefined) => boolean,
): LoosePose {
  const theirs = new Map(poseDirections(other).map(({ part, at: read }) => [part, read(at)]));
  const axes = figureAxes(shot, sample);
  const parts = jointParts(shot);
  return TURNED.reduce((own, [part, role]) => {
    const joint = shot.roles[role] ?? (role === 'spine' ? shot.roles.chest : undefined);
    const told = theirs.get(mirrored ? otherSide(part) : part);
    if (joint === undefined || told === undefined || !wanted(parts[joint])) return own;
    const [ahead, left, up] = told;
    const to = add(add(scale(axes[0], ahead), scale(axes[1], mirrored ? -left : left)), scale(axes[2], up));
    let turned = own;
    for (let round = 0; round < (part === 'trunk' ? ROUNDS : 1); round++) {
      const now = pointsTo(shot, turned, part);
      if (!now) return own;
      turned = turned.turned(joint, shortestTurn(now, to));
    }
    return turned;
  }, pose);
}

const otherSide = (part: string): string =>
  part.endsWith('.L') ? `${part.slice(0, -2)}.R` : part.endsWith('.R') ? `${part.slice(0, -2)}.L` : part;

/** Where a part of a pose points, in the file's axes. */
function pointsTo(shot: PreparedShot, pose: LoosePose, part: string): Vec3 | undefined {
  const direction = new Body(shot).direction(part);
  return (
    direction && (directionAt({ motion: shot.motion, world: pose.world }, direction)(0).slice() as unknown as Vec3)
  );
}

/** The hips as high over the ground as they are there, as a share of each figure's own legs. */
function atHeight(shot: PreparedShot, pose: LoosePose, { shot: other, sample }: PoseSource): LoosePose {
  const [own, theirs] = [shot.roles.hips, other.roles.hips];
  const height = quantitySignal(other, 'height', 'hips');
  if (own === undefined || theirs === undefined || typeof height === 'string') return pose;
  const { up } = shot.axes;
  const now = (100 * (dot(pose.place(own), up) - findContacts(shot).ground)) / shot.scale.legLength;
  const by = scale(up, ((height[sample]! - now) * shot.scale.legLength) / 100);
  return carriedBy(shot, pose, own, by) ?? pose;
}
