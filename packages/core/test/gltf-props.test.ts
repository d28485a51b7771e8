// Things beside a figure: read out of a file that a library of its own writes, and what hands do with them.
import { type Document, type Node, WebIO } from '@gltf-transform/core';
import { Box3, Quaternion, Vector3 } from 'three';
import { characterFile } from '../src/exemplar/character.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { measureProps } from '../src/measure/posture/props.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Reading } from '../src/measure/reading.ts';
import { sayReading } from '../src/measure/sentence.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { axisAngle, quatAt, type Quat, rotate, vec3At } from '../src/motion/quaternion.ts';
import { add, length, scale, subtract, type Vec3 } from '../src/motion/vector.ts';
import { glbOf, type Rig, type RigChannel, type RigNode } from './gltf-rigs.ts';

const TAKE = EXEMPLARS.take!.make({}, {});
const KEEPER = characterFile(TAKE, { metresPerUnit: 0.01 });

/** Where the right palm of the keeper is at every frame, and how its hand is turned, metres. */
async function palm(): Promise<{ at: Vec3[]; turned: [number, number, number, number][]; leg: number }> {
  const { motion } = await readMotion(await KEEPER, { usualFps: 24 });
  const shot = prepareShot(motion, { kind: 'take' });
  const hand = shot.roles['hand.R']!;
  const n = motion.joints.length;
  const { positions, rotations } = shot.played.world;
  const tip = motion.joints[hand]!.ends[0] ?? motion.joints.find(({ parent }) => parent === hand)!.offset;
  const turned = Array.from({ length: motion.frames }, (_, f) => quatAt(rotations, f * n + hand));
  const at = turned.map((turn, f) => add(vec3At(positions, f * n + hand), rotate(turn, scale(tip, 0.5))));
  return { at, turned: turned.map(([x, y, z, w]) => [x, y, z, w]), leg: shot.scale.legLength };
}

const CORNERS = [0, 1, 2, 3, 4, 5, 6, 7].map((k) => [k & 1 ? 1 : -1, k & 2 ? 1 : -1, k & 4 ? 1 : -1]);
const SIDES = [
  0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5,
];

/** A box of a document, half its sides; several of them make one mesh. */
function box(document: Document, name: string, ...parts: { half: Vec3; at?: Vec3 }[]): Node {
  const mesh = document.createMesh(name);
  const buffer = document.getRoot().listBuffers()[0]!;
  for (const { half, at = [0, 0, 0] } of parts) {
    const places = CORNERS.flatMap((corner) => corner.map((value, k) => value * half[k]! + at[k]!));
    mesh.addPrimitive(
      document
        .createPrimitive()
        .setAttribute(
          'POSITION',
          document.createAccessor().setArray(Float32Array.from(places)).setType('VEC3').setBuffer(buffer),
        )
        .setIndices(document.createAccessor().setArray(Uint16Array.from(SIDES)).setType('SCALAR').setBuffer(buffer)),
    );
  }
  const node = document.createNode(name).setMesh(mesh);
  document.getRoot().listScenes()[0]!.addChild(node);
  return node;
}

function animate(document: Document, node: Node, at: readonly Vec3[], turned?: readonly (readonly number[])[]): void {
  const animation = document.getRoot().listAnimations()[0]!;
  const buffer = document.getRoot().listBuffers()[0]!;
  const numbers = (list: readonly number[], type: 'SCALAR' | 'VEC3' | 'VEC4') =>
    document.createAccessor().setArray(Float32Array.from(list)).setType(type).setBuffer(buffer);
  const times = numbers(
    at.map((_, f) => f / 24),
    'SCALAR',
  );
  for (const [path, output] of [
    ['translation', numbers(at.flat(), 'VEC3')],
    ...(turned ? [['rotation', numbers(turned.flat(), 'VEC4')] as const] : []),
  ] as const) {
    const sampler = document.createAnimationSampler().setInput(times).setOutput(output).setInterpolation('LINEAR');
    animation.addSampler(sampler);
    animation.addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
  }
}

async function shotWith(add: (document: Document) => void): Promise<PreparedShot> {
  const document = await new WebIO().readBinary(await KEEPER);
  add(document);
  const { motion } = await readMotion(await new WebIO().writeBinary(document), { usualFps: 24 });
  return prepareShot(motion, { kind: 'take' });
}
const told = async (add: (document: Document) => void): Promise<(id: string, part: string) => Reading> => {
  const { readings } = measureProps(await shotWith(add));
  return (id, part) => readings.find((reading) => reading.id === id && reading.part === part)!;
};

const LAMP = { half: [0.06, 0.1, 0.06] as Vec3 };

describe('a thing that a hand holds', () => {
  test('stays in it, in its own axes, where it goes along', async () => {
    const { at, turned } = await palm();
    const of = await told((document) => animate(document, box(document, 'lamp', LAMP), at, turned));
    expect(of('prop.slip', 'arm.R').value).toBeLessThan(0.1);
    expect(of('prop.slip', 'arm.R').detail).toMatchObject({ prop: 'lamp' });
    expect(of('prop.slip', 'arm.L').detail).toEqual({ prop: '' });
    expect(sayReading(of('prop.slip', 'arm.L'))).toBe('the left arm holds nothing');
  });

  test.each([3, 8, 14])(
    'slides by as much as it was dialled to, %i %% of a leg, and is a finding from six',
    async (percent) => {
      const { at, turned, leg } = await palm();
      const shot = await shotWith((document) => {
        const slid = at.map((place, f) =>
          add(place, rotate(turned[f]!, [0, ((percent / 100) * leg * f) / (at.length - 1), 0])),
        );
        animate(document, box(document, 'lamp', { half: [0.06, 0.2, 0.06] }), slid, turned);
      });
      const slip = measureProps(shot).readings.find(({ id, part }) => id === 'prop.slip' && part === 'arm.R')!;
      const { from, to } = slip.detail as { from: number; to: number };
      // As much of it as lies between the first frame at which the hand moves and the last.
      expect(slip.value).toBeCloseTo((percent * (to - from)) / (at.length - 1), 1);
      expect(to - from).toBeGreaterThan(30);
      const { findings } = judgeShot(defaultGauges('take', 24), measureShot(shot), 'polish');
      expect(findings.some(({ reading }) => reading.id === 'prop.slip')).toBe(percent > 3);
    },
  );

  test('is no slip where the hand lets it go, nor where a hand only passes what stands there', async () => {
    const { at, turned } = await palm();
    const thrown = await told((document) =>
      animate(
        document,
        box(document, 'lamp', LAMP),
        at.map((place, f) => (f <= 44 ? place : add(at[44]!, [0.06 * (f - 44), 0.02 * (f - 44), 0]))),
        turned,
      ),
    );
    expect(thrown('prop.slip', 'arm.R').value).toBeLessThan(1);
    const { to } = thrown('prop.slip', 'arm.R').detail as { to: number };
    expect(Math.abs(to - 45)).toBeLessThanOrEqual(2);
    const passed = await told((document) => void box(document, 'lamp', LAMP).setTranslation([...at[40]!]));
    expect(passed('prop.slip', 'arm.R').detail).toEqual({ prop: '' });
  });

  test('is the same under a room that lies back and is a hundred times as large', async () => {
    const { at, turned, leg } = await palm();
    const slid = at.map((place, f) => add(place, rotate(turned[f]!, [0, (0.08 * leg * f) / (at.length - 1), 0])));
    const both = await Promise.all(
      [false, true].map((within) =>
        told((document) => {
          animate(document, box(document, 'lamp', { half: [0.06, 0.2, 0.06] }), slid, turned);
          if (!within) return;
          const scene = document.getRoot().listScenes()[0]!;
          const room = document
            .createNode('room')
            .setScale([0.01, 0.01, 0.01])
            .setRotation([-Math.SQRT1_2, 0, 0, Math.SQRT1_2]);
          for (const node of scene.listChildren()) room.addChild(node);
          scene.addChild(room);
        }),
      ),
    );
    const [plain, inRoom] = both.map((of) => of('prop.slip', 'arm.R'));
    expect(inRoom!.value).toBeCloseTo(plain!.value as number, 1);
  });
});

describe('what stands about', () => {
  test('is gone through for as many frames as a hand lies in it', async () => {
    const { at } = await palm();
    const half: Vec3 = [0.15, 0.15, 0.15];
    const middle = at[40]!;
    const shot = await shotWith((document) => void box(document, 'crate', { half }).setTranslation([...middle]));
    const { motion, world, roles, scale: size } = shot;
    const deep = 0.03 * size.legLength;
    // Counted by the wrist and the elbow as they are in the file.
    const inside = Array.from({ length: motion.frames }, (_, f) => f).filter((f) =>
      [roles['hand.R']!, roles['foreArm.R']!].some((joint) =>
        vec3At(world.positions, f * motion.joints.length + joint).every(
          (value, k) => Math.abs(value - middle[k]!) < half[k]! - deep,
        ),
      ),
    );
    const reading = measureProps(shot).readings.find(({ id, part }) => id === 'prop.through' && part === 'arm.R')!;
    expect(inside.length).toBeGreaterThan(3);
    expect([reading.value, reading.detail]).toEqual([inside.length, { prop: 'crate' }]);
    expect(sayReading(reading)).toMatch(/the right arm goes through “crate” for \d+ frames/);
  });

  test('a frame of beams, a floor and a wall are nothing that is filled', async () => {
    const { at } = await palm();
    const of = await told((document) => {
      box(
        document,
        'rack',
        { half: [0.5, 0.02, 0.5], at: [0, -0.5, 0] },
        { half: [0.02, 0.5, 0.5], at: [-0.5, 0, 0] },
      ).setTranslation([...at[40]!]);
      box(document, 'floor', { half: [5, 0, 5] });
    });
    for (const part of ['arm.L', 'arm.R', 'leg.L', 'leg.R', 'head']) expect(of('prop.through', part).value).toBe(0);
  });

  test('is cleared by as much as lies between it and the nearest joint or tip, at the frame where it does', async () => {
    const { at } = await palm();
    const half: Vec3 = [0.1, 0.2, 0.15];
    const middle = add(at[40]!, [-0.45, 0.1, 0.2]);
    const shot = await shotWith((document) => void box(document, 'crate', { half }).setTranslation([...middle]));
    const { motion, world, roles, scale: size } = shot;
    const n = motion.joints.length;
    const limbs = [
      'hand.R',
      'foreArm.R',
      'hand.L',
      'foreArm.L',
      'shin.L',
      'foot.L',
      'shin.R',
      'foot.R',
      'head',
    ] as const;
    // By every joint and every tip of the figure, as three.js would place them.
    const places = (f: number): Vec3[] =>
      limbs.flatMap((role) => {
        const joint = roles[role]!;
        const own = vec3At(world.positions, f * n + joint);
        const turn = new Quaternion(...quatAt(world.rotations, f * n + joint));
        return [
          own,
          ...motion.joints[joint]!.ends.map((end) => add(own, new Vector3(...end).applyQuaternion(turn).toArray())),
        ];
      });
    const box3 = new Box3(new Vector3(...subtract(middle, half)), new Vector3(...add(middle, half)));
    const far = Array.from({ length: motion.frames }, (_, f) =>
      Math.min(...places(f).map((place) => box3.distanceToPoint(new Vector3(...place)))),
    );
    const least = Math.min(...far);
    const reading = measureProps(shot).readings.find(({ id }) => id === 'prop.clear')!;
    expect(least).toBeGreaterThan(0.02);
    expect(reading.value).toBeCloseTo((100 * least) / size.legLength, 2);
    expect(reading).toMatchObject({ part: 'arm.R', frames: [1 + far.indexOf(least)], detail: { prop: 'crate' } });
    expect(sayReading(reading)).toMatch(/^the right arm clears “crate” by [\d.]+ % of a leg at frame \d+$/);
  });

  test('is touched where something reaches it; what is far, held, or stood on is in nobody’s way', async () => {
    const { at, turned } = await palm();
    const clears = async (build: (document: Document) => void): Promise<readonly Reading[]> =>
      measureProps(await shotWith(build)).readings.filter(({ id }) => id === 'prop.clear');
    const half: Vec3 = [0.05, 0.05, 0.05];
    const [touched] = await clears((document) => void box(document, 'crate', { half }).setTranslation([...at[40]!]));
    expect(touched!.value).toBe(0);
    expect(sayReading(touched!)).toMatch(/^the right arm touches “crate” at frame \d+$/);
    for (const build of [
      (document: Document) => void box(document, 'crate', { half }).setTranslation([9, 0, 0]),
      (document: Document) => animate(document, box(document, 'lamp', LAMP), at, turned),
      (document: Document) => void box(document, 'deck', { half: [3, 0.1, 3] }).setTranslation([0, -0.1, 0]),
    ])
      expect(await clears(build)).toEqual([]);
  });

  test('without anything beside the figure nothing is asked', async () => {
    const { readings, unmade } = measureProps(await shotWith(() => undefined));
    expect(readings).toEqual([]);
    expect(unmade.every((one) => 'notAsked' in one)).toBe(true);
  });

  test('a thing whose numbers are broken is left out, and the figure is read', async () => {
    const { at } = await palm();
    const shot = await shotWith((document) => {
      const broken = box(document, 'crate', { half: [0.2, 0.2, 0.2] }).setTranslation([...at[40]!]);
      const places = broken.getMesh()!.listPrimitives()[0]!.getAttribute('POSITION')!;
      places.setElement(3, [NaN, 0, 0]);
    });
    expect(shot.played.motion.props).toBeUndefined();
    expect(shot.motion.frames).toBe(TAKE.frames);
  });
});

// A body along Z: in files of programs whose up that is, the figure lies.
const limb = (name: string, at: Vec3, children: readonly RigNode[] = []): RigNode => ({ name, at, children });
const LYING: RigNode = limb(
  'hips',
  [0, 0, 0.8],
  [
    ...(['L', 'R'] as const).map((side) =>
      limb(
        `thigh.${side}`,
        [side === 'L' ? 0.1 : -0.1, 0, 0],
        [
          limb(
            `shin.${side}`,
            [0, 0, -0.4],
            [limb(`foot.${side}`, [0, 0, -0.4], [limb(`toe.${side}`, [0, -0.15, 0])])],
          ),
        ],
      ),
    ),
    limb('spine', [0, 0, 0.2], [limb('neck', [0, 0, 0.3], [limb('head', [0, 0, 0.1])])]),
  ],
);

test.each([
  ['a figure that lies in its motion as well', [0, 0, 0, 1] as Quat],
  ['one that only rests lying', axisAngle([1, 0, 0], -90)],
])('where %s is stood up, a thing and a camera stay beside it as they were', async (_, turn) => {
  const turns = (node: string, from: Quat, to: Quat): RigChannel => ({
    ...{ node, path: 'rotation', times: [0, 1] },
    values: [[...from], [...to]],
  });
  const rig: Rig = {
    roots: [LYING],
    animations: {
      a: [
        {
          ...{ node: 'hips', path: 'translation', times: [0, 1] },
          values: [
            [0, 0, 0.8],
            [0, 0, 0.9],
          ],
        },
        turns('hips', turn, turn),
        turns('spine', [0, 0, 0, 1], axisAngle([1, 0, 0], 10)),
      ],
    },
  };
  const document = await new WebIO().readBinary(await glbOf(rig));
  const [crate, eye] = [
    [0.4, 0.3, 0.2],
    [3, 1, 2],
  ] as [Vec3, Vec3];
  box(document, 'crate', { half: [0.1, 0.1, 0.1] }).setTranslation([...crate]);
  const camera = document.createCamera('eye').setType('perspective').setYFov(0.8);
  document
    .getRoot()
    .listScenes()[0]!
    .addChild(
      document
        .createNode('eye')
        .setCamera(camera)
        .setTranslation([...eye]),
    );
  const { motion, warnings } = await readMotion(await new WebIO().writeBinary(document), { fps: 24 });
  expect(warnings.join()).toContain('lies at rest');
  const { positions } = prepareShot(motion, { kind: 'any' }).played.world;
  const away = (name: string, from: Float64Array): number =>
    length(
      subtract(
        vec3At(
          positions,
          motion.joints.findIndex((joint) => joint.name === name),
        ),
        vec3At(from, 0),
      ),
    );
  // Distances are what no turn of a whole scene changes: from the file’s own places by three.
  const root = new Quaternion(...turn);
  const placed = (x: number, y: number, z: number): Vec3 => {
    const own = new Vector3(x, y, z).applyQuaternion(root);
    return [own.x, own.y, own.z + 0.8];
  };
  const [head, foot] = [placed(0, 0, 0.6), placed(0.1, 0, -0.8)];
  for (const [name, own] of [
    ['head', head],
    ['foot.L', foot],
  ] as const) {
    expect(away(name, motion.props![0]!.positions)).toBeCloseTo(length(subtract(own, crate)), 4);
    expect(away(name, motion.cameras![0]!.positions)).toBeCloseTo(length(subtract(own, eye)), 4);
  }
});

test('the lamp of the demo’s keeper slides in the hand by as much as it was dialled to', async () => {
  const held = async (slides: number): Promise<Reading> => {
    const file = await characterFile(TAKE, { metresPerUnit: 0.01, lamp: { hand: 'hand.R', slides } });
    const { motion } = await readMotion(file, { usualFps: 24 });
    const { readings } = measureProps(prepareShot(motion, { kind: 'take' }));
    return readings.find(({ id, part }) => id === 'prop.slip' && part === 'arm.R')!;
  };
  expect((await held(0)).value).toBeLessThan(0.1);
  const { value, detail } = await held(0.11);
  const { from, to } = detail as { from: number; to: number };
  expect(value).toBeCloseTo((11 * (to - from)) / 71, 0);
});
