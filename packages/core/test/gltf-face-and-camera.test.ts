import { Document, WebIO } from '@gltf-transform/core';
import { readMotion } from '../src/formats/read-motion.ts';
import { DELAY_MARK, delayBetween } from '../src/mark/delay-mark.ts';
import { measureBlinks } from '../src/measure/attention/blinks.ts';
import { shotEvents } from '../src/measure/keys/shot-events.ts';
import { measureCameraShake } from '../src/measure/attention/camera-shake.ts';
import type { Reading } from '../src/measure/reading.ts';
import { measureShot } from '../src/measure/registry.ts';
import { sayReading } from '../src/measure/sentence.ts';
import { measureJointShapes } from '../src/measure/shape/joint-shapes.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { axisAngle, multiply, type Quat } from '../src/motion/quaternion.ts';
import { glbOf, type Rig, type RigChannel } from './gltf-rigs.ts';

const shotOf = async (bytes: Uint8Array): Promise<PreparedShot> =>
  prepareShot((await readMotion(bytes, { usualFps: 24 })).motion, { kind: 'any', fps: 24 });
const times = (frames: number): number[] => Array.from({ length: frames }, (_, f) => f / 24);

describe('a joint that is scaled', () => {
  const sack = async (scales: readonly [number, number, number][], turn?: Quat): Promise<readonly Reading[]> => {
    const rig: Rig = {
      roots: [{ name: 'sack', ...(turn && { turn }), children: [{ name: 'knot', at: [0, 1, 0] }] }],
      animations: { drop: [{ node: 'sack', path: 'scale', times: times(scales.length), values: scales }] },
    };
    return measureJointShapes(await shotOf(await glbOf(rig))).readings;
  };
  const of = (readings: readonly Reading[], id: string): Reading => readings.find((reading) => reading.id === id)!;

  test('stretches along up over the mean of its sides, and keeps its volume or not', async () => {
    const kept = await sack([
      [1, 1, 1],
      [1 / Math.sqrt(1.44), 1.44, 1 / Math.sqrt(1.44)],
      [1.25, 0.64, 1.25],
      [1, 1, 1],
    ]);
    expect(of(kept, 'shape.stretch')).toMatchObject({ part: 'sack', frames: [3], detail: { mostAt: 2, leastAt: 3 } });
    expect((of(kept, 'shape.stretch').detail as { most: number }).most).toBeCloseTo(1.44 * 1.2, 3);
    expect(of(kept, 'shape.volume').value).toBeCloseTo(1, 3);
    const lost = await sack([
      [1, 1, 1],
      [1, 0.5, 1],
      [1, 1, 1],
      [1, 1, 1],
    ]);
    expect(of(lost, 'shape.volume')).toMatchObject({ value: 0.5, frames: [2] });
    expect(sayReading(of(lost, 'shape.volume'))).toBe('“sack” shrinks to 50 % of its volume at frame 2');
  });

  test('is measured along the axis of its own that is up at rest', async () => {
    // Its own x points up.
    const turned = await sack(
      [
        [1, 1, 1],
        [0.5, 1, 1],
        [1, 1, 1],
        [1, 1, 1],
      ],
      axisAngle([0, 0, 1], 90),
    );
    expect(of(turned, 'shape.stretch')).toMatchObject({ value: 0.5, frames: [2] });
  });

  test('is told of every kind of exercise; what is not scaled is not told', async () => {
    const rig = (path: 'scale' | 'translation'): Rig => ({
      roots: [{ name: 'sack' }],
      animations: {
        a: [
          {
            node: 'sack',
            path,
            times: times(3),
            values: [
              [1, 1, 1],
              [1, 2, 1],
              [1, 1, 1],
            ],
          },
        ],
      },
    });
    const ids = async (path: 'scale' | 'translation'): Promise<string[]> =>
      measureShot(await shotOf(await glbOf(rig(path)))).readings.map(({ id }) => id);
    expect(await ids('scale')).toContain('shape.stretch');
    expect(await ids('translation')).not.toContain('shape.stretch');
  });
});

describe('blend shapes of the lids', () => {
  /** A face whose shapes are on by so much at each frame. */
  async function face(shapes: Readonly<Record<string, readonly number[]>>): Promise<PreparedShot> {
    const document = new Document();
    const buffer = document.createBuffer();
    const floats = (values: readonly number[], type: 'SCALAR' | 'VEC3' | 'VEC4') =>
      document.createAccessor().setArray(Float32Array.from(values)).setType(type).setBuffer(buffer);
    const names = Object.keys(shapes);
    const primitive = document.createPrimitive().setAttribute('POSITION', floats([0, 0, 0, 1, 0, 0, 0, 1, 0], 'VEC3'));
    for (const name of names)
      primitive.addTarget(
        document.createPrimitiveTarget(name).setAttribute('POSITION', floats(new Array<number>(9).fill(0.1), 'VEC3')),
      );
    const mesh = document.createMesh('face').addPrimitive(primitive).setExtras({ targetNames: names });
    const head = document.createNode('head');
    const shown = document.createNode('face').setMesh(mesh);
    head.addChild(shown);
    const scene = document.createScene('scene').addChild(head);
    document.getRoot().setDefaultScene(scene);
    const frames = shapes[names[0]!]!.length;
    const animation = document.createAnimation('blink');
    const add = (node: typeof head, path: 'weights' | 'rotation', values: number[]): void => {
      const sampler = document
        .createAnimationSampler()
        .setInput(floats(times(frames), 'SCALAR'))
        .setOutput(floats(values, path === 'weights' ? 'SCALAR' : 'VEC4'));
      animation
        .addSampler(sampler)
        .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
    };
    add(shown, 'weights', Array.from({ length: frames }, (_, f) => names.map((name) => shapes[name]![f]!)).flat());
    add(head, 'rotation', Array.from({ length: frames }, (_, f) => axisAngle([0, 1, 0], f)).flat());
    return shotOf(await new WebIO().writeBinary(document));
  }
  const BLINK = [0, 0, 0, 0.5, 1, 1, 1, 0.5, 0, 0, 0, 0];
  const shifted = (by: number): number[] => BLINK.map((_, f) => BLINK[f - by] ?? 0);

  test('a blink has its frames: closing, closed, opening', async () => {
    const { readings } = measureBlinks(await face({ 'blink.L': BLINK, 'blink.R': BLINK, smile: BLINK }));
    expect(readings.map(({ id, value, frames, detail }) => [id, value, frames, detail])).toEqual([
      ['blink.frames', 7, [3], { closing: 2, closed: 3, opening: 2 }],
      ['blink.count', 1, [3], undefined],
    ]);
    expect(sayReading(readings[0]!)).toBe('a blink takes 7 frames: closing 2, closed 3, opening 2');
  });

  test('both eyes within two frames are one blink, farther apart they are two', async () => {
    const count = async (by: number): Promise<unknown> =>
      measureBlinks(await face({ eyeCloseLeft: BLINK, eyeCloseRight: shifted(by) })).readings.at(-1)!.value;
    expect([await count(2), await count(3)]).toEqual([1, 2]);
  });

  test('a blink is an event that a delay is told to, and told again where it comes later', async () => {
    const blinks = (shot: PreparedShot) => shotEvents(shot).filter(({ name }) => name === 'blink');
    const shot = await face({ 'blink.L': BLINK, 'blink.R': shifted(1) });
    expect(blinks(shot)).toEqual([{ label: 3, name: 'blink', part: 'eyes' }]);
    const own = delayBetween({ label: 1, name: 'look', part: 'head' }, blinks(shot)[0]!);
    expect(DELAY_MARK.say(own, null, { point: 'head', from: 1, to: 3 }).now).toBe(
      'the blink at 3 comes 2 frames after the look at 1',
    );
    expect(blinks(await face({ 'blink.L': shifted(3) }))).toEqual([{ label: 6, name: 'blink', part: 'eyes' }]);
    expect(blinks(await face({ smile: BLINK }))).toEqual([]);
  });

  test('a face without lids, and lids that do not close', async () => {
    expect(measureBlinks(await face({ smile: BLINK })).unmade[0]!.why).toMatch(/no blend shape is named/);
    const half = await face({ blink: BLINK.map((value) => 0.4 * value) });
    expect(measureBlinks(half).readings.map(({ id, value }) => [id, value])).toEqual([['blink.count', 0]]);
    expect((await face({ smile: BLINK })).played.motion.weights!.map(({ name }) => name)).toEqual(['smile']);
  });
});

describe('the shot’s own camera', () => {
  const N = 60;
  const MAST: RigChannel = {
    node: 'mast',
    path: 'rotation',
    times: [0, (N - 1) / 24],
    values: [[0, 0, 0, 1], [...axisAngle([0, 0, 1], 30)]],
  };
  async function filmed(turn: (f: number) => Quat, height: (f: number) => number = () => 1.5): Promise<Reading> {
    const document = await new WebIO().readBinary(
      await glbOf({
        roots: [{ name: 'mast', children: [{ name: 'lamp', at: [0, 1, 0] }] }, { name: 'shot' }],
        animations: {
          pan: [
            MAST,
            { node: 'shot', path: 'rotation', times: times(N), values: times(N).map((_, f) => turn(f)) },
            { node: 'shot', path: 'translation', times: times(N), values: times(N).map((_, f) => [0, height(f), 5]) },
          ],
        },
      }),
    );
    const node = document
      .getRoot()
      .listNodes()
      .find((own) => own.getName() === 'shot')!;
    node.setCamera(document.createCamera('lens').setType('perspective').setYFov(0.6).setAspectRatio(1.5));
    const shot = await shotOf(await new WebIO().writeBinary(document));
    expect(shot.played.motion.joints.map(({ name }) => name)).toEqual(['mast', 'lamp']);
    expect(shot.played.motion.cameras).toMatchObject([
      { name: 'shot', aspect: 1.5, sees: { degrees: expect.closeTo(34.377, 2) } },
    ]);
    return measureCameraShake(shot).readings[0]!;
  }
  const pan = (f: number): Quat => axisAngle([0, 1, 0], f);

  test('a pan does not shake; what trembles on it does', async () => {
    expect((await filmed(pan)).value).toBeLessThan(0.02);
    const shaken = await filmed((f) => multiply(axisAngle([0, 1, 0], 0.5 * (f % 2 === 0 ? 1 : -1)), pan(f)));
    expect(shaken.value).toBeGreaterThan(0.4);
    expect(shaken.value).toBeLessThan(0.6);
  });

  test('its bob, as a share of the figure, and its roll', async () => {
    // Half the figure’s height is half a metre: a hundredth of a metre every other frame is 2 % of that.
    const bobbing = await filmed(pan, (f) => 1.5 + 0.01 * (f % 2 === 0 ? 1 : -1));
    expect((bobbing.detail as { bob: number }).bob).toBeGreaterThan(1.5);
    expect((bobbing.detail as { bob: number }).bob).toBeLessThan(2.5);
    const rolled = await filmed((f) => multiply(pan(f), axisAngle([0, 0, 1], 7)));
    expect((rolled.detail as { roll: number }).roll).toBeCloseTo(7, 2);
    expect(((await filmed(pan)).detail as { roll: number }).roll).toBeCloseTo(0, 3);
  });
});
