import { type Accessor, Document, type Node, WebIO } from '@gltf-transform/core';
import { conjugate, multiply, type Quat } from '../../motion/quaternion.ts';
import type { Motion } from '../../motion/motion.ts';
import { type UpAxis } from '../../motion/axes.ts';
import type { WriteOptions } from '../format.ts';
import type { Vec3 } from '../../motion/vector.ts';

/** Turns that bring an axis to +Y. */
const TO_UP: Readonly<Record<UpAxis, Quat>> = {
  '+Y': [0, 0, 0, 1],
  '-Y': [1, 0, 0, 0],
  '+Z': [-Math.SQRT1_2, 0, 0, Math.SQRT1_2],
  '-Z': [Math.SQRT1_2, 0, 0, Math.SQRT1_2],
  '+X': [0, 0, Math.SQRT1_2, Math.SQRT1_2],
  '-X': [0, 0, -Math.SQRT1_2, Math.SQRT1_2],
};

/** A document of a motion, before it is bytes: a node each joint, and an animation. */
export interface MotionDocument {
  readonly document: Document;
  /** By joint. */
  readonly nodes: readonly Node[];
  /** Brings a place or a direction of the motion into the file. */
  turned(v: Vec3): [number, number, number];
}

/** What a document is made with beside how its motion lies. */
export interface DocumentOptions extends WriteOptions {
  /** Samples at which a joint has a key, rising; default: every one. */
  readonly keyed?: (joint: number) => readonly number[];
}

/** Makes a document of a motion (Khronos, *glTF 2.0 Specification*): metres, +Y up. */
export function documentOf(motion: Motion, { keyed, ...options }: DocumentOptions = {}): MotionDocument {
  const { joints, frames, fps, rotations, moving, translations } = motion;
  const size = options.metresPerUnit ?? motion.metresPerUnit ?? 1;
  const turn = TO_UP[options.up ?? '+Y'];
  const back = conjugate(turn);
  const document = new Document();
  document.getRoot().getAsset().generator = 'Ypsigraph';
  const buffer = document.createBuffer();
  const floats = (values: Float32Array<ArrayBuffer>, type: 'SCALAR' | 'VEC3' | 'VEC4') =>
    document.createAccessor().setArray(values).setType(type).setBuffer(buffer);
  const turned = (v: Vec3): [number, number, number] => rotateBy(turn, [v[0] * size, v[1] * size, v[2] * size]);
  const nodes = joints.map(({ name, offset }) => document.createNode(name).setTranslation(turned(offset)));
  const scene = document.createScene('shot');
  document.getRoot().setDefaultScene(scene);
  joints.forEach(({ parent, ends }, j) => {
    if (parent < 0) scene.addChild(nodes[j]!);
    else nodes[parent]!.addChild(nodes[j]!);
    ends.forEach((end, k) => {
      const name = `${joints[j]!.name} end${k > 0 ? ` ${k + 1}` : ''}`;
      nodes[j]!.addChild(document.createNode(name).setTranslation(turned(end)));
    });
  });
  const all = Array.from({ length: frames }, (_, f) => f);
  const timesOf = (samples: readonly number[]): Accessor =>
    floats(
      Float32Array.from(samples, (f) => (f + (motion.lead ?? 0)) / fps),
      'SCALAR',
    );
  const everyFrame = keyed ? undefined : timesOf(all);
  const animation = document.createAnimation('motion');
  const channel = (
    j: number,
    path: 'rotation' | 'translation',
    times: Accessor,
    values: Float32Array<ArrayBuffer>,
  ): void => {
    const sampler = document
      .createAnimationSampler()
      .setInput(times)
      .setOutput(floats(values, path === 'rotation' ? 'VEC4' : 'VEC3'))
      .setInterpolation('LINEAR');
    animation.addSampler(sampler);
    animation.addChannel(
      document.createAnimationChannel().setTargetNode(nodes[j]!).setTargetPath(path).setSampler(sampler),
    );
  };
  joints.forEach((_, j) => {
    const samples = keyed?.(j) ?? all;
    const times = everyFrame ?? timesOf(samples);
    const values = new Float32Array(4 * samples.length);
    let before: Quat | undefined;
    samples.forEach((f, k) => {
      const r = 4 * (f * joints.length + j);
      const own: Quat = [rotations[r]!, rotations[r + 1]!, rotations[r + 2]!, rotations[r + 3]!];
      let q = multiply(multiply(turn, own), back);
      // One turn has two quaternions: neighbours take the one that is near.
      if (before && before.reduce((sum, value, n) => sum + value * q[n]!, 0) < 0) q = [-q[0], -q[1], -q[2], -q[3]];
      values.set(q, 4 * k);
      before = q;
    });
    channel(j, 'rotation', times, values);
    const slot = moving.indexOf(j);
    if (slot < 0) return;
    const moves = new Float32Array(3 * samples.length);
    samples.forEach((f, k) => {
      const at = 3 * (f * moving.length + slot);
      moves.set(turned([translations[at]!, translations[at + 1]!, translations[at + 2]!]), 3 * k);
    });
    channel(j, 'translation', times, moves);
  });
  return { document, nodes, turned };
}

/**
 * Writes a motion as a `.glb`: a node each joint, a key each frame, metres, +Y up. A file that is read again is the same motion, to the seven digits
 * that glTF keeps.
 *
 * @param options which axis of the motion is up, +Y where it is not said, and how many metres its unit is, 1 where nothing says it
 */
export const writeGltf = (motion: Motion, options: WriteOptions = {}): Promise<Uint8Array> =>
  new WebIO().writeBinary(documentOf(motion, options).document);

const rotateBy = (q: Quat, [x, y, z]: Vec3): [number, number, number] => {
  const [px, py, pz] = multiply(multiply(q, [x, y, z, 0]), conjugate(q));
  return [px, py, pz];
};
