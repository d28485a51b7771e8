import type { UpAxis } from './axes.ts';
import type { KeyChannel } from './keys.ts';
import type { Vec3 } from './vector.ts';

/** One joint of a skeleton at rest. At rest every local rotation is the identity. */
export interface Joint {
  readonly name: string;
  /** Index of the parent joint, always smaller than the joint's own; −1 for a root. */
  readonly parent: number;
  /** From the parent's origin to this joint's, in the parent's axes, in the file's units. */
  readonly offset: Vec3;
  /** Where the joint ends when nothing hangs from it: zero, one or several points in its own axes. */
  readonly ends: readonly Vec3[];
}

/**
 * A skeleton and its motion over frames. Frame-major flat arrays, so that one frame lies together in memory.
 *
 * `rotations[4 * (frame * joints.length + joint)]` starts a local rotation x, y, z, w.
 * `translations[3 * (frame * moving.length + slot)]` starts the local translation (offset included) of joint
 * `moving[slot]`; joints that are not in `moving` keep their offset.
 */
export interface Motion {
  readonly joints: readonly Joint[];
  /** Number of samples N. */
  readonly frames: number;
  /** Samples a second. */
  readonly fps: number;
  readonly rotations: Float64Array;
  /** Joints with a translation of their own, in ascending order. */
  readonly moving: readonly number[];
  readonly translations: Float64Array;
  /** The axis that is up by the format itself; undefined where the format has none. */
  readonly up?: UpAxis;
  /** Metres of a unit by the format itself; undefined where the format, or its figure's size, says nothing of it. */
  readonly metresPerUnit?: number;
  /** The file says in seconds when everything is: at another rate it would be another motion. */
  readonly isTimed?: boolean;
  /** Frames from the file's time 0 to the first sample: what lies before is no motion. */
  readonly lead?: number;
  /** Everything the file holds that could have been read instead: names, the longest animation and the largest figure first. */
  readonly holds?: { readonly animations: readonly string[]; readonly figures: readonly string[] };
  /** The keys it was made of, where the format keeps them. */
  readonly keys?: readonly KeyChannel[];
  /**
   * Scales of joints that are scaled: `values[3 * (frame * joints.length + slot)]` starts those of joint `joints[slot]`, along the axes that are x, y
   * and z while the figure rests.
   */
  readonly scales?: { readonly joints: readonly number[]; readonly values: Float64Array };
  /** Blend shapes that move, where the format has any. */
  readonly weights?: readonly BlendShape[];
  /** Cameras of the shot, where the format has any. */
  readonly cameras?: readonly ShotCamera[];
  /** Things beside the figures, where the format has any: what hands hold, and what stands in the way. */
  readonly props?: readonly Prop[];
  /**
   * How thick the character is about each joint, where the format has its shape: six numbers a joint, how far what it carries reaches from it along −x, +x,
   * −y, +y, −z and +z while the figure rests; zero on a side of which that is not known.
   */
  readonly girths?: Float64Array;
  /** The character's own shape, for whoever draws it; nothing is measured of it. */
  readonly shape?: readonly ShapePiece[];
  /** The puppet it was read from, for whoever draws it; nothing is measured of it. */
  readonly drawn?: DrawnPuppet;
}

/** A blend shape of a figure's face or body: how far it is on at each sample, 0 to 1. */
export interface BlendShape {
  readonly name: string;
  readonly values: Float64Array;
}

/** A thing that is no part of a figure: where it is and which way it is turned at each sample, and the box around it. */
export interface Prop {
  readonly name: string;
  /** 3 numbers a sample. */
  readonly positions: Float64Array;
  /** 4 numbers a sample, x, y, z, w. */
  readonly rotations: Float64Array;
  /** Middle of its box and half its sides, in its own axes, the file's units. */
  readonly centre: Vec3;
  readonly half: Vec3;
  /** It fills its box: what lies within the box lies within it. */
  readonly isSolid: boolean;
  /** Its shape in its own axes, for whoever draws it: 3 numbers a vertex, 3 vertices a triangle. */
  readonly shape?: { readonly positions: Float32Array<ArrayBuffer>; readonly triangles: Uint32Array<ArrayBuffer> };
}

/** A camera of the shot: where it is and which way it is turned at each sample, looking along its own −z with its own y up. */
export interface ShotCamera {
  readonly name: string;
  /** 3 numbers a sample. */
  readonly positions: Float64Array;
  /** 4 numbers a sample, x, y, z, w. */
  readonly rotations: Float64Array;
  /** What it sees from bottom to top: degrees, or the file's units of one that sees everything at one size. */
  readonly sees: { readonly degrees: number } | { readonly units: number };
  /** Width over height of what it sees; undefined: of whatever it is shown on. */
  readonly aspect?: number;
}

/** A puppet as a document of its own that a player draws, a frame a sample, on a picture that stands upright in the plane of x and y. */
export interface DrawnPuppet {
  readonly document: object;
  readonly frames: number;
  /** Size of the picture in the motion's units. */
  readonly width: number;
  readonly height: number;
  /** Where its lower edge lies along y; its left one lies at 0. */
  readonly bottom: number;
}

/** A piece of a character's own shape, as it lies while the figure rests, in the file's axes and units. */
export interface ShapePiece {
  /** 3 numbers a vertex. */
  readonly positions: Float32Array<ArrayBuffer>;
  /** 3 numbers a vertex; undefined where the file has none. */
  readonly normals?: Float32Array<ArrayBuffer>;
  /** 3 vertices a triangle. */
  readonly triangles: Uint32Array<ArrayBuffer>;
  /** 4 joints a vertex, and how much each carries it. */
  readonly joints: Uint16Array<ArrayBuffer>;
  readonly weights: Float32Array<ArrayBuffer>;
  /** Blend shapes of it that move, by their names in {@link Motion.weights}: what each adds to every vertex once it is wholly on, 3 numbers a vertex. */
  readonly blends?: readonly { readonly name: string; readonly offsets: Float32Array<ArrayBuffer> }[];
  /** How its surface looks, where the file says so. */
  readonly paint?: ShapePaint;
}

/** How the surface of a shape looks: a colour, and a picture that is laid over it. */
export interface ShapePaint {
  /** Red, green and blue, 0 to 1, linear. */
  readonly colour: Vec3;
  readonly picture?: {
    readonly bytes: Uint8Array<ArrayBuffer>;
    readonly type: string;
    /** Where each vertex lies on the picture: 2 numbers a vertex, from its top left corner. */
    readonly places: Float32Array<ArrayBuffer>;
  };
  /** Where the picture lets through more than this, there is no surface. */
  readonly cutOut?: number;
  /** Seen from behind as well. */
  readonly isTwoSided: boolean;
}

/** Index of the joint called `name`, exactly or else in any case; −1 when there is none. */
export function jointIndex(motion: Pick<Motion, 'joints'>, name: string): number {
  const exact = motion.joints.findIndex((joint) => joint.name === name);
  if (exact >= 0) return exact;
  const lower = name.toLowerCase();
  return motion.joints.findIndex((joint) => joint.name.toLowerCase() === lower);
}

/** Local translation of a joint at a frame, offset included. */
export function translationAt(motion: Motion, frame: number, joint: number): Vec3 {
  const slot = motion.moving.indexOf(joint);
  if (slot < 0) return motion.joints[joint]!.offset;
  const at = 3 * (frame * motion.moving.length + slot);
  return [motion.translations[at]!, motion.translations[at + 1]!, motion.translations[at + 2]!];
}

/** Positions of all joints at rest (every rotation the identity), 3 numbers a joint, roots at their offset. */
export function restPositions(joints: readonly Joint[]): Float64Array {
  const positions = new Float64Array(3 * joints.length);
  joints.forEach((joint, j) => {
    for (let k = 0; k < 3; k++) {
      positions[3 * j + k] = joint.offset[k]! + (joint.parent >= 0 ? positions[3 * joint.parent + k]! : 0);
    }
  });
  return positions;
}

/** A motion without its first samples; what goes frame by frame beside its joints is cut as they are. */
export function withoutFirst(motion: Motion, count: number): Motion {
  const { scales, weights, cameras, props } = motion;
  const placed = <T extends { readonly positions: Float64Array; readonly rotations: Float64Array }>(own: T): T => ({
    ...own,
    positions: own.positions.slice(3 * count),
    rotations: own.rotations.slice(4 * count),
  });
  return {
    ...motion,
    frames: motion.frames - count,
    rotations: motion.rotations.slice(4 * motion.joints.length * count),
    translations: motion.translations.slice(3 * motion.moving.length * count),
    ...(scales && { scales: { ...scales, values: scales.values.slice(3 * scales.joints.length * count) } }),
    ...(weights && { weights: weights.map((own) => ({ ...own, values: own.values.slice(count) })) }),
    ...(cameras && { cameras: cameras.map(placed) }),
    ...(props && { props: props.map(placed) }),
  };
}

/** For every joint the indices of its children, in order. */
export function childrenOf(joints: readonly Joint[]): number[][] {
  const children: number[][] = joints.map(() => []);
  joints.forEach((joint, j) => {
    if (joint.parent >= 0) children[joint.parent]!.push(j);
  });
  return children;
}
