import { NO_TRACKS } from '@ypsigraph/core/track/picture-shot';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { type Pictures, Tracks } from '@ypsigraph/contract/pictures';
import { figureShot } from '../../../packages/pictures/src/drawn/drawn-shots.ts';
import { useDesk } from '../src/desk/desk-store.ts';
import { WEAVE_LANE } from '../src/desk/lanes/weave-lane.ts';
import { hasWhat } from '../src/desk/lenses/lens.ts';
import { ViewRig } from '../src/desk/paper/view-rig.ts';
import { lineMask } from '../src/desk/pictures/lines-of.ts';
import { outlineMask, threshold } from '../src/desk/pictures/outline-of.ts';
import { PictureFrames } from '../src/desk/pictures/picture-frames.ts';
import type { PictureScene } from '../src/desk/pictures/picture-scene.ts';
import { PictureSource } from '../src/desk/pictures/picture-source.ts';

const walk = figureShot({ exemplar: 'walk', pan: 5, width: 640, height: 360, leg: 110 });
const exposures = Array.from({ length: walk.frames }, (_, k) => ({ from: k, to: k }));
const facts: Pictures = {
  ...{ format: 'WebM', fps: 24, frames: walk.frames, width: 640, height: 360 },
  ...{ shown: { width: 640, height: 360 }, small: { width: 64, height: 36 } },
  pictures: exposures.map((_, k) => k),
  sizes: exposures.map(() => 1),
  smallSizes: exposures.map(() => 1),
  exposures,
  warnings: [],
};
const NONE = Tracks.parse({ ...NO_TRACKS, version: 0 });
const placed = (names: readonly string[]): Tracks['points'] =>
  names.map((name) => ({
    name,
    places: Array.from(
      { length: walk.frames },
      (_, f) => [f, ...walk.points(f)[name]!, 1] as [number, number, number, number],
    ),
  }));
const BODY = ['hips', 'head', 'knee.R', 'ankle.R', 'toe.R', 'knee.L', 'ankle.L', 'toe.L', 'hat tip', 'bollard two'];
const frames = () => new PictureFrames(facts, 'r', () => new Promise(() => undefined));
const source = (tracks: Partial<Tracks> = {}): PictureSource =>
  new PictureSource(frames(), facts, { ...NONE, ...tracks }, { kind: 'walk', firstFrame: 101, loop: 'follow' });

beforeAll(() => {
  // Nothing is drawn here: where things fall is asked for.
  Object.assign(globalThis, {
    devicePixelRatio: 1,
    requestAnimationFrame: () => 1,
    cancelAnimationFrame: () => undefined,
  });
});

describe('pictures as a source of frames', () => {
  test('without points they are frames alone: nothing that needs a point is offered', () => {
    const own = source();
    expect([own.frames, own.first, own.fps, own.pointNames, own.parts]).toEqual([24, 101, 24, [], []]);
    expect([hasWhat(own, 'frames'), hasWhat(own, 'paths'), hasWhat(own, 'figure')]).toEqual([true, false, false]);
    expect(own.keyPoses().length).toBeGreaterThan(3);
    expect([own.sampleAt(101), own.sampleAt(124), own.sampleAt(500)]).toEqual([0, 23, 23]);
  });

  test('with points they are what a motion is; a point that is no part of the body is a part of its own', () => {
    const own = source({ points: placed(BODY), still: ['bollard two'] });
    expect(own.pointNames).toEqual(expect.arrayContaining(BODY));
    expect(own.partOf(own.pointNames.indexOf('hat tip'))).toBe('hat tip');
    expect(own.parts).toEqual(expect.arrayContaining(['leg.L', 'leg.R', 'hat tip']));
    expect([...own.activity('hat tip')].some((value) => value > 0.1)).toBe(true);
    // What stands still in the world does not move, whatever the camera does.
    expect(Math.max(...own.activity('bollard two'))).toBeLessThan(1e-6);
    expect(walkExemplar({}, {}).frames - 1).toBe(own.frames);
  });

  test('pairs and shapes are signals of their own, told as multiples of their rest', () => {
    const own = source({
      points: placed(BODY),
      pairs: [['knee.L', 'knee.R']],
      shapes: [['head', 'toe.R', 'knee.L', 'knee.R']],
    });
    expect(own.ownSignals).toEqual(['knee.L to knee.R', 'stretch', 'volume']);
    const { values, unit } = own.signal(0, 'volume')!;
    expect([unit, values.length]).toEqual(['times its rest', 24]);
    expect([...values].sort((a, b) => a - b)[12]).toBeCloseTo(1, 0);
    expect(own.signal(0, 'nothing of the kind')).toBeUndefined();
  });

  test('pairs and shapes have bands on the weave, dark where they change, and are no part to look at alone', () => {
    const own = source({ points: placed(BODY), pairs: [['knee.L', 'knee.R']] });
    const { bands } = WEAVE_LANE.prepare(
      { source: own, report: undefined, findings: [], beside: undefined, marks: [] },
      useDesk.getState(),
    )!;
    const knees = bands.at(-1)!;
    expect([knees.name, knees.part]).toEqual(['knee.L to knee.R', undefined]);
    const { values } = own.signal(-1, 'knee.L to knee.R')!;
    const steps = [...values].slice(1).map((value, f) => Math.abs(value - values[f]!));
    const liveliest = steps.indexOf(Math.max(...steps));
    expect(knees.strength[liveliest]).toBe(1);
    expect(WEAVE_LANE.spot!({ bands, first: 101 }, 104, WEAVE_LANE.height({ bands, first: 101 }) - 5)).toEqual({
      text: 'knee.L to knee.R',
      from: 104,
      to: 104,
    });
  });

  test('exposures are those that were corrected, in labels', () => {
    const held = [{ from: 0, to: 1 }, ...exposures.slice(2)];
    expect(source({ exposures: held }).exposed![0]).toEqual({ from: 101, length: 2 });
  });
});

describe('where things fall on the paper', () => {
  const scenes: PictureScene[] = [];
  const onPaper = (tracks: Partial<Tracks>): { scene: PictureScene; own: PictureSource; rig: ViewRig } => {
    const own = source(tracks);
    const rig = new ViewRig();
    const canvas = { getContext: () => ({}), dataset: {}, width: 0, height: 0 } as unknown as HTMLCanvasElement;
    const scene = own.scene(canvas, rig, () => undefined) as PictureScene;
    scenes.push(scene);
    scene.resize(900, 500);
    return { scene, own, rig };
  };
  afterEach(() => {
    for (const scene of scenes.splice(0)) scene.dispose();
    useDesk.getState().set({ mirrored: false, turned: 0 });
  });

  test.each([
    ['as it is', {}],
    ['mirrored', { mirrored: true }],
    ['a quarter turned', { turned: 1 }],
    ['upside down and mirrored', { mirrored: true, turned: 2 }],
  ])('%s, nearer and moved: a place of the picture comes back from where it falls', (_, view) => {
    useDesk.getState().set(view);
    const { scene, rig } = onPaper({});
    rig.zoomBy(1.7);
    rig.pan(0.2, -0.1);
    for (const [x, y] of [
      [0, 0],
      [123.4, 300.5],
      [640, 360],
    ] as const) {
      const [px, py] = scene.paperAt(x, y);
      const back = scene.pictureAt(px, py);
      expect(Math.hypot(back[0] - x, back[1] - y)).toBeLessThan(1e-9);
    }
  });

  test('mirrored its left edge is right; a quarter turned its upper left corner is the upper right', () => {
    const { scene } = onPaper({});
    const left = (): number => scene.paperAt(0, 180)[0] - scene.paperAt(640, 180)[0];
    expect(left()).toBeLessThan(0);
    useDesk.getState().set({ mirrored: true });
    expect(left()).toBeGreaterThan(0);
    useDesk.getState().set({ mirrored: false, turned: 1 });
    const [x, y] = scene.paperAt(0, 0);
    expect([x > 450, y < 250]).toEqual([true, true]);
  });

  test('a point lies where it was placed, behind a camera that moves, and what is drawn stays where the hand was', () => {
    const { scene, own } = onPaper({ points: placed(BODY), still: ['bollard two'], ground: [0, 275, 640, 275] });
    for (const sample of [0, 7, 20]) {
      scene.pose(sample);
      for (const name of ['hat tip', 'toe.L']) {
        const { x, y } = scene.project(sample, own.pointNames.indexOf(name), { x: 0, y: 0, depth: 0 });
        const [px, py] = scene.paperAt(...walk.points(sample)[name]!);
        expect(Math.hypot(x - px, y - py)).toBeLessThan(1e-6);
        expect(own.pointNames[scene.pointAt(x + 3, y)!]).toBe(name);
      }
      const drawn = scene.drawnUnder(400, 200);
      const at = scene.projectDrawn(sample, ...drawn, { x: 0, y: 0, depth: 0 });
      expect(Math.hypot(at.x - 400, at.y - 200)).toBeLessThan(1e-6);
      const world = scene.projectWorld(sample, ...scene.placeUnder(400, 200), { x: 0, y: 0, depth: 0 });
      expect(Math.hypot(world.x - 400, world.y - 200)).toBeLessThan(1e-6);
    }
  });

  test('riding on a point keeps it on the spot', () => {
    const { scene, own } = onPaper({ points: placed(BODY) });
    const hips = own.pointNames.indexOf('hips');
    scene.ride = hips;
    const seen = [0, 6, 18].map((sample) => {
      scene.pose(sample);
      return scene.project(sample, hips, { x: 0, y: 0, depth: 0 });
    });
    for (const { x, y } of seen) expect(Math.hypot(x - seen[0]!.x, y - seen[0]!.y)).toBeLessThan(1e-6);
  });
});

describe('nothing but the lines of a picture', () => {
  const [width, height] = [60, 40];
  /** A picture whose lightness at each place is as told. */
  const picture = (light: (x: number, y: number) => number): Uint8ClampedArray =>
    Uint8ClampedArray.from({ length: 4 * width * height }, (_, k) =>
      k % 4 === 3 ? 255 : light((k >> 2) % width, Math.floor((k >> 2) / width)),
    );
  const lines = (light: (x: number, y: number) => number) => {
    const mask = lineMask(picture(light), width, height);
    return (x: number, y: number) => mask[y * width + x]!;
  };

  test('a stroke is a line, as dark as it is drawn; paper and a light that falls off are none', () => {
    const at = lines((x) => (x === 20 ? 40 : x === 40 ? 215 : 235));
    expect([at(20, 10), at(21, 10), at(30, 10)]).toEqual([255, 0, 0]);
    expect(at(40, 10)).toBeGreaterThan(5);
    expect(at(40, 10)).toBeLessThan(at(20, 10) / 3);
    const falling = lines((x, y) => 240 - 1.5 * x - y);
    expect(Math.max(...[10, 30, 50].map((x) => falling(x, 20)))).toBe(0);
  });

  test('of what is painted evenly it is the edge, on its darker side', () => {
    const at = lines((x) => (x >= 30 ? 60 : 230));
    expect([at(30, 20) > 150, at(29, 20), at(50, 20)]).toEqual([true, 0, 0]);
  });
});

describe('the outline of a picture', () => {
  const [width, height] = [80, 60];
  const outline = (light: (x: number, y: number) => number) => {
    const pixels = new Uint8ClampedArray(4 * width * height).fill(255);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) pixels.fill(light(x, y), 4 * (y * width + x), 4 * (y * width + x) + 3);
    const mask = outlineMask(pixels, width, height);
    return (x: number, y: number): boolean => mask[y * width + x]! > 0;
  };
  const far = (x: number, y: number): number => Math.hypot(x - 40, y - 30);

  test('drawn as a stroke is filled, inside and not outside, though its line has a gap', () => {
    const ring = outline((x, y) => (Math.abs(far(x, y) - 18) < 1.5 && !(x > 55 && Math.abs(y - 30) < 2) ? 40 : 240));
    expect([ring(40, 30), ring(30, 38), ring(40, 12), ring(5, 5), ring(70, 50)]).toEqual([
      true,
      true,
      true,
      false,
      false,
    ]);
  });

  test('of a painted figure is the figure, dark on light or light on dark', () => {
    for (const [figure, paper] of [
      [60, 230],
      [220, 40],
    ] as const) {
      const disc = outline((x, y) => (far(x, y) < 15 ? figure : paper));
      expect([disc(40, 30), disc(40, 20), disc(40, 50), disc(2, 2)]).toEqual([true, true, false, false]);
    }
  });

  test('lets a hand that lies before the body merge with it', () => {
    const body = outline((x, y) => (far(x, y) < 15 ? 60 : Math.hypot(x - 45, y - 28) < 5 ? 90 : 230));
    expect(body(45, 28)).toBe(true);
  });

  test('two kinds of brightness are parted between them', () => {
    const light = Uint8Array.from({ length: 1000 }, (_, k) => (k % 3 === 0 ? 40 + (k % 7) : 200 + (k % 11)));
    expect(threshold(light)).toBeGreaterThanOrEqual(46);
    expect(threshold(light)).toBeLessThan(200);
  });
});
