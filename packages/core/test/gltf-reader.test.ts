import { WebIO } from '@gltf-transform/core';
import { EXTMeshoptCompression } from '@gltf-transform/extensions';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { Matrix4, Quaternion } from 'three';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import type { ReadOptions } from '../src/formats/format.ts';
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
import { buildRig, glbOf, MAST, type Rig, type RigChannel, type RigNode, SWING, swinging, turns } from './gltf-rigs.ts';

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
