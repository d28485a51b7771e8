import type { Motion } from '../motion/motion.ts';
import { worldPose, type WorldPose, worldPoseBelow } from '../motion/pose.ts';
import { conjugate, multiply, type Quat, quatAt, unit, vec3At } from '../motion/quaternion.ts';
import { add, type Vec3 } from '../motion/vector.ts';

type Skeleton = Pick<Motion, 'joints' | 'moving'>;

/**
 * One pose of a skeleton that can be bent: every change gives another pose and leaves this one as it is. Bones keep their lengths, because only rotations
 * change, and the places of the joints that move by themselves.
 */
export class LoosePose {
  private placed: WorldPose | undefined;

  private constructor(
    readonly skeleton: Skeleton,
    /** Local rotations, 4 numbers a joint. */
    readonly rotations: Float64Array,
    /** Local places of the joints that move, 3 numbers each. */
    readonly translations: Float64Array,
    /** The pose it was made from, and the joint whose turn alone is another. */
    private from?: { readonly pose: LoosePose; readonly joint: number },
  ) {}

  /** The pose of a motion at a sample. */
  static at(motion: Motion, sample: number): LoosePose {
    const [n, m] = [motion.joints.length, motion.moving.length];
    return new LoosePose(
      motion,
      motion.rotations.slice(4 * n * sample, 4 * n * (sample + 1)),
      motion.translations.slice(3 * m * sample, 3 * m * (sample + 1)),
    );
  }

  /** Where every joint is, and how it is turned, in the file's axes. */
  get world(): WorldPose {
    return (this.placed ??= this.placedNow());
  }

  private placedNow(): WorldPose {
    const { joints, moving } = this.skeleton;
    const { rotations, translations } = this;
    const pose = { joints, moving, frames: 1, fps: 1, rotations, translations };
    const { from } = this;
    // Poses that were bent one from another would all be kept.
    this.from = undefined;
    return from?.pose.placed ? worldPoseBelow(pose, from.pose.placed, from.joint) : worldPose(pose);
  }

  place(joint: number): Vec3 {
    return vec3At(this.world.positions, joint);
  }

  turn(joint: number): Quat {
    return quatAt(this.world.rotations, joint);
  }

  /** With another local rotation of a joint. */
  withLocal(joint: number, rotation: Quat): LoosePose {
    const rotations = this.rotations.slice();
    rotations.set(unit(rotation), 4 * joint);
    return new LoosePose(this.skeleton, rotations, this.translations, { pose: this, joint });
  }

  /** With a joint, and all that hangs from it, turned by a rotation of the file's axes. */
  turned(joint: number, by: Quat): LoosePose {
    return this.facing(joint, multiply(by, this.turn(joint)));
  }

  /** With a joint turned to a rotation of the file's axes. */
  facing(joint: number, rotation: Quat): LoosePose {
    const { parent } = this.skeleton.joints[joint]!;
    return this.withLocal(joint, parent < 0 ? rotation : multiply(conjugate(this.turn(parent)), rotation));
  }

  /** With another local place of a joint that moves by itself. @throws RangeError where the joint does not */
  withPlace(joint: number, place: Vec3): LoosePose {
    const slot = this.skeleton.moving.indexOf(joint);
    if (slot < 0) throw new RangeError('the joint does not move by itself');
    const translations = this.translations.slice();
    translations.set(place, 3 * slot);
    return new LoosePose(this.skeleton, this.rotations, translations);
  }

  /** The local place of a joint that moves by itself; undefined of one that hangs from its parent. */
  ownPlace(joint: number): Vec3 | undefined {
    const slot = this.skeleton.moving.indexOf(joint);
    return slot < 0 ? undefined : vec3At(this.translations, slot);
  }

  /** With a joint that moves by itself moved by so much of its parent's axes. */
  moved(joint: number, by: Vec3): LoosePose {
    return this.withPlace(joint, add(this.ownPlace(joint) ?? [0, 0, 0], by));
  }
}
