import type { Document, Node } from '@gltf-transform/core';
import type { Motion } from '../motion/motion.ts';
import { worldPose } from '../motion/pose.ts';
import { quatAt, rotate, vec3At } from '../motion/quaternion.ts';
import { add, scale, type Vec3 } from '../motion/vector.ts';
import { Body, numbersOf, primitiveOf } from './character-body.ts';

/** How large the lamp is, leg lengths. */
const LAMP = { glass: 0.06, high: 0.09, cap: 0.035, below: 0.11 };

/** A lamp in a hand. */
export interface HeldLamp {
  /** The hand's joint. */
  readonly hand: string;
  /** How far it slides down in the hand over the whole shot, leg lengths. */
  readonly slides: number;
}

/** Gives a character a lamp to hold, which hangs straight down from the palm at every frame. */
export function addLamp(
  document: Document,
  motion: Motion,
  { hand, slides }: HeldLamp,
  { leg, turned }: { readonly leg: number; readonly turned: (v: Vec3) => Vec3 },
): Node {
  const joint = motion.joints.findIndex(({ name }) => name === hand);
  const { positions, rotations } = worldPose(motion);
  const n = motion.joints.length;
  const half = scale(motion.joints[joint]!.ends[0] ?? [0, 0, 0], 0.5);
  const body = new Body();
  const sized = (radii: Vec3): Vec3 => [leg * radii[0], leg * radii[1], leg * radii[2]];
  const at = (up: number): Vec3 => [0, leg * up, 0];
  body.ball(at(-LAMP.below), sized([LAMP.glass, LAMP.high, LAMP.glass]), 0);
  body.ball(at(-LAMP.below + LAMP.high), sized([LAMP.cap, LAMP.cap, LAMP.cap]), 0);
  const primitive = primitiveOf(document, body);
  for (const name of ['JOINTS_0', 'WEIGHTS_0']) primitive.setAttribute(name, null);
  const node = document.createNode('lamp').setMesh(document.createMesh('lamp').addPrimitive(primitive));
  document.getRoot().listScenes()[0]!.addChild(node);
  const frames = Array.from({ length: motion.frames }, (_, f) => f);
  const times = numbersOf(
    document,
    Float32Array.from(frames, (f) => f / motion.fps),
    'SCALAR',
  );
  const places = frames.flatMap((f) => {
    const palm = add(vec3At(positions, f * n + joint), rotate(quatAt(rotations, f * n + joint), half));
    const [x, y, z] = turned(palm);
    return [x, y - (slides * leg * f) / Math.max(1, motion.frames - 1), z];
  });
  const sampler = document
    .createAnimationSampler()
    .setInput(times)
    .setOutput(numbersOf(document, Float32Array.from(places), 'VEC3'))
    .setInterpolation('LINEAR');
  const channel = document
    .createAnimationChannel()
    .setTargetNode(node)
    .setTargetPath('translation')
    .setSampler(sampler);
  document.getRoot().listAnimations()[0]!.addSampler(sampler).addChannel(channel);
  return node;
}
