import { Document, WebIO } from '@gltf-transform/core';
import { axisAngle, type Quat } from '../src/motion/quaternion.ts';

/** A node of a rig that a test builds, with what hangs from it. */
export interface RigNode {
  readonly name: string;
  readonly at?: readonly [number, number, number];
  readonly turn?: Quat;
  readonly scale?: readonly [number, number, number];
  readonly children?: readonly RigNode[];
}

/** One channel: times in seconds, a value each (of a cubic spline three each: in-tangent, value, out-tangent). */
export interface RigChannel {
  readonly node: string;
  readonly path: 'rotation' | 'translation' | 'scale';
  readonly times: readonly number[];
  readonly values: readonly (readonly number[])[];
  readonly how?: 'LINEAR' | 'STEP' | 'CUBICSPLINE';
}

export interface Rig {
  readonly roots: readonly RigNode[];
  readonly animations: Readonly<Record<string, readonly RigChannel[]>>;
  /** Names of the joints of each skin, with a matrix each that brings what is bound into the joint; without one, no skin. */
  readonly skins?: readonly {
    readonly name: string;
    readonly joints: readonly string[];
    readonly binds?: readonly number[][];
  }[];
}

/** Builds a document of nodes, animations and skins by a library of its own, so that the reader is held against what others write. */
export function buildRig({ roots, animations, skins = [] }: Rig): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene('scene');
  document.getRoot().setDefaultScene(scene);
  const nodes = new Map<string, ReturnType<Document['createNode']>>();
  const build = ({ name, at, turn, scale, children = [] }: RigNode): ReturnType<Document['createNode']> => {
    const node = document.createNode(name);
    nodes.set(name, node);
    if (at) node.setTranslation([...at]);
    if (turn) node.setRotation([...turn]);
    if (scale) node.setScale([...scale]);
    for (const child of children) node.addChild(build(child));
    return node;
  };
  for (const root of roots) scene.addChild(build(root));
  const floats = (values: readonly number[], type: 'SCALAR' | 'VEC3' | 'VEC4' | 'MAT4') =>
    document.createAccessor().setArray(Float32Array.from(values)).setType(type).setBuffer(buffer);
  for (const [name, channels] of Object.entries(animations)) {
    const animation = document.createAnimation(name);
    for (const { node, path, times, values, how = 'LINEAR' } of channels) {
      const sampler = document
        .createAnimationSampler()
        .setInput(floats(times, 'SCALAR'))
        .setOutput(floats(values.flat(), path === 'rotation' ? 'VEC4' : 'VEC3'))
        .setInterpolation(how);
      const channel = document
        .createAnimationChannel()
        .setTargetNode(nodes.get(node)!)
        .setTargetPath(path)
        .setSampler(sampler);
      animation.addSampler(sampler).addChannel(channel);
    }
  }
  for (const { name, joints, binds } of skins) {
    const skin = document.createSkin(name);
    for (const joint of joints) skin.addJoint(nodes.get(joint)!);
    if (binds) skin.setInverseBindMatrices(floats(binds.flat(), 'MAT4'));
    // A skin that nothing wears would be left out.
    const shape = document
      .createMesh('shape')
      .addPrimitive(document.createPrimitive().setAttribute('POSITION', floats([0, 0, 0, 1, 0, 0, 0, 1, 0], 'VEC3')));
    scene.addChild(document.createNode(`${name} shape`).setMesh(shape).setSkin(skin));
  }
  return document;
}

export const glbOf = (rig: Rig): Promise<Uint8Array> => new WebIO().writeBinary(buildRig(rig));

/** A mast with a yard and a lamp at its end. */
export const MAST: RigNode = {
  name: 'mast',
  at: [0, 1, 0],
  children: [{ name: 'yard', at: [0, 2, 0], children: [{ name: 'lamp', at: [0.5, 0, 0] }] }],
};
/** A joint that turns about z by so many degrees at times. */
export const turns = (node: string, times: readonly number[], degrees: readonly number[]): RigChannel => ({
  node,
  path: 'rotation',
  times,
  values: degrees.map((own) => axisAngle([0, 0, 1], own)),
});
export const SWING = turns('mast', [0, 0.5, 1], [0, 90, 0]);
export const swinging = (roots: readonly RigNode[] = [MAST]): Rig => ({ roots, animations: { swing: [SWING] } });
