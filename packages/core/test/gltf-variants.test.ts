import { Document, type Node, WebIO } from '@gltf-transform/core';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { characterFile } from '../src/exemplar/character.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { writeGltf } from '../src/formats/gltf/write-gltf.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { axisAngle, conjugate, multiply, type Quat, rotate } from '../src/motion/quaternion.ts';
import type { Vec3 } from '../src/motion/vector.ts';

// One walk as exporters write it: whatever they make of its nodes, it says the same.
const WALK = walkExemplar({}, { slide: 6 });
const io = new WebIO();
const plain = async (): Promise<Document> => io.readBinary(await writeGltf(WALK, { metresPerUnit: 0.01 }));
const withBody = async (): Promise<Document> => io.readBinary(await characterFile(WALK, { metresPerUnit: 0.01 }));

const parentOf = (node: Node): Node | undefined =>
  node.listParents().find((own): own is Node => own.propertyType === 'Node');
/** Changes every value of every channel. */
function eachValue(document: Document, change: (value: number[], node: Node, path: string) => readonly number[]): void {
  for (const channel of document.getRoot().listAnimations()[0]!.listChannels()) {
    const output = channel.getSampler()!.getOutput()!;
    for (let k = 0; k < output.getCount(); k++)
      output.setElement(k, [...change(output.getElement(k, []), channel.getTargetNode()!, channel.getTargetPath()!)]);
  }
}
const asQuat = (q: readonly number[]): Quat => [q[0]!, q[1]!, q[2]!, q[3]!];
const asVec = (v: readonly number[]): Vec3 => [v[0]!, v[1]!, v[2]!];

/** Every node has axes of its own, as bones that point along their limbs have. */
async function ownAxes(document: Document): Promise<Document> {
  const axes = new Map(
    document
      .getRoot()
      .listNodes()
      .map((node, k) => [node, multiply(axisAngle([0.6, 0.8, 0], 40 + 37 * k), axisAngle([0, 0, 1], 71 * k))]),
  );
  const above = (node: Node): Quat => axes.get(parentOf(node)!) ?? [0, 0, 0, 1];
  const turned = (node: Node, q: readonly number[]): Quat =>
    multiply(multiply(conjugate(above(node)), asQuat(q)), axes.get(node)!);
  const moved = (node: Node, v: readonly number[]): Vec3 => rotate(conjugate(above(node)), asVec(v));
  for (const node of document.getRoot().listNodes()) {
    node.setTranslation([...moved(node, node.getTranslation())]);
    node.setRotation([...turned(node, node.getRotation())]);
  }
  eachValue(document, (value, node, path) => (path === 'rotation' ? turned(node, value) : moved(node, value)));
  return document;
}

/** All of it hangs from nodes of its own, beside a floor and a camera. */
async function inGroups(document: Document, scale = 1): Promise<Document> {
  const scene = document.getRoot().listScenes()[0]!;
  const [root] = scene.listChildren();
  const world = document.createNode('world').setScale([scale, scale, scale]);
  const rig = document.createNode('rig').setScale([1 / scale, 1 / scale, 1 / scale]);
  scene.removeChild(root!).addChild(world.addChild(rig.addChild(root!)));
  const places = document
    .createAccessor()
    .setArray(Float32Array.of(0, 0, 0, 9, 0, 0, 0, 0, 9))
    .setType('VEC3')
    .setBuffer(document.getRoot().listBuffers()[0]!);
  const floor = document.createPrimitive().setAttribute('POSITION', places);
  scene.addChild(document.createNode('floor').setMesh(document.createMesh('floor').addPrimitive(floor)));
  scene.addChild(
    document.createNode('view').setCamera(document.createCamera('lens').setType('perspective').setYFov(0.5)),
  );
  return document;
}

/** Nodes stand as they do at a frame, as a program leaves them. */
async function posed(document: Document, frame: number): Promise<Document> {
  for (const channel of document.getRoot().listAnimations()[0]!.listChannels()) {
    const value = channel.getSampler()!.getOutput()!.getElement(frame, []);
    if (channel.getTargetPath() === 'rotation') channel.getTargetNode()!.setRotation([...asQuat(value)]);
    else channel.getTargetNode()!.setTranslation([...asVec(value)]);
  }
  return document;
}

async function goesOn(document: Document, how: 'STEP' | 'CUBICSPLINE'): Promise<Document> {
  for (const sampler of document.getRoot().listAnimations()[0]!.listSamplers()) {
    sampler.setInterpolation(how);
    if (how === 'STEP') continue;
    const output = sampler.getOutput()!;
    const size = output.getElementSize();
    const still = new Array<number>(size).fill(0);
    const values = Array.from({ length: output.getCount() }, (_, k) => [still, output.getElement(k, []), still]).flat(
      2,
    );
    sampler.setOutput(
      document
        .createAccessor()
        .setArray(Float32Array.from(values))
        .setType(output.getType())
        .setBuffer(document.getRoot().listBuffers()[0]!),
    );
  }
  return document;
}

async function small(document: Document): Promise<Document> {
  const buffer = document.getRoot().listBuffers()[0]!;
  for (const channel of document.getRoot().listAnimations()[0]!.listChannels()) {
    if (channel.getTargetPath() !== 'rotation') continue;
    const output = channel.getSampler()!.getOutput()!;
    const packed = Int16Array.from([...output.getArray()!], (value: number) => Math.round(value * 32767));
    channel
      .getSampler()!
      .setOutput(document.createAccessor().setArray(packed).setType('VEC4').setNormalized(true).setBuffer(buffer));
  }
  return document;
}

async function named(document: Document, name: (old: string) => string): Promise<Document> {
  for (const node of document.getRoot().listNodes()) node.setName(name(node.getName()));
  return document;
}

const VARIANTS: Readonly<Record<string, () => Promise<Document>>> = {
  'nodes alone': plain,
  'a skin': withBody,
  'axes of its own in every bone': async () => ownAxes(await plain()),
  'in groups, beside a floor and a camera': async () => inGroups(await plain()),
  'in a group that is a hundred times too large': async () => inGroups(await plain(), 100),
  'a skin whose nodes were left in a pose': async () => posed(await withBody(), 5),
  'another pose': async () => posed(await withBody(), 16),
  'a step at every frame': async () => goesOn(await plain(), 'STEP'),
  'a spline with a key at every frame': async () => goesOn(await plain(), 'CUBICSPLINE'),
  'numbers of two bytes': async () => small(await withBody()),
  'names with a word before': async () => named(await plain(), (old) => `Harbour:${old}`),
  'names of another spelling': async () =>
    named(await plain(), (old) =>
      old.replace(/^(.*)\.([LR])$/, (_, limb: string, side) => `${side === 'L' ? 'Left' : 'Right'}${limb}`),
    ),
};

const saying = (motion: Motion): readonly string[] => {
  const measured = measureShot(prepareShot(motion, { kind: 'walk' }));
  return judgeShot(defaultGauges('walk'), measured, 'polish').findings.map(({ say }) => say);
};
const bodyReadings = (motion: Motion): Map<string, unknown> =>
  new Map(
    measureShot(prepareShot(motion, { kind: 'walk' }))
      .readings.filter(
        ({ id, part }) => /^(gait|foot|size|posture|step|knee|cycle)\./.test(id) && !part?.startsWith('chain'),
      )
      .filter(({ unit }) => unit !== 'units')
      .map(({ id, part, value }, k, all) => [
        `${id} ${part ?? ''} ${all.slice(0, k).filter((own) => own.id === id && own.part === part).length}`,
        value,
      ]),
  );

const wanted = bodyReadings(WALK);

test.each(Object.entries(VARIANTS))('%s: the same is measured and said', async (_, make) => {
  const { motion } = await readMotion(await io.writeBinary(await make()), { usualFps: 24 });
  expect([motion.frames, motion.fps, motion.joints.length]).toEqual([25, 24, WALK.joints.length]);
  const found = bodyReadings(motion);
  expect([...found.keys()]).toEqual([...wanted.keys()]);
  for (const [key, value] of wanted) {
    const there = found.get(key);
    if (typeof value !== 'number') expect([key, there]).toEqual([key, value]);
    else if (Math.abs((there as number) - value) > 5e-3 * Math.max(1, Math.abs(value)))
      expect([key, there]).toEqual([key, value]);
  }
  expect(saying(motion)).toEqual(saying(WALK));
});

test('a figure without any name is told by its shape', async () => {
  const { motion } = await readMotion(await io.writeBinary(await named(await plain(), () => '')), { usualFps: 24 });
  expect(motion.joints).toHaveLength(WALK.joints.length);
  expect(saying(motion)).toEqual(saying(WALK));
});
