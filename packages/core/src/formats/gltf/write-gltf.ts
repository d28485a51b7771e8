import { Document, WebIO } from '@gltf-transform/core';
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

/**
 * Writes a motion as a `.glb` (Khronos, *glTF 2.0 Specification*): a node each joint, a key each frame, metres, +Y up. A file that is read again by
 * {@link readGltf} is the same motion, to the seven digits that glTF keeps.
 *
 * @param options which axis of the motion is up, +Y where it is not said, and how many metres its unit is, 1 where nothing says it
 */
export async function writeGltf(motion: Motion, options: WriteOptions = {}): Promise<Uint8Array> {
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
    ends.forEach((end, k) =>
      nodes[j]!.addChild(
        document.createNode(`${joints[j]!.name} end${k > 0 ? ` ${k + 1}` : ''}`).setTranslation(turned(end)),
      ),
    );
  });
  const times = floats(
    Float32Array.from({ length: frames }, (_, f) => (f + (motion.lead ?? 0)) / fps),
    'SCALAR',
  );
  const animation = document.createAnimation('motion');
  const channel = (j: number, path: 'rotation' | 'translation', values: Float32Array<ArrayBuffer>): void => {
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
    const values = new Float32Array(4 * frames);
    let before: Quat | undefined;
    for (let f = 0; f < frames; f++) {
      const r = 4 * (f * joints.length + j);
      const own: Quat = [rotations[r]!, rotations[r + 1]!, rotations[r + 2]!, rotations[r + 3]!];
      let q = multiply(multiply(turn, own), back);
      // One turn has two quaternions: neighbours take the one that is near.
      if (before && before.reduce((sum, value, k) => sum + value * q[k]!, 0) < 0) q = [-q[0], -q[1], -q[2], -q[3]];
      values.set(q, 4 * f);
      before = q;
    }
    channel(j, 'rotation', values);
    const slot = moving.indexOf(j);
    if (slot < 0) return;
    const moves = new Float32Array(3 * frames);
    for (let f = 0; f < frames; f++) {
      const at = 3 * (f * moving.length + slot);
      moves.set(turned([translations[at]!, translations[at + 1]!, translations[at + 2]!]), 3 * f);
    }
    channel(j, 'translation', moves);
  });
  return new WebIO().writeBinary(document);
}

const rotateBy = (q: Quat, [x, y, z]: Vec3): [number, number, number] => {
  const [px, py, pz] = multiply(multiply(q, [x, y, z, 0]), conjugate(q));
  return [px, py, pz];
};
