import type { FixedPoint } from '../motion/feet/foot-points.ts';
import type { Motion } from '../motion/motion.ts';
import { conjugate, multiply, type Quat, quatAt, rotate, unit } from '../motion/quaternion.ts';
import { add, length, subtract, type Vec3 } from '../motion/vector.ts';
import type { LoosePose } from '../posing/loose-pose.ts';
import { type Limb, limbTurns } from '../posing/two-bone.ts';

/**
 * A motion that is being changed: its own copy, so that what is not touched keeps every bit. Bones keep their lengths, because only rotations change, and the
 * places of the joints that move by themselves.
 */
export class MotionEditor {
  /** The motion as it is so far. */
  readonly motion: Motion;
  private readonly slots: Int32Array;
  private readonly count: number;

  constructor(source: Motion) {
    this.motion = { ...source, rotations: source.rotations.slice(), translations: source.translations.slice() };
    this.count = source.joints.length;
    this.slots = new Int32Array(this.count).fill(-1);
    source.moving.forEach((joint, slot) => (this.slots[joint] = slot));
  }

  local(frame: number, joint: number): Quat {
    return quatAt(this.motion.rotations, frame * this.count + joint);
  }

  setLocal(frame: number, joint: number, rotation: Quat): void {
    this.motion.rotations.set(unit(rotation), 4 * (frame * this.count + joint));
  }

  /** Local place of a joint, its offset included. */
  ownPlace(frame: number, joint: number): Vec3 {
    const slot = this.slots[joint]!;
    if (slot < 0) return this.motion.joints[joint]!.offset;
    const k = 3 * (frame * this.motion.moving.length + slot);
    const t = this.motion.translations;
    return [t[k]!, t[k + 1]!, t[k + 2]!];
  }

  setOwnPlace(frame: number, joint: number, place: Vec3): void {
    this.motion.translations.set(place, 3 * (frame * this.motion.moving.length + this.slots[joint]!));
  }

  moves(joint: number): boolean {
    return this.slots[joint]! >= 0;
  }

  /** How a joint is turned, in the file's axes. */
  turn(frame: number, joint: number): Quat {
    let q = this.local(frame, joint);
    for (let j = this.motion.joints[joint]!.parent; j >= 0; j = this.motion.joints[j]!.parent)
      q = multiply(this.local(frame, j), q);
    return q;
  }

  /** Where a point that is fixed to a joint is, in the file's axes. */
  pointAt(frame: number, { joint, local }: FixedPoint): Vec3 {
    let point = local;
    for (let j = joint; j >= 0; j = this.motion.joints[j]!.parent)
      point = add(this.ownPlace(frame, j), rotate(this.local(frame, j), point));
    return point;
  }

  place(frame: number, joint: number): Vec3 {
    return this.pointAt(frame, { joint, local: [0, 0, 0] });
  }

  /** Turns a joint, and all that hangs from it, to a rotation of the file's axes. */
  face(frame: number, joint: number, rotation: Quat): void {
    const { parent } = this.motion.joints[joint]!;
    this.setLocal(frame, joint, parent < 0 ? rotation : multiply(conjugate(this.turn(frame, parent)), rotation));
  }

  /** Turns a joint, and all that hangs from it, by a rotation of the file's axes. */
  turnBy(frame: number, joint: number, by: Quat): void {
    this.face(frame, joint, multiply(by, this.turn(frame, joint)));
  }

  /** Moves a joint that moves by itself, and all that hangs from it, by so much of the file's axes. */
  shift(frame: number, joint: number, by: Vec3): void {
    const { parent } = this.motion.joints[joint]!;
    const own = parent < 0 ? by : rotate(conjugate(this.turn(frame, parent)), by);
    this.setOwnPlace(frame, joint, add(this.ownPlace(frame, joint), own));
  }

  /**
   * Bends a limb until its end is at a place; no bone is stretched.
   * @param towards the way a straight limb bends, in the file's axes
   * @returns how far from the place it stays, units
   */
  reach(frame: number, { upper, middle, end }: Limb, target: Vec3, towards: Vec3): number {
    const places = [this.place(frame, upper), this.place(frame, middle), this.place(frame, end)] as const;
    const { bend, aim } = limbTurns(places, target, towards);
    this.turnBy(frame, middle, bend);
    this.turnBy(frame, upper, aim);
    return length(subtract(this.place(frame, end), target));
  }

  /** Puts a whole pose at a frame: only the joints that differ. */
  put(frame: number, { rotations, translations }: LoosePose): void {
    const width = 3 * this.motion.moving.length;
    this.motion.rotations.set(rotations, 4 * frame * this.count);
    this.motion.translations.set(translations, frame * width);
  }
}
