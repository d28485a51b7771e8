import type { PreparedShot } from '../motion/prepared-shot.ts';
import { subtract, type Vec3 } from '../motion/vector.ts';
import { quantitiesAbout } from '../quantity/about-point.ts';
import { LoosePose } from './loose-pose.ts';
import { pullJoint, putBack } from './pull.ts';
import { type PoseSource, takePose } from './take-pose.ts';
import { turnQuantity } from './turn-quantity.ts';
import { poseWanted, type WantedPose, wantedPose } from './wanted-pose.ts';

/** The pose that is wanted at a sample: the figure's own there, with what is wanted put on it. */
export const posedAs = (shot: PreparedShot, sample: number, wanted: WantedPose): LoosePose =>
  poseWanted(shot, LoosePose.at(shot.motion, sample), wanted);

/** What is wanted once something has been done to the pose; `pulled` are joints whose places are wanted from then on. */
function changed(
  shot: PreparedShot,
  sample: number,
  wanted: WantedPose,
  change: (pose: LoosePose) => LoosePose,
  pulled: readonly string[] = [],
): WantedPose {
  const now = LoosePose.at(shot.motion, sample);
  const names = [...new Set([...Object.keys(wanted.places), ...pulled])];
  return wantedPose(shot, sample, now, change(poseWanted(shot, now, wanted)), names);
}

/** With a joint pulled to a place; see {@link pullJoint}. A point of a picture that hangs from nothing goes there by itself. */
export function withPulled(
  shot: PreparedShot,
  sample: number,
  wanted: WantedPose,
  joint: number,
  target: Vec3,
): WantedPose | undefined {
  const { name, parent } = shot.motion.joints[joint]!;
  const pull = (pose: LoosePose): LoosePose => {
    if (shot.isFlat && parent < 0 && pose.ownPlace(joint))
      return pose.moved(joint, subtract(target, pose.place(joint)));
    return pullJoint(shot, sample, pose, joint, target);
  };
  return wherePossible(() => changed(shot, sample, wanted, pull, [name]));
}

/** What nothing carries can't be pulled, and stays. */
function wherePossible(work: () => WantedPose): WantedPose | undefined {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) return undefined;
    throw error;
  }
}

/** With the usual quantity of a joint turned by so much, degrees or %L; undefined where it has none. */
export function withTurned(
  shot: PreparedShot,
  sample: number,
  wanted: WantedPose,
  joint: number,
  by: number,
): WantedPose | undefined {
  const { name } = shot.motion.joints[joint]!;
  const [usual] = quantitiesAbout(shot, name);
  if (!usual) return undefined;
  let turned = false;
  const turn = (pose: LoosePose): LoosePose => {
    const own = turnQuantity(shot, sample, pose, usual, by);
    turned = own !== undefined;
    return own?.pose ?? pose;
  };
  const next = wherePossible(() => changed(shot, sample, wanted, turn));
  return turned ? next : undefined;
}

/** With some of its parts as they are somewhere else; see {@link takePose}. */
export const withTaken = (
  shot: PreparedShot,
  sample: number,
  wanted: WantedPose,
  from: PoseSource,
  parts?: readonly string[],
): WantedPose => changed(shot, sample, wanted, (pose) => takePose(shot, sample, pose, from, parts));

/** With the joints of a part as they are, and nothing wanted of them any more. */
export function withoutPart(
  shot: PreparedShot,
  sample: number,
  wanted: WantedPose,
  part: string,
  partOf: (joint: number) => string,
): WantedPose {
  const now = LoosePose.at(shot.motion, sample);
  const own = shot.motion.joints.flatMap((_, joint) => (partOf(joint) === part ? [joint] : []));
  const names = new Set(own.map((joint) => shot.motion.joints[joint]!.name));
  const places = Object.fromEntries(Object.entries(wanted.places).filter(([name]) => !names.has(name)));
  return changed(shot, sample, { ...wanted, places }, (pose) =>
    own.reduce((so, joint) => putBack(so, now, joint), pose),
  );
}
