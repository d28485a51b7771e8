import { loopPeriod } from '../motion/loop.ts';
import { childrenOf, type Joint, restPositions } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { Role } from '../motion/role.ts';
import { vec3At } from '../motion/quaternion.ts';
import { add, cross, dot, length, normalise, reject, scale, subtract, type Vec3 } from '../motion/vector.ts';

/** A direction on a body that can be seen at every sample: from one place to another, or an axis that is fixed to a joint. */
export type Direction =
  | { readonly from: readonly number[]; readonly to: readonly number[] }
  | { readonly joint: number; readonly local: Vec3 };

export const SIDES = ['L', 'R'] as const;
export type Side = (typeof SIDES)[number];

/** An end that at rest leans from up by more than this does not point out of the top of a head. */
const CROWN = Math.cos(Math.PI / 4);

/** A limb that is bent by more than this at rest shows which way it bends. */
const BENT_AT_REST = Math.cos((8 * Math.PI) / 180);

/** Where the parts of a figure are: joints and directions by the names quantities have for them. What a figure lacks is refused with a reason. */
export class Body {
  readonly rest: Float64Array;
  private readonly children: readonly (readonly number[])[];

  constructor(readonly shot: PreparedShot) {
    this.rest = restPositions(shot.motion.joints);
    this.children = childrenOf(shot.motion.joints);
  }

  /** Samples that count: a loop's period. */
  get samples(): number {
    return loopPeriod(this.shot.loop, this.shot.motion.frames);
  }

  joint(...roles: Role[]): number | undefined {
    return roles.map((role) => this.shot.roles[role]).find((joint) => joint !== undefined);
  }

  /** The two joints of a pair, left first. */
  pair(role: 'thigh' | 'upperArm'): readonly [number, number] | undefined {
    const [left, right] = [this.joint(`${role}.L`), this.joint(`${role}.R`)];
    return left === undefined || right === undefined ? undefined : [left, right];
  }

  /** The middle between the hip joints: the joints whose mean place it is. */
  get hipMiddle(): readonly number[] | undefined {
    const hips = this.joint('hips');
    return this.pair('thigh') ?? (hips === undefined ? undefined : [hips]);
  }

  /** The direction a part points in, from below to above of the trunk, the neck and the head, from its upper end to its lower one of a limb. */
  direction(of: string): Direction | undefined {
    const [part, side] = of.split('.') as [string, Side | undefined];
    if (part === 'trunk') return between(this.hipMiddle, this.joint('neck', 'head'));
    if (part === 'neck') return between(this.joint('neck'), this.joint('head'));
    if (part === 'head') return this.crown();
    if (side === undefined) return undefined;
    if (part === 'thigh') return between(this.joint(`thigh.${side}`), this.joint(`shin.${side}`));
    if (part === 'shin') return between(this.joint(`shin.${side}`), this.joint(`foot.${side}`));
    if (part === 'upperArm') return between(this.joint(`upperArm.${side}`), this.joint(`foreArm.${side}`));
    if (part === 'foreArm') return between(this.joint(`foreArm.${side}`), this.joint(`hand.${side}`));
    if (part === 'hand') return this.outOf(this.joint(`hand.${side}`));
    return undefined;
  }

  /** The way a foot's sole points at rest, level, fixed to the foot; forward where the foot has neither toe nor end. */
  sole(side: Side): Direction | undefined {
    const foot = this.joint(`foot.${side}`);
    if (foot === undefined) return undefined;
    const { axes, motion } = this.shot;
    const toe = this.joint(`toe.${side}`);
    const way = toe === undefined ? motion.joints[foot]!.ends[0] : subtract(this.at(toe), this.at(foot));
    const level = way && reject(way, axes.up);
    const ahead = level && dot(level, axes.forward) > 0 && length(level) > 0 ? normalise(level) : axes.forward;
    return { joint: foot, local: ahead };
  }

  /** Where a joint leads: to what hangs from it, or to its end. */
  outOf(joint: number | undefined): Direction | undefined {
    if (joint === undefined) return undefined;
    const { joints } = this.shot.motion;
    const next = this.children[joint]!.filter((child) => length(joints[child]!.offset) > 0);
    // A hand points where its fingers do, not its thumb.
    const leads = next.filter((child) => !isThumb(joints[child]!));
    if (leads.length > 0) return { from: [joint], to: leads };
    const end = joints[joint]!.ends.find((own) => length(own) > 0);
    return end && { joint, local: normalise(end) };
  }

  /** At rest the direction in which a knee, an elbow or a hand bends, fixed to the part above it: the calf behind, the forearm before. */
  bendsTowards(of: string): Direction | undefined {
    const [part, side] = of.split('.') as [string, Side];
    const { axes } = this.shot;
    const limb = part === 'knee' ? (['thigh', 'shin', 'foot'] as const) : (['upperArm', 'foreArm', 'hand'] as const);
    const [upper, middle, lower] = limb.map((role) => this.joint(`${role}.${side}`));
    if (upper === undefined || middle === undefined || lower === undefined) return undefined;
    const along = normalise(subtract(this.at(middle), this.at(upper)));
    const on = normalise(subtract(this.at(lower), this.at(middle)));
    // A limb that is bent at rest shows it.
    const ways: Vec3[] =
      dot(along, on) < BENT_AT_REST
        ? [on]
        : part === 'knee'
          ? [scale(axes.forward, -1), axes.up]
          : [axes.forward, axes.up];
    const way = ways.find((own) => Math.abs(dot(own, along)) < (ways.length > 1 ? 0.8 : 1)) ?? axes.up;
    return { joint: upper, local: normalise(reject(way, along)) };
  }

  /** Where the palm of a hand faces, fixed to the forearm's end: known of a hand with a thumb. */
  palm(side: Side): Direction | undefined {
    const hand = this.joint(`hand.${side}`);
    const out = this.outOf(hand);
    if (hand === undefined || !out || !('from' in out)) return undefined;
    const thumb = this.children[hand]!.find((child) => isThumb(this.shot.motion.joints[child]!));
    if (thumb === undefined) return undefined;
    const fingers = subtract(this.middle(out.to), this.at(hand));
    const aside = subtract(this.at(thumb), this.at(hand));
    const sign = side === 'L' ? 1 : -1;
    const facing = scale(cross(fingers, aside), sign);
    return length(facing) > 0 ? { joint: hand, local: normalise(facing) } : undefined;
  }

  /** Joints of the fingers: all that hangs from a hand and leads on. */
  fingers(side: Side): readonly number[] {
    const hand = this.joint(`hand.${side}`);
    if (hand === undefined) return [];
    const below = (joint: number): number[] => [joint, ...this.children[joint]!.flatMap(below)];
    return this.children[hand]!.flatMap(below).filter((joint) => this.outOf(joint) !== undefined);
  }

  private crown(): Direction | undefined {
    const head = this.joint('head');
    if (head === undefined) return undefined;
    const { up } = this.shot.axes;
    const end = this.shot.motion.joints[head]!.ends.find(
      (own) => dot(own, up) > CROWN * length(own) && length(own) > 0,
    );
    return { joint: head, local: end ? normalise(end) : up };
  }

  private at(joint: number): Vec3 {
    return vec3At(this.rest, joint);
  }

  private middle(joints: readonly number[]): Vec3 {
    return scale(
      joints.reduce<Vec3>((sum, joint) => add(sum, this.at(joint)), [0, 0, 0]),
      1 / joints.length,
    );
  }
}

const isThumb = ({ name }: Joint): boolean => /thumb/i.test(name);

const between = (from: number | readonly number[] | undefined, to: number | undefined): Direction | undefined =>
  from === undefined || to === undefined ? undefined : { from: typeof from === 'number' ? [from] : from, to: [to] };
