import { readFileSync } from 'node:fs';
import { WebIO } from '@gltf-transform/core';
import { EXTMeshoptCompression } from '@gltf-transform/extensions';
import { zipSync } from 'fflate';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { Matrix4, Quaternion } from 'three';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import type { ReadOptions } from '../src/formats/format.ts';
import { FormatError } from '../src/formats/format-error.ts';
import { frameGrid } from '../src/formats/gltf/frame-grid.ts';
import { valueAt } from '../src/formats/gltf/interpolate.ts';
import { writeGltf } from '../src/formats/gltf/write-gltf.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Reading } from '../src/measure/reading.ts';
import type { Motion } from '../src/motion/motion.ts';
import { worldPose } from '../src/motion/pose.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { axisAngle, type Quat } from '../src/motion/quaternion.ts';
import type { UpAxis } from '../src/motion/axes.ts';
import type { Vec3 } from '../src/motion/vector.ts';
import { inOtherAxes, zUp } from './figures.ts';
import { makeRecipe } from '../src/remedy/recipe.ts';
import { recording } from './fixtures.ts';
import { buildRig, glbOf, type Rig, type RigChannel, type RigNode } from './gltf-rigs.ts';

const read = async (rig: Rig, options: ReadOptions = {}): Promise<Motion> =>
  (await readMotion(await glbOf(rig), options)).motion;
const warningsOf = async (rig: Rig, options: ReadOptions = {}): Promise<string> =>
  (await readMotion(await glbOf(rig), options)).warnings.join('\n');
const nameAt = ({ joints }: Motion, name: string): number => joints.findIndex((joint) => joint.name === name);
/** Where a joint is in the world at a sample. */
const placeOf = (motion: Motion, name: string, f: number): number[] => {
  const at = 3 * (f * motion.joints.length + nameAt(motion, name));
  return [...worldPose(motion).positions.subarray(at, at + 3)];
};
const near = (values: readonly number[]): unknown[] => values.map((value) => expect.closeTo(value, 5) as unknown);

const MAST: RigNode = {
  name: 'mast',
  at: [0, 1, 0],
  children: [{ name: 'yard', at: [0, 2, 0], children: [{ name: 'lamp', at: [0.5, 0, 0] }] }],
};
const turns = (node: string, times: readonly number[], degrees: readonly number[]): RigChannel => ({
  node,
  path: 'rotation',
  times,
  values: degrees.map((own) => axisAngle([0, 0, 1], own)),
});
const SWING = turns('mast', [0, 0.5, 1], [0, 90, 0]);
const swinging = (roots: readonly RigNode[] = [MAST]): Rig => ({ roots, animations: { swing: [SWING] } });

describe('a motion as glTF and as BVH', () => {
  /** Readings by what they are of, in their order. */
  const grouped = (readings: readonly Reading[]): Map<string, Reading[]> => {
    const groups = new Map<string, Reading[]>();
    for (const reading of readings) {
      const key = `${reading.id} ${reading.part ?? ''}`;
      groups.set(key, [...(groups.get(key) ?? []), reading]);
    }
    return groups;
  };
  test.each(Object.keys(EXEMPLARS))('%s: every reading agrees to four figures', async (name) => {
    const { kind, make } = EXEMPLARS[name]!;
    const motion = make({}, {});
    const { motion: back } = await readMotion(await writeGltf(motion, { metresPerUnit: 1 }), {
      usualFps: motion.fps,
    });
    const [own, other] = [motion, back].map((one) => grouped(measureShot(prepareShot(one, { kind })).readings));
    expect([...other!.keys()]).toEqual([...own!.keys()]);
    for (const [key, readings] of own!)
      readings.forEach(({ value }, k) => {
        const there = other!.get(key)![k]!.value;
        if (typeof value !== 'number') expect(there).toEqual(value);
        else expect(Math.abs((there as number) - value) / Math.max(1, Math.abs(value))).toBeLessThan(3e-4);
      });
  });

  test('a recording, of another unit and rate, stands where it stood at every frame', async () => {
    const { motion } = readBvh(recording('01_03.bvh'));
    const { motion: back, warnings } = await readMotion(await writeGltf(motion, { metresPerUnit: 0.0564 }), {
      usualFps: 24,
    });
    expect([back.frames, back.joints.length]).toEqual([motion.frames, motion.joints.length]);
    expect(back.fps).toBeCloseTo(motion.fps, 3);
    expect(warnings).toEqual([]);
    const [own, other] = [worldPose(motion), worldPose(back)];
    const farthest = own.positions.reduce(
      (far, value, k) => Math.max(far, Math.abs(value * 0.0564 - other.positions[k]!)),
      0,
    );
    expect(farthest).toBeLessThan(1e-4);
    expect(back.joints.map(({ ends }) => ends.length)).toEqual(motion.joints.map(({ ends }) => ends.length));
  });

  test('a motion whose up is another axis stands up in the file', async () => {
    const { make, kind } = EXEMPLARS.walk!;
    const motion = make({}, {});
    const turned: Readonly<Record<string, (v: Vec3) => Vec3>> = {
      '+Z': zUp,
      '-Y': ([x, y, z]) => [x, -y, -z],
      '+X': ([x, y, z]) => [y, -x, z],
      '-X': ([x, y, z]) => [-y, x, z],
    };
    const slides = (own: Motion): unknown[] =>
      measureShot(prepareShot(own, { kind })).readings.flatMap(({ id, value }) => (id === 'gait.bob' ? [value] : []));
    for (const [up, turn] of Object.entries(turned)) {
      const { motion: back, warnings } = await readMotion(
        await writeGltf(inOtherAxes(motion, turn), { up: up as UpAxis, metresPerUnit: 0.01 }),
        { usualFps: 24 },
      );
      expect(warnings).toEqual([]);
      expect(prepareShot(back, { kind }).axes.up).toEqual([0, 1, 0]);
      expect(slides(back)[0]).toBeCloseTo(slides(motion)[0] as number, 3);
    }
  });
});

describe('between keys', () => {
  // Khronos, glTF 2.0 Specification, appendix C: step, linear, spherical linear, cubic spline.
  const keys = (
    how: 'LINEAR' | 'STEP' | 'CUBICSPLINE',
    times: number[],
    values: number[],
    width = 1,
    turn = false,
  ) => ({
    times: Float64Array.from(times),
    values: Float64Array.from(values),
    ...{ width, how, turns: turn },
  });
  const at = (own: Parameters<typeof valueAt>[0], time: number): number[] => {
    const into = new Float64Array(own.width);
    valueAt(own, time, into);
    return [...into];
  };

  test('a step holds until the next key, a line goes straight, both rest before the first and behind the last', () => {
    expect([-1, 0, 0.99, 1, 5].map((t) => at(keys('STEP', [0, 1], [3, 7]), t)[0])).toEqual([3, 3, 3, 7, 7]);
    expect([-1, 0, 0.25, 1, 5].map((t) => at(keys('LINEAR', [0, 1], [3, 7]), t)[0])).toEqual([3, 3, 4, 7, 7]);
  });

  test('a spline goes by its tangents times the time between the keys', () => {
    // v(t) = (2t³−3t²+1)·v₀ + d(t³−2t²+t)·b₀ + (−2t³+3t²)·v₁ + d(t³−t²)·a₁ with d = 2 s, v₀ = 1, b₀ = 3, v₁ = 5, a₁ = −2, t = 1/4.
    const own = keys('CUBICSPLINE', [1, 3], [9, 1, 3, -2, 5, 9]);
    const t = 0.25;
    const expected =
      (2 * t ** 3 - 3 * t ** 2 + 1) * 1 +
      2 * (t ** 3 - 2 * t ** 2 + t) * 3 +
      (-2 * t ** 3 + 3 * t ** 2) * 5 +
      2 * (t ** 3 - t ** 2) * -2;
    expect(at(own, 1.5)[0]).toBeCloseTo(expected, 12);
    expect([at(own, 1)[0], at(own, 3)[0]]).toEqual([1, 5]);
  });

  test('a turn goes the shortest way, evenly: as three’s own does', () => {
    const [a, b] = [axisAngle([0, 0, 1], 20), axisAngle([0.6, 0.8, 0], 100)];
    for (const end of [b, b.map((value) => -value) as unknown as Quat]) {
      const own = keys('LINEAR', [0, 1], [...a, ...end], 4, true);
      for (const t of [0.1, 0.5, 0.8]) {
        const expected = new Quaternion(...a).slerp(new Quaternion(...end), t).toArray();
        const sign = Math.sign(expected.reduce((sum, value, k) => sum + value * at(own, t)[k]!, 0));
        expect(at(own, t)).toEqual(near(expected.map((value) => sign * value)));
      }
    }
  });
});

describe('the rate and the frames', () => {
  test.each([
    ['the least usual rate on whose frames the keys lie', [0, 0.5, 1], {}, { fps: 12, frames: 13, lead: 0 }],
    ['the exercise’s, where they lie on its frames', [0, 0.5, 1], { usual: 24 }, { fps: 24, frames: 25, lead: 0 }],
    ['theirs, where they do not', [0, 1 / 30, 1], { usual: 24 }, { fps: 30, frames: 31, lead: 0, between: false }],
    [
      'one that is asked for, whatever they lie on',
      [0, 1 / 30, 1],
      { fps: 24, usual: 30 },
      { fps: 24, frames: 25, lead: 0, between: true },
    ],
    ['times of three digits', [0, 0.042, 0.083, 0.125], { usual: 24 }, { fps: 24, frames: 4, lead: 0 }],
    ['what lies before the first key is no motion', [0.5, 1], { usual: 24 }, { fps: 24, frames: 13, lead: 12 }],
    [
      'a first key between two frames',
      [0.013, 0.013 + 1 / 24, 0.013 + 2 / 24],
      { usual: 24 },
      { fps: 24, frames: 3, lead: 0 },
    ],
    ['a single key', [0], { usual: 24 }, { fps: 24, frames: 1, lead: 0 }],
  ])('%s', (_, times, options, expected) => expect(frameGrid(times, options)).toMatchObject(expected));

  test('keys that follow one another evenly have the rate they have; others lie between frames', () => {
    const even = Array.from({ length: 50 }, (_, k) => k / 120);
    expect(frameGrid(even, { usual: 24 }).fps).toBeCloseTo(120, 6);
    expect(frameGrid([0, 0.0313, 0.5, 0.7771], { usual: 24 })).toMatchObject({ fps: 24, between: true });
    const television = Array.from({ length: 400 }, (_, k) => (7 * k * 1.001) / 30);
    expect(frameGrid(television, { usual: 24 }).fps).toBeCloseTo(29.97, 2);
  });

  test('labels are counted from time 0, and a long wait before the first key is told', async () => {
    const late = { roots: [MAST], animations: { swing: [turns('mast', [1, 1.5], [0, 90])] } };
    const motion = await read(late, { usualFps: 24 });
    expect(prepareShot(motion, { firstFrame: 1 }).firstFrame).toBe(25);
    expect(await warningsOf(late, { usualFps: 24 })).toContain('the 24 frames before are left out');
  });

  test('a file that says its seconds keeps them, whatever the exercise’s rate is', async () => {
    const own = { roots: [MAST], animations: { swing: [turns('mast', [0, 1 / 30, 1], [0, 10, 90])] } };
    const shot = prepareShot(await read(own, { usualFps: 24 }), { fps: 24 });
    expect([shot.fps, shot.played.motion.frames]).toEqual([30, 31]);
  });
});

describe('where the joints are', () => {
  test('as the nodes stand, between keys as well', async () => {
    const motion = await read(swinging(), { fps: 24 });
    expect(motion.joints.map(({ name, parent }) => [name, parent])).toEqual([
      ['mast', -1],
      ['yard', 0],
      ['lamp', 1],
    ]);
    expect(placeOf(motion, 'lamp', 0)).toEqual(near([0.5, 3, 0]));
    expect(placeOf(motion, 'lamp', 12)).toEqual(near([-2, 1.5, 0]));
    const [sin, cos] = [Math.SQRT1_2, Math.SQRT1_2];
    expect(placeOf(motion, 'lamp', 6)).toEqual(near([0.5 * cos - 2 * sin, 1 + 0.5 * sin + 2 * cos, 0]));
  });

  test('whatever they hang from: a parent that lies back and scales by a hundredth', async () => {
    const scaled: RigNode = {
      ...{ name: 'room', turn: axisAngle([1, 0, 0], -90), scale: [0.01, 0.01, 0.01] },
      children: [
        {
          ...{ name: 'mast', at: [0, 0, 100], turn: axisAngle([1, 0, 0], 90) },
          children: [{ name: 'yard', at: [0, 200, 0], children: [{ name: 'lamp', at: [50, 0, 0] }] }],
        },
      ],
    };
    const about = turns('yard', [0, 0.5, 1], [0, 90, 0]);
    const [plain, other] = await Promise.all([
      read({ roots: [MAST], animations: { a: [about] } }, { fps: 24 }),
      read({ roots: [scaled], animations: { a: [about] } }, { fps: 24 }),
    ]);
    for (const f of [0, 5, 12, 20]) expect(placeOf(other, 'lamp', f)).toEqual(near(placeOf(plain, 'lamp', f)));
  });

  test('a skin is at rest as it was bound, not as its nodes stand', async () => {
    const bent: RigNode = { ...MAST, children: [{ ...MAST.children![0]!, turn: axisAngle([0, 0, 1], 50) }] };
    const place = (...at: number[]): number[] =>
      new Matrix4()
        .makeTranslation(...(at as [number, number, number]))
        .invert()
        .toArray();
    const skins = [
      { name: 'cloth', joints: ['mast', 'yard', 'lamp'], binds: [place(0, 1, 0), place(0, 3, 0), place(0.5, 3, 0)] },
    ];
    const motion = await read({ roots: [bent], animations: { a: [SWING] }, skins }, { fps: 24 });
    expect(motion.joints.map(({ offset }) => offset)).toEqual([near([0, 1, 0]), near([0, 2, 0]), near([0.5, 0, 0])]);
    // The yard is turned by 50° against how it was bound, at every frame.
    const turned = new Quaternion(...motion.rotations.subarray(4, 8)).angleTo(new Quaternion());
    expect((turned * 180) / Math.PI).toBeCloseTo(50, 3);
    expect(placeOf(motion, 'lamp', 0)).toEqual(
      near([0.5 * Math.cos((50 * Math.PI) / 180), 3 + 0.5 * Math.sin((50 * Math.PI) / 180), 0]),
    );
  });

  test('a joint that stretches moves what hangs from it, and its scale is kept', async () => {
    const stretch: RigChannel = {
      node: 'mast',
      path: 'scale',
      times: [0, 1],
      values: [
        [1, 1, 1],
        [1, 1.5, 1],
      ],
    };
    const motion = await read({ roots: [MAST], animations: { a: [SWING, stretch] } }, { fps: 24 });
    expect(placeOf(motion, 'yard', 24)).toEqual(near([0, 4, 0]));
    expect(motion.scales!.joints).toEqual([0]);
    expect([...motion.scales!.values.subarray(3 * 24)]).toEqual(near([1, 1.5, 1]));
  });

  test('a figure that lies at rest is stood up; one that lies in its motion too stands in both', async () => {
    const leg = (side: string, x: number): RigNode => ({
      ...{ name: `thigh.${side}`, at: [x, 0, 0] },
      children: [
        {
          name: `shin.${side}`,
          at: [0, 0, -0.4],
          children: [
            { name: `foot.${side}`, at: [0, 0, -0.4], children: [{ name: `toe.${side}`, at: [0, -0.15, 0] }] },
          ],
        },
      ],
    });
    const body = (turn: Quat): RigNode => ({
      ...{ name: 'hips', at: [0, 0, 0.8], turn },
      children: [
        leg('L', 0.1),
        leg('R', -0.1),
        {
          name: 'spine',
          at: [0, 0, 0.2],
          children: [{ name: 'neck', at: [0, 0, 0.3], children: [{ name: 'head', at: [0, 0, 0.1] }] }],
        },
      ],
    });
    const lying: Rig = { roots: [body([0, 0, 0, 1])], animations: { a: [turns('spine', [0, 1], [0, 10])] } };
    const { motion, warnings } = await readMotion(await glbOf(lying), { fps: 24 });
    expect(warnings.join()).toContain('lies at rest');
    const [head, foot] = [placeOf(motion, 'head', 0), placeOf(motion, 'foot.L', 0)];
    expect(head[1]! - foot[1]!).toBeCloseTo(1.4, 5);
    const { axes } = prepareShot(motion, { kind: 'walk' });
    expect([axes.up, axes.forward]).toEqual([near([0, 1, 0]), near([0, 0, 1])]);
    // Stood up by its own root, it stands: only its rest pose lay.
    const stood: Rig = {
      roots: [body(axisAngle([1, 0, 0], -90))],
      skins: [
        {
          name: 'skin',
          joints: [
            'hips',
            'spine',
            'neck',
            'head',
            ...['L', 'R'].flatMap((s) => [`thigh.${s}`, `shin.${s}`, `foot.${s}`, `toe.${s}`]),
          ],
        },
      ],
      animations: { a: [turns('spine', [0, 1], [0, 10])] },
    };
    const other = await read(stood, { fps: 24 });
    expect(placeOf(other, 'head', 0)[1]! - placeOf(other, 'foot.L', 0)[1]!).toBeCloseTo(1.4, 5);
  });

  test('numbers packed small, and packed by the mesh packer, come out as they were', async () => {
    const document = buildRig(swinging());
    const rotations = document.getRoot().listAnimations()[0]!.listSamplers()[0]!.getOutput()!;
    rotations
      .setArray(Int16Array.from(rotations.getArray(), (value: number) => Math.round(value * 32767)))
      .setNormalized(true);
    const small = await readMotion(await new WebIO().writeBinary(document), { fps: 24 });
    expect(placeOf(small.motion, 'lamp', 12).map((value) => Math.round(1000 * value) / 1000)).toEqual([-2, 1.5, 0]);

    await Promise.all([MeshoptEncoder.ready, MeshoptDecoder.ready]);
    const packed = buildRig(swinging());
    packed
      .createExtension(EXTMeshoptCompression)
      .setRequired(true)
      .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
    const io = new WebIO()
      .registerExtensions([EXTMeshoptCompression])
      .registerDependencies({ 'meshopt.encoder': MeshoptEncoder, 'meshopt.decoder': MeshoptDecoder });
    const { motion } = await readMotion(await io.writeBinary(packed), { fps: 24 });
    expect(placeOf(motion, 'lamp', 12)).toEqual(near([-2, 1.5, 0]));
  });
});

describe('several in one file', () => {
  const SECOND: RigNode = { name: 'crane', at: [5, 0, 0], children: [{ name: 'jib', at: [0, 3, 0] }] };

  test('animations: the longest unless one is asked for by name or number', async () => {
    const rig: Rig = { roots: [MAST], animations: { nod: [turns('mast', [0, 0.5], [0, 30])], swing: [SWING] } };
    expect((await read(rig, { fps: 24 })).frames).toBe(25);
    expect((await read(rig, { fps: 24, animation: 'Nod' })).frames).toBe(13);
    expect((await read(rig, { fps: 24, animation: '2' })).frames).toBe(13);
    expect(await warningsOf(rig)).toContain('2 animations, “swing”, “nod”');
    await expect(read(rig, { animation: 'jump' })).rejects.toThrow(
      /no animation is called “jump”; there are “swing”, “nod”/,
    );
  });

  test('figures: each tree that moves, the one of most joints unless one is asked for', async () => {
    const rig: Rig = { roots: [SECOND, MAST], animations: { a: [SWING, turns('jib', [0, 1], [0, 20])] } };
    expect((await read(rig)).joints.map(({ name }) => name)).toEqual(['mast', 'yard', 'lamp']);
    expect((await read(rig, { figure: 'jib' })).joints.map(({ name }) => name)).toEqual(['jib']);
    await expect(read(rig, { figure: 'cat' })).rejects.toThrow(/no figure is called “cat”/);
    expect(await warningsOf(rig)).toContain('2 figures');
  });

  test('a body and a coat on one skeleton are one figure; a second skeleton is another', async () => {
    const rig: Rig = {
      roots: [{ name: 'room', children: [MAST, SECOND] }],
      animations: { a: [SWING, turns('jib', [0, 1], [0, 20])] },
      skins: [
        { name: 'body', joints: ['mast', 'yard'] },
        { name: 'coat', joints: ['yard', 'lamp'] },
        { name: 'other', joints: ['crane', 'jib'] },
      ],
    };
    expect((await read(rig)).joints.map(({ name }) => name)).toEqual(['mast', 'yard', 'lamp']);
    expect((await read(rig, { figure: 'other' })).joints.map(({ name }) => name)).toEqual(['crane', 'jib']);
  });

  test('names that are missing, or there twice, are told apart', async () => {
    const twice: RigNode = { name: '', at: [0, 1, 0], children: [{ name: 'rope' }, { name: 'rope' }] };
    const rig: Rig = { roots: [twice], animations: { a: [{ ...SWING, node: '' }] } };
    expect((await read(rig)).joints.map(({ name }) => name)).toEqual(['node 0', 'rope', 'rope (2)']);
  });
});

test('a remedy counts labels on from the file’s own, and what it makes has no keys of the file', async () => {
  const late = { roots: [MAST], animations: { swing: [turns('mast', [0.5, 1, 1.5], [0, 90, 0])] } };
  const shot = prepareShot(await read(late, { usualFps: 24 }), { firstFrame: 1 });
  const { shot: made } = makeRecipe(shot, { firstFrame: 1 }, [{ remedy: 'trim', parameters: { from: 15, to: 30 } }]);
  expect([shot.firstFrame, made.firstFrame, made.played.motion.frames]).toEqual([13, 13, 16]);
  expect(placeOf(made.played.motion, 'lamp', 10)).toEqual(near(placeOf(shot.played.motion, 'lamp', 12)));
  expect(made.played.motion.keys).toBeUndefined();
});

describe('keys are kept', () => {
  test('where they lie, how they go on, and whether they lie flat', async () => {
    const spline: RigChannel = {
      ...{ node: 'yard', path: 'translation', how: 'CUBICSPLINE', times: [0, 0.5, 1] },
      values: [
        [0, 0, 0],
        [0, 2, 0],
        [0, 0, 0],
        [0, 0, 0],
        [0, 3, 0],
        [0, 0, 0],
        [0, 9, 0],
        [0, 2, 0],
        [0, 0, 0],
      ],
    };
    const held: RigChannel = { ...turns('lamp', [0, 0.52], [0, 40]), how: 'STEP' };
    const motion = await read({ roots: [MAST], animations: { a: [SWING, spline, held] } }, { fps: 24 });
    const told = motion.keys!.map(({ joint, of, way, at, flat }) => [
      motion.joints[joint]!.name,
      of,
      way,
      [...at].map((x) => Number(x.toFixed(2))),
      [...flat],
    ]);
    expect(told).toEqual([
      ['mast', 'rotation', 'linear', [0, 12, 24], [0, 0, 0]],
      ['yard', 'translation', 'cubic', [0, 12, 24], [1, 1, 0]],
      ['lamp', 'rotation', 'step', [0, 12.48], [0, 0]],
    ]);
  });
});

describe('what can’t be read is refused in words', () => {
  const refusal = async (bytes: Uint8Array): Promise<string> => {
    try {
      await readMotion(bytes);
    } catch (error) {
      if (error instanceof FormatError) return error.message;
      throw error;
    }
    throw new Error('the file was read');
  };
  type Tree = { [key: string | number]: unknown };
  /** Puts a value at a place of a tree; one that is worked out is given what is there. */
  const put = (tree: Tree, [key, ...rest]: readonly (string | number)[], value: unknown): void => {
    if (rest.length > 0) put((tree[key!] ??= {}) as Tree, rest, value);
    else if (value === undefined) delete tree[key!];
    else tree[key!] = typeof value === 'function' ? (value as (old: unknown) => unknown)(tree[key!]) : value;
  };
  /** The swinging mast as text, with a value in it changed: `nodes.0.name` is the first node's name. */
  const changed = async (changes: Readonly<Record<string, unknown>>): Promise<Uint8Array> => {
    const { json, resources } = await new WebIO().writeJSON(buildRig(swinging()));
    const numbers = Buffer.from(Object.values(resources)[0]!).toString('base64');
    const own = structuredClone(json) as unknown as Tree;
    put(own, ['buffers', 0, 'uri'], `data:application/octet-stream;base64,${numbers}`);
    for (const [place, value] of Object.entries(changes)) put(own, place.split('.'), value);
    return new TextEncoder().encode(JSON.stringify(own));
  };
  test('as it is, it is read', async () => {
    const { motion, format } = await readMotion(await changed({}), { fps: 24 });
    expect([format, motion.frames]).toEqual(['gltf', 25]);
  });

  /** The head of a PNG of a size. */
  const pngOf = (width: number, height: number): string => {
    const head = Buffer.alloc(33);
    head.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
    head.writeUInt32BE(13, 8);
    head.write('IHDR', 12);
    head.writeUInt32BE(width, 16);
    head.writeUInt32BE(height, 20);
    return `data:image/png;base64,${head.toString('base64')}`;
  };
  const line = (count: number): unknown[] =>
    Array.from({ length: count }, (_, k) => (k < count - 1 ? { children: [k + 1] } : {}));
  let deep: unknown = 1;
  for (let k = 0; k < 70; k++) deep = [deep];
  const manyPlaces = { componentType: 5120, type: 'VEC3', count: 500_001 };
  const farSparse = {
    ...{ count: 3, values: { bufferView: 0 } },
    indices: { bufferView: 0, byteOffset: 1e6, componentType: 5123 },
  };
  test.each<[string, Readonly<Record<string, unknown>>, RegExp]>([
    ['another version', { 'asset.version': '1.0' }, /glTF of version "1.0"/],
    ['nodes that are no list', { nodes: {} }, /nodes: expected a list/],
    ['a node that hangs from itself', { 'nodes.2.children': [0] }, /hangs from itself/],
    ['a node with two parents', { 'nodes.0.children': [1, 2] }, /hangs from two others/],
    ['a child that is not there', { 'nodes.0.children': [99] }, /points to number 99, and there are 3/],
    ['a place that is no number', { 'nodes.0.translation': [0, 'x', 0] }, /translation: expected numbers/],
    ['a turn of three numbers', { 'nodes.0.rotation': [0, 0, 0] }, /rotation: expected 4 numbers, found 3/],
    ['too many nodes', { nodes: Array.from({ length: 10_001 }, () => ({})) }, /10,001 nodes; at most 10,000/],
    ['a tree without end', { nodes: line(900) }, /hangs from more than 500/],
    ['numbers past their buffer', { 'bufferViews.0.byteLength': 1e6 }, /ends at byte/],
    ['numbers past their view', { 'accessors.0.count': 5000 }, /end at byte .* of a view of/],
    ['numbers of an unknown kind', { 'accessors.0.componentType': 7 }, /of an unknown kind/],
    ['no numbers at all', { 'accessors.0.count': 0 }, /are none/],
    [
      'more than memory holds',
      { 'accessors.0.count': 2 ** 30, 'accessors.0.bufferView': undefined },
      /unpacks to more/,
    ],
    ['a buffer that is cut', { 'buffers.0.byteLength': (old: number) => old + 400 }, /are cut: /],
    ['a buffer from elsewhere', { 'buffers.0.uri': 'https://harbour.example/mast.bin' }, /nothing is fetched/],
    ['a buffer that is not beside it', { 'buffers.0.uri': 'mast.bin' }, /“mast.bin”, which is not here/],
    ['keys without values', { 'animations.0.samplers.0.output': 0 }, /a rotation of type SCALAR/],
    ['an unknown way between keys', { 'animations.0.samplers.0.interpolation': 'BOUNCE' }, /unknown way, "BOUNCE"/],
    ['a channel of what is not there', { 'animations.0.channels.0.target.node': 40 }, /node: points to number 40/],
    ['a channel of an unknown thing', { 'animations.0.channels.0.target.path': 'mood' }, /an unknown thing, "mood"/],
    ['no animation', { animations: undefined }, /holds no animation/],
    ['a skin that names a joint twice', { skins: [{ joints: [0, 0] }] }, /skin 0 names a joint twice/],
    ['a camera without an angle', { cameras: [{ type: 'perspective', perspective: {} }] }, /its angle is none/],
    ['sparse numbers past their view', { 'accessors.1.sparse': farSparse }, /sparse indices: end at byte/],
    [
      'too many vertices',
      { 'accessors.2': manyPlaces, meshes: [{ primitives: [{ attributes: { POSITION: 2 } }] }] },
      /500,001 vertices/,
    ],
    [
      'normals for fewer vertices',
      {
        'accessors.2': { componentType: 5126, type: 'VEC3', count: 3 },
        'accessors.3': { componentType: 5126, type: 'VEC3', count: 2 },
        meshes: [{ primitives: [{ attributes: { POSITION: 2, NORMAL: 3 } }] }],
      },
      /2 NORMAL of type VEC3 for 3 vertices/,
    ],
    [
      'places of two numbers',
      {
        'accessors.2': { componentType: 5126, type: 'VEC2', count: 3 },
        meshes: [{ primitives: [{ attributes: { POSITION: 2 } }] }],
      },
      /3 POSITION of type VEC2/,
    ],
    ['too many textures', { textures: Array.from({ length: 9 }, () => ({})) }, /9 textures; at most 8/],
    ['a texture that no page draws', { images: [{ uri: pngOf(8192, 16) }] }, /8192 × 16 pixels; at most 4096/],
    ['a picture that is not there', { images: [{ bufferView: 70 }] }, /image 0, bufferView: points to number 70/],
    ['nesting without end', { extras: deep }, /nested over 64 deep/],
  ])('%s', async (_, changes, message) => expect(await refusal(await changed(changes))).toMatch(message));

  test('times that fall, and numbers that are none', async () => {
    expect(
      await refusal(await glbOf({ roots: [MAST], animations: { a: [turns('mast', [0, 1, 0.5], [0, 1, 2])] } })),
    ).toMatch(/do not follow one another in time/);
    expect(
      await refusal(
        await glbOf({
          roots: [MAST],
          animations: {
            a: [
              {
                ...SWING,
                values: [
                  [0, 0, 0, NaN],
                  [0, 0, 0, 1],
                  [0, 0, 0, 1],
                ],
              },
            ],
          },
        }),
      ),
    ).toMatch(/no value that a motion can have/);
    expect(await refusal(await glbOf({ roots: [MAST], animations: { a: [turns('mast', [0, 1e7], [0, 1])] } }))).toMatch(
      /at most 100,000 can be read/,
    );
  });

  test('a file that is cut', async () => {
    const whole = await glbOf(swinging());
    for (const length of [4, 12, 19, 30, 200, whole.length - 4])
      expect(await refusal(whole.subarray(0, length))).toMatch(/cut|damaged/);
  });

  test('files that others have broken', async () => {
    const broken = (name: string): Promise<string> => refusal(readFileSync(`/usr/share/assimp/models/glTF2/${name}`));
    expect(await broken('RecursiveNodes/RecursiveNodes.gltf')).toMatch(/hangs from itself/);
    expect(await broken('MissingBin/BoxTextured.gltf')).toMatch(/which is not here/);
    expect(await broken('wrongTypes/badArray.gltf')).toMatch(/expected a list/);
    expect(await broken('SchemaFailures/sceneWrongType.gltf')).toMatch(/scene: expected a whole number/);
  });

  test('whatever is changed in a file, it is read with numbers or refused in words', async () => {
    const whole = await glbOf(swinging());
    let state = 7;
    const next = (below: number): number => (state = (Math.imul(1664525, state) + 1013904223) >>> 0) % below;
    let refused = 0;
    for (let k = 0; k < 400; k++) {
      const own = Uint8Array.from(whole);
      for (let n = 0; n <= next(3); n++) own[12 + next(own.length - 12)] = next(256);
      try {
        const { motion } = await readMotion(own, { fps: 24 });
        expect(motion.rotations.every(Number.isFinite) && motion.translations.every(Number.isFinite)).toBe(true);
      } catch (error) {
        expect(error).toBeInstanceOf(FormatError);
        refused++;
      }
    }
    expect(refused).toBeGreaterThan(50);
  });
});

describe('in a zip', () => {
  const text = async (): Promise<Record<string, Uint8Array>> => {
    const { json, resources } = await new WebIO().writeJSON(buildRig(swinging()), { basename: 'mast' });
    return { 'mast.gltf': new TextEncoder().encode(JSON.stringify(json)), ...resources };
  };
  const within = (folder: string, files: Record<string, Uint8Array>): Record<string, Uint8Array> =>
    Object.fromEntries(Object.entries(files).map(([name, own]) => [`${folder}${name}`, own]));

  test('a .gltf finds what it names, in whatever folder both lie', async () => {
    for (const folder of ['', 'last ferry/'])
      expect((await readMotion(zipSync(within(folder, await text())), { fps: 24 })).motion.frames).toBe(25);
  });

  test('a .glb or a .bvh alone is read as well; none, and two, are refused', async () => {
    const glb = await glbOf(swinging());
    expect(
      (await readMotion(zipSync({ 'a.glb': glb, '__MACOSX/._a.glb': glb.subarray(0, 9) }), { fps: 24 })).format,
    ).toBe('gltf');
    expect((await readMotion(zipSync({ 'a.bvh': recording('01_03.bvh') }))).format).toBe('bvh');
    await expect(readMotion(zipSync({ 'a.glb': glb, 'b.glb': glb }))).rejects.toThrow(/holds 2 motions/);
    await expect(readMotion(zipSync({ 'a.txt': glb }))).rejects.toThrow(/holds no motion/);
    const { 'mast.gltf': alone } = await text();
    await expect(readMotion(zipSync({ 'mast.gltf': alone! }))).rejects.toThrow(/which is not here/);
  });

  test('what unpacks to more than can be read is refused before it is', async () => {
    const bomb = zipSync({ 'a.glb': new Uint8Array(140 * 1024 * 1024) }, { level: 9 });
    await expect(readMotion(bomb)).rejects.toThrow(/unpacks to more than 128 MB/);
  });
});

test('what is written has no fault by the standard’s own validator', async () => {
  // Khronos Group, glTF Validator.
  const { validateBytes } = jest.requireActual<{
    validateBytes(bytes: Uint8Array): Promise<{ issues: { numErrors: number; numWarnings: number } }>;
  }>('gltf-validator');
  for (const name of ['walk', 'overlap']) {
    const { issues } = await validateBytes(await writeGltf(EXEMPLARS[name]!.make({}, {}), { metresPerUnit: 0.01 }));
    expect(issues).toMatchObject({ numErrors: 0, numWarnings: 0 });
  }
});
