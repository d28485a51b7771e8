// The trunk that an arm may go through: as thick as the character is, where its shape is known.
import { type Accessor, WebIO } from '@gltf-transform/core';
import { characterFile } from '../src/exemplar/character.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { girthsOf } from '../src/formats/gltf/girths.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { measureReading } from '../src/measure/registry.ts';
import type { Motion, ShapePiece } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';

const WALK = walkExemplar();
const TRUNK = ['hips', 'spine', 'chest'];

/** Frames for which either forearm lies within the trunk. */
const through = (motion: Motion): number =>
  measureReading(prepareShot(motion, { kind: 'walk' }), 'through.frames').reduce(
    (sum, { value }) => sum + (value as number),
    0,
  );

/** The walk on a figure whose trunk reaches so far to each side, and ahead and back, in its own units. */
function thick(wide: number, ahead: number, back: number): Motion {
  const girths = new Float64Array(6 * WALK.joints.length);
  WALK.joints.forEach(({ name }, j) => {
    if (TRUNK.includes(name)) girths.set([-wide, wide, -20, 20, -back, ahead], 6 * j);
  });
  return { ...WALK, girths };
}

test('arms that swing beside people go through somebody who is twice as wide, and not through somebody thin', () => {
  expect(through(WALK)).toBe(0);
  const shoulder = Math.abs(WALK.joints.find(({ name }) => name === 'upperArm.L')!.offset[0]);
  expect(shoulder).toBeGreaterThan(0);
  expect(through(thick(0.5 * shoulder, 8, 8))).toBe(0);
  expect(through(thick(3 * shoulder, 30, 30))).toBeGreaterThan(10);
  // All in front: what swings back stays outside.
  const belly = through(thick(3 * shoulder, 60, 0));
  expect(belly).toBeGreaterThan(0);
  expect(belly).toBeLessThan(through(thick(3 * shoulder, 60, 60)));
});

test('how thick a character is comes with its file, by the vertices that each joint carries', async () => {
  const bytes = await characterFile(EXEMPLARS.take!.make({}, {}), { metresPerUnit: 0.01 });
  const [plain, drawn] = await Promise.all(
    [false, true].map(async (withShape) => (await readMotion(bytes, { usualFps: 24, withShape })).motion),
  );
  expect(plain!.shape).toBeUndefined();
  expect(plain!.girths).toEqual(drawn!.girths);
  const chest = plain!.joints.findIndex(({ name }) => name === 'chest');
  const [left, right, , , back, front] = plain!.girths!.subarray(6 * chest, 6 * chest + 6) as unknown as number[];
  // A person of 1.7 m: a chest some 20 to 45 cm wide and 15 to 35 cm deep (common practice).
  expect(right! - left!).toBeGreaterThan(0.2);
  expect(right! - left!).toBeLessThan(0.45);
  expect(front! - back!).toBeGreaterThan(0.15);
  expect(front! - back!).toBeLessThan(0.35);
});

test('a character that is blown up has hands that go through it', async () => {
  const document = await new WebIO().readBinary(await characterFile(WALK, { metresPerUnit: 0.01 }));
  const read = async (): Promise<Motion> =>
    (await readMotion(await new WebIO().writeBinary(document), { usualFps: 24 })).motion;
  expect(through(await read())).toBe(0);
  const [skin] = document.getRoot().listSkins();
  const trunk = skin!.listJoints().flatMap((joint, k) => (TRUNK.includes(joint.getName()) ? [k] : []));
  for (const mesh of document.getRoot().listMeshes())
    for (const primitive of mesh.listPrimitives()) {
      const [places, joints, weights] = ['POSITION', 'JOINTS_0', 'WEIGHTS_0'].map((name) =>
        primitive.getAttribute(name),
      );
      if (!places || !joints || !weights) continue;
      widen(places, (v) => {
        const [by, much] = [joints.getElement(v, []), weights.getElement(v, [])];
        return much.reduce((sum, weight, k) => sum + (trunk.includes(by[k]!) ? weight : 0), 0) > 0.5;
      });
    }
  expect(through(await read())).toBeGreaterThan(0);
});

/** Makes what some vertices enclose three times as wide and deep. */
function widen(places: Accessor, isMeant: (vertex: number) => boolean): void {
  for (let v = 0; v < places.getCount(); v++) {
    if (!isMeant(v)) continue;
    const [x, y, z] = places.getElement<[number, number, number]>(v, [0, 0, 0]);
    places.setElement(v, [3 * x, y, 3 * z]);
  }
}

test('a cape and a skirt are not the body, and of a few vertices nothing is said', () => {
  const joints = [{ name: 'hips', parent: -1, offset: [0, 0, 0], ends: [] }] as const;
  const piece = (places: readonly (readonly [number, number])[]): ShapePiece => ({
    positions: Float32Array.from(places.flatMap(([x, z]) => [x, 0, z])),
    triangles: new Uint32Array(0),
    joints: new Uint16Array(4 * places.length),
    weights: Float32Array.from(places.flatMap(() => [1, 0, 0, 0])),
  });
  const round = (radius: number, many = 120): [number, number][] =>
    Array.from({ length: many }, (_, k) => {
      const turn = (2 * Math.PI * k) / many;
      return [radius * Math.cos(turn), radius * Math.sin(turn)];
    });
  const body = girthsOf([piece(round(1))], joints);
  // Of a round body: some nine tenths of its radius, on every side; of its height nothing is known.
  for (const side of [0, 1, 4, 5]) expect(Math.abs(body[side]!)).toBeCloseTo(0.9, 1);
  expect([body[0]! < 0, body[1]! > 0, body[2], body[3]]).toEqual([true, true, 0, 0]);
  // Half as many vertices again hang behind it, three times as far away.
  const cape = round(3).filter(([x, z]) => z < -Math.abs(x));
  const dressed = girthsOf([piece(round(1)), piece(cape.slice(0, 15))], joints);
  expect(Math.abs(dressed[4]!)).toBeLessThan(1);
  expect([
    ...girthsOf(
      [
        piece([
          [-1, 0],
          [1, 0],
          [0, 1],
        ]),
      ],
      joints,
    ),
  ]).toEqual([0, 0, 0, 0, 0, 0]);
  const shared = { ...piece(round(1)), weights: new Float32Array(480).fill(0.25) };
  expect([...girthsOf([shared], joints)]).toEqual([0, 0, 0, 0, 0, 0]);
});
