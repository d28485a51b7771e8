import { parse } from 'csv-parse/sync';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { readPoints } from '../src/formats/points/read-points.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { writePoints } from '../src/formats/points/write-points.ts';
import { CHAIN_LAG } from '../src/measure/overlap/lag.ts';
import { measurePair, measureShape } from '../src/measure/pictures/pairs-and-shapes.ts';
import type { Reading } from '../src/measure/reading.ts';
import type { Report } from '../src/measure/report.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { Kind } from '../src/motion/prepared-shot.ts';
import { planarFigure } from '../src/track/planar-figure.ts';
import { pointRoles } from '../src/track/point-roles.ts';
import { filledPlaces, type PointTracks } from '../src/motion/point-tracks.ts';
import { reportTracks } from '../src/track/report-tracks.ts';
import { cameraOf, withoutCamera } from '../src/track/steady-camera.ts';
import { detailOf, readingOf } from './fixtures.ts';
import { seenFromTheSide } from './points.ts';

test.each(['frame,point,x,y\n1,hat,3,4\n', '\uFEFF"Point", "Frame" ,x,y,sure\r\nhat,1,3,4,1\r\n'])(
  'a table of points that is handed in as a motion is told as what it is',
  async (text) => {
    await expect(readMotion(new TextEncoder().encode(text))).rejects.toThrow(
      /^this is a table of points, which belongs/,
    );
  },
);

/** A seeded generator of −1 to 1 (mulberry32). */
const mulberry = (seed: number) => (): number => {
  seed = (seed + 0x6d2b79f5) | 0;
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 2 ** 31 - 1;
};
const source = { file: 'points.csv', format: 'points', warnings: [] };
const exemplar = (kind: 'walk' | 'run' | 'jump', faults: Record<string, number> = {}) =>
  prepareShot(EXEMPLARS[kind]!.make({}, faults), { kind });
const report = (tracks: PointTracks, kind: Kind = 'any'): Report => reportTracks(tracks, { kind }, source);
const one = ({ readings }: Report, id: string, part?: string): Reading => {
  const found = readings.filter((own) => own.id === id && own.part === part);
  if (found.length !== 1) throw new Error(`${found.length} readings ${id} ${part ?? ''}`);
  return found[0]!;
};
/** Points that are where a function says, pixels, y up. */
const tracksOf = (frames: number, points: Record<string, (f: number) => readonly [number, number]>): PointTracks => ({
  fps: 24,
  firstFrame: 1,
  frames,
  points: Object.entries(points).map(([name, at]) => ({
    name,
    places: Float64Array.from({ length: 2 * frames }, (_, k) => at(Math.floor(k / 2))[k % 2]!),
    confidence: new Float64Array(frames).fill(1),
  })),
});

describe('a table of points', () => {
  test('is read by its columns, in any order, with quotes and a byte order mark (RFC 4180); y down becomes up', () => {
    const text = '\uFEFFPoint,x,Y,frame,colour\r\n"tip, of the hat",1.5,2,10,red\r\n"tip, of the hat",2.5,4,12,red\r\n';
    const { firstFrame, frames, points } = readPoints(text, { fps: 12 });
    expect([firstFrame, frames]).toEqual([10, 3]);
    expect(points[0]!.name).toBe('tip, of the hat');
    expect([...points[0]!.places]).toEqual([1.5, -2, NaN, NaN, 2.5, -4]);
    expect([...points[0]!.confidence]).toEqual([1, 0, 1]);
    expect(readPoints(text, { fps: 12, y: 'up', firstFrame: 0 })).toMatchObject({ firstFrame: 0 });
  });

  test('that is written is what another package reads, and comes back as it was', () => {
    const tracks = seenFromTheSide(exemplar('walk'), { only: ['hips', 'foot'] });
    const text = writePoints(tracks);
    const rows: Record<string, string>[] = parse(text, { columns: true });
    expect(rows).toHaveLength(3 * tracks.frames);
    expect(Number(rows[0]!.y)).toBeCloseTo(-tracks.points[0]!.places[1]!, 3);
    const again = readPoints(text, { fps: 24 });
    again.points.forEach(({ name, places }, k) => {
      expect(name).toBe(tracks.points[k]!.name);
      places.forEach((value, i) => expect(value).toBeCloseTo(tracks.points[k]!.places[i]!, 3));
    });
  });

  test.each([
    ['', 'line 1: the table is empty; expected the columns frame, point, x, y'],
    ['frame,point,x\n1,a,2', 'line 1: the table has no column y; expected frame, point, x, y'],
    ['frame,point,x,y\n1,a,2,3\n2,a,two,3', 'line 3: expected a number for x, found “two”'],
    ['frame,point,x,y\n1,a,2,', 'line 2: expected a number for y, found “”'],
    ['frame,point,x,y\n1.5,a,2,3', 'line 2: expected a whole frame, found 1.5'],
    ['frame,point,x,y\n1,,2,3', 'line 2: the point has no name'],
    ['frame,point,x,y\n1,a,2,3\n1,a,2,3', 'line 3: the point “a” is there twice at frame 1'],
    ['frame,point,x,y,sure\n1,a,2,3,7', 'line 2: expected 0 to 1 for sure, found 7'],
    ['frame,point,x,y\n1,a,1e300,3', 'line 2: expected a number for x, found “1e300”'],
    ['frame,point,x,y\n0,a,1,3\n900000,a,1,3', 'frames 0 to 900000 are more than can be read'],
    ['frame,point,x,y\n', 'line 2: the table has no points'],
  ])('%j is refused with what is wrong and where', (text, message) => {
    expect(() => readPoints(text, { fps: 24 })).toThrow(message);
  });
});

test('frames between known ones lie on the straight way; before the first and after the last a point stays', () => {
  const places = Float64Array.from([NaN, NaN, 0, 0, NaN, NaN, 4, 8, NaN, NaN]);
  expect([...filledPlaces({ name: 'a', places, confidence: new Float64Array(5) })]).toEqual([
    0, 0, 0, 0, 2, 4, 4, 8, 4, 8,
  ]);
});

test('points are taken for what their names say, with their side', () => {
  const names = ['head', 'left ankle', 'R_knee', 'foot.R', 'hat', 'wrist_l', 'elbow', 'LeftToe'];
  expect(pointRoles(names)).toEqual({
    head: 0,
    'foot.L': 1,
    'shin.R': 2,
    'foot.R': 3,
    'hand.L': 5,
    'toe.L': 7,
  });
});

describe('a figure of points', () => {
  test('stands where the points are, at every frame', () => {
    const tracks = seenFromTheSide(exemplar('walk'));
    const { motion, options, ground } = planarFigure(tracks);
    const { world, motion: own } = prepareShot(motion, { kind: 'walk', ...options });
    own.joints.forEach(({ name }, j) => {
      const { places } = tracks.points.find((point) => point.name === name)!;
      for (let f = 0; f < tracks.frames; f++) {
        const at = 3 * (f * own.joints.length + j);
        expect(world.positions[at]).toBeCloseTo(places[2 * f]!, 6);
        expect(world.positions[at + 1]! + ground).toBeCloseTo(places[2 * f + 1]!, 6);
      }
    });
  });

  test('has feet that rest as they stand: flat, whichever way they look, and however the ankle lies over the toes', () => {
    for (const way of [1, -1] as const) {
      const { motion } = planarFigure(seenFromTheSide(exemplar('walk'), { way }));
      const foot = motion.joints.find(({ name }) => name === 'foot.L')!;
      const toe = motion.joints.find(({ name }) => name === 'toe.L')!;
      // At rest the line to the toes points forward, and a little down.
      expect(toe.parent).toBe(motion.joints.indexOf(foot));
      expect(Math.sign(toe.offset[0])).toBe(way);
      expect(Math.abs(toe.offset[1])).toBeLessThan(Math.abs(toe.offset[0]));
      expect(toe.offset[1]).toBeLessThan(0);
    }
  });

  // The figure's own readings, seen from its side, within what a point for a foot and a leg measured on pictures leave open.
  test.each<[string, string | undefined, number]>([
    ['cycle.length', undefined, 0],
    ['gait.bob', undefined, 0.4],
    ['gait.lowAfter', undefined, 1],
    ['gait.step', undefined, 1],
    ['gait.stance', 'leg.L', 5],
    ['gait.flight', undefined, 1],
    ['gait.slide', 'leg.L', 1.5],
    ['gait.stepLength', undefined, 4],
    ['gait.opposition', 'arm.R', 0.05],
    ['mirror.off', undefined, 1],
    ['mirror.height', undefined, 0.5],
  ])('of a walk has the %s that the walk has', (id, part, within) => {
    const shot = exemplar('walk');
    const flat = report(seenFromTheSide(shot), 'walk');
    const own = Number(readingOf(shot, id, part).value);
    expect(Math.abs(Number(one(flat, id, part).value) - own)).toBeLessThanOrEqual(within);
  });

  test('is made of whatever was followed: a toe without its ankle as well', () => {
    const only = ['hips', 'thigh', 'shin', 'toe'];
    const seen = report(seenFromTheSide(exemplar('walk'), { only }), 'walk');
    expect(seen.roles).toMatchObject({ 'toe.L': 'toe.L', 'shin.R': 'shin.R' });
    expect(seen.readings.length).toBeGreaterThan(10);
  });

  test('whose feet were followed by their ankles alone faces where its knees bend', () => {
    const only = ['hips', 'neck', 'thigh', 'shin', 'foot'];
    for (const [way, forward] of [
      [1, '+X'],
      [-1, '-X'],
    ] as const)
      expect(report(seenFromTheSide(exemplar('walk'), { only, way }), 'walk').forward).toBe(forward);
  });

  test('falls as things fall: the gravity of a jump, its height, its frames', () => {
    const shot = exemplar('jump');
    const flat = report(seenFromTheSide(shot), 'jump');
    for (const [id, within] of [
      ['jump.gravity', 0.06],
      ['jump.rise', 2],
      ['jump.takeoff', 1],
      ['jump.landing', 1],
      ['jump.crouch', 2],
    ] as const)
      expect(Math.abs(Number(one(flat, id).value) - Number(readingOf(shot, id).value))).toBeLessThanOrEqual(within);
  });

  test('stands on the ground its feet come down to, however long it is in the air', () => {
    const tracks = seenFromTheSide(exemplar('jump'));
    const toe = tracks.points.find(({ name }) => name === 'toe.L')!.places.filter((_, k) => k % 2 === 1);
    expect(planarFigure(tracks).ground).toBeCloseTo(Math.min(...toe), 3);
  });

  test('is as large as it is seen, and goes to either side: nothing of that changes what is measured', () => {
    const shot = exemplar('walk', { slide: 5 });
    const values = (tracks: PointTracks): (string | number | boolean)[] =>
      report(tracks, 'walk')
        .readings.filter(({ id }) => /^(gait|cycle|mirror)\./.test(id))
        .map(({ id, part, value }) => `${id} ${part} ${typeof value === 'number' ? value.toFixed(2) : value}`);
    const plain = values(seenFromTheSide(shot));
    expect(values(seenFromTheSide(shot, { leg: 431 }))).toEqual(plain);
    const mirrored = planarFigure(seenFromTheSide(shot, { way: -1 }));
    expect(mirrored.facing).toBe(-1);
    expect(values(seenFromTheSide(shot, { way: -1 }))).toEqual(plain);
  });

  test('shows the faults that are seen from the side, and says what it can’t show', () => {
    const slide = report(seenFromTheSide(exemplar('walk', { slide: 8 })), 'walk');
    expect(Number(one(slide, 'gait.slide', 'leg.L').value)).toBeGreaterThan(4);
    const bob = report(seenFromTheSide(exemplar('walk', { bigBob: 6 })), 'walk');
    expect(Number(one(bob, 'gait.bob').value)).toBeGreaterThan(9);
    for (const id of ['gait.shift', 'gait.pelvis', 'gait.track']) {
      expect(slide.readings.filter((own) => own.id === id)).toEqual([]);
      expect(slide.unmade.find((own) => own.id === id)?.why).toMatch(/depth|hips|no /);
    }
    expect(slide.unmade.find(({ id }) => id === 'gait.track')!.why).toBe(
      'it needs depth, which a picture does not show',
    );
  });

  test.each([1, 2, 3])(
    'that trembles by half a pixel is still the same walk, and nothing of it lies outside (%i)',
    (seed) => {
      const random = mulberry(seed);
      const still = seenFromTheSide(exemplar('walk'));
      const points = still.points.map((point) => ({ ...point, places: point.places.map((v) => v + 0.5 * random()) }));
      const told = report({ ...still, points }, 'walk');
      const landings = told.readings.filter(({ id }) => id === 'gait.contact').map(({ value }) => Number(value));
      expect(landings).toHaveLength(2);
      expect(Math.abs(landings[0]! - 1)).toBeLessThanOrEqual(1);
      expect(Math.abs(landings[1]! - 13)).toBeLessThanOrEqual(1);
      const { findings } = judgeShot(defaultGauges('walk'), told, 'polish');
      expect(findings.filter(({ judgement }) => judgement === 'outside').map(({ say }) => say)).toEqual([]);
    },
  );

  test('whose thighs and shoulders were not followed hangs its limbs on lines to what there is', () => {
    const few = seenFromTheSide(exemplar('walk'), { only: ['hips', 'head', 'shin', 'foot', 'toe', 'hand'] });
    const told = report(few, 'walk');
    // Nothing was guessed: what is not named is not there.
    expect(told.warnings.filter((own) => /names|roles/.test(own))).toEqual([]);
    expect(told.roles['upperArm.L']).toBeUndefined();
    expect(one(told, 'cycle.length').value).toBe(24);
    expect(one(told, 'gait.knee', 'leg.L').value).toBe(0);
    expect(Number(one(told, 'gait.opposition', 'arm.L').value)).toBeLessThan(-0.8);
  });

  test('of hips, ankles and toes alone is enough for what the feet do; a leg is as long as it is straight', () => {
    const few = report(seenFromTheSide(exemplar('walk'), { only: ['hips', 'foot', 'toe'] }), 'walk');
    expect(few.readings.filter(({ id }) => id === 'gait.contact').map(({ value }) => value)).toEqual([1, 13]);
    expect(few.scale.legLength).toBeGreaterThan(190);
    expect(few.scale.legLength).toBeLessThan(215);
  });
});

describe('a moving camera', () => {
  /** Points of a walk and two lamps on the quay, seen by a camera that pans, turns and zooms. */
  const filmed = (turn: number, zoom: number): { still: PointTracks; moved: PointTracks } => {
    const walk = seenFromTheSide(exemplar('walk'));
    const lamps = tracksOf(walk.frames, { 'lamp 1': () => [40, 30], 'lamp 2': () => [600, -350] });
    const still = { ...walk, points: [...walk.points, ...lamps.points] };
    const moved = still.points.map((point) => ({
      ...point,
      places: point.places.map((_, k) => {
        const f = Math.floor(k / 2);
        const [c, s] = [Math.cos(turn * f), Math.sin(turn * f)];
        const [x, y] = [point.places[2 * f]!, point.places[2 * f + 1]!];
        const scale = 1 + zoom * f;
        return k % 2 === 0 ? scale * (c * x - s * y) + 7 * f : scale * (s * x + c * y) - 3 * f;
      }),
    }));
    return { still, moved: { ...still, points: moved } };
  };

  test.each([
    ['one still thing takes out a pan', 0, 0, ['lamp 1']],
    ['two also a turn and a zoom', 0.004, 0.01, ['lamp 1', 'lamp 2']],
  ])('%s, exactly', (_, turn, zoom, names) => {
    const { still, moved } = filmed(turn, zoom);
    withoutCamera(moved, names).points.forEach(({ places }, k) =>
      places.forEach((value, i) => expect(value).toBeCloseTo(still.points[k]!.places[i]!, 6)),
    );
    const told = reportTracks(moved, { kind: 'walk', still: names }, source);
    expect(Number(one(told, 'gait.bob').value)).toBeCloseTo(Number(one(report(still, 'walk'), 'gait.bob').value), 3);
  });

  test('what a camera does leads back to where it came from, zoomed and turned as well', () => {
    // Two lamps seen by a camera that turns by 30° about the first and zooms to twice.
    const [c, k] = [Math.cos(Math.PI / 6), Math.sin(Math.PI / 6)];
    const lamp = (name: string, ...places: number[]) => ({
      name,
      places: Float64Array.from(places),
      confidence: new Float64Array(2).fill(1),
    });
    const tracks = {
      ...{ fps: 24, frames: 2, firstFrame: 1 },
      points: [lamp('post', 10, 20, 10, 20), lamp('quay', 110, 20, 10 + 200 * c, 20 + 200 * k)],
    };
    const camera = cameraOf(tracks, ['post', 'quay']);
    // A thing halfway between the two lamps is seen halfway between them.
    const [x, y] = camera.seen(60, 20, 1);
    expect([x, y]).toEqual([expect.closeTo(10 + 100 * c, 9), expect.closeTo(20 + 100 * k, 9)]);
    for (const place of [
      [60, 20],
      [-3, 71],
      [400, -55],
    ] as const)
      expect(camera.steady(...camera.seen(place[0], place[1], 1), 1)).toEqual(place.map((v) => expect.closeTo(v, 9)));
  });

  test('a still thing that is not there is told', () => {
    expect(() => withoutCamera(filmed(0, 0).moved, ['lamp 3'])).toThrow('there is no point called “lamp 3”');
  });
});

describe('pairs and shapes', () => {
  test('a blink is closing, closed and opening: three frames each (common practice)', () => {
    const gap = (f: number): number =>
      f < 10 ? 12 : f < 13 ? 12 - 4 * (f - 9) : f < 15 ? 0 : f < 18 ? 4 * (f - 14) : 12;
    const tracks = tracksOf(30, { upper: (f) => [0, gap(f)], lower: () => [0, 0] });
    const { readings } = measurePair(tracks, 100, ['upper', 'lower']);
    expect(readings[0]).toMatchObject({ id: 'pair.length', value: 0, unit: '%L', frames: [13] });
    expect(detailOf<{ largest: number; closings: object[] }>(readings[0]!)).toMatchObject({
      largest: 12,
      closings: [{ closing: 3, closed: 3, opening: 3 }],
    });
    expect(measurePair(tracks, 100, ['upper', 'lid']).unmade[0]!.why).toBe('there is no point called “lid”');
  });

  test('a shape scaled by s and 1/s is stretched by s² and keeps its volume exactly', () => {
    const s = (f: number): number => (f === 12 ? 1.5 : f === 20 ? 0.8 : 1);
    const shape = (keeps: (s: number) => number): PointTracks =>
      tracksOf(30, {
        top: (f) => [50, 40 * s(f)],
        bottom: () => [50, 0],
        left: (f) => [50 - 20 * keeps(s(f)), 10],
        right: (f) => [50 + 20 * keeps(s(f)), 10],
      });
    const four = ['top', 'bottom', 'left', 'right'] as const;
    const [stretch, volume] = measureShape(
      shape((k) => 1 / k),
      four,
    ).readings;
    expect(stretch).toMatchObject({ value: 2.25, frames: [13] });
    expect(detailOf(stretch!)).toMatchObject({ least: 0.64, leastAt: 21 });
    expect(volume!.value).toBe(1);
    const [, rubber] = measureShape(
      shape(() => 1),
      four,
    ).readings;
    expect(rubber).toMatchObject({ value: 1.5, frames: [13] });
  });

  test('a point known at less than 80 % of the frames says so, in its own reading and in what is told of it', () => {
    const tracks = seenFromTheSide(exemplar('walk'));
    const hidden = tracks.points.map((point) =>
      point.name === 'hand.L' ? { ...point, confidence: point.confidence.map((_, f) => (f % 2 === 0 ? 1 : 0)) } : point,
    );
    const told = report({ ...tracks, points: hidden }, 'walk');
    expect(one(told, 'track.sure', 'hand.L').value).toBe(52);
    expect(one(told, 'track.sure', 'hand.R').value).toBe(100);
    expect(one(told, 'spacing.off', 'hand.L').note).toMatch(/52 % of the frames only/);
    expect(one(told, 'spacing.off', 'hand.R').note).toBeUndefined();
    expect(told.warnings).toContainEqual(expect.stringMatching(/“hand.L” is known at 52 %/));
  });
});

describe('a row of points', () => {
  /** A rope of five pennants: each link turns against the one above it as that one did, so many frames later. */
  const rope = (late: number, turn: (t: number) => number, frames = 96): PointTracks => {
    const places = Array.from({ length: 5 }, () => new Float64Array(2 * frames));
    for (let f = 0; f < frames; f++) {
      let [x, y, angle] = [200, 400, 0];
      places.forEach((own, k) => {
        own.set([x, y], 2 * f);
        angle += (turn(f - late * k) * Math.PI) / 180;
        [x, y] = [x + 40 * Math.sin(angle), y - 40 * Math.cos(angle)];
      });
    }
    return {
      fps: 24,
      frames,
      firstFrame: 1,
      points: places.map((own, k) => ({
        name: `pennant ${k + 1}`,
        places: own,
        confidence: new Float64Array(frames).fill(1),
      })),
    };
  };
  const chains = [['pennant 1', 'pennant 2', 'pennant 3', 'pennant 4', 'pennant 5']];
  const told = (tracks: PointTracks, kind: Kind = 'overlap'): Report =>
    reportTracks(tracks, { kind, chains }, { file: 'rope', format: 'points', warnings: [] });
  const sway = (t: number): number => 12 * Math.sin((2 * Math.PI * t) / 24);

  test.each([1, 2, 3])('swings each link %d frames behind the one above, in all links that have a line', (late) => {
    const { readings } = told(rope(late, sway));
    const [lag] = CHAIN_LAG.among(readings).filter(({ part }) => part === 'chain:pennant 1');
    expect(lag!.value).toBeCloseTo(late, 1);
    expect(lag!.detail.links.length).toBeGreaterThanOrEqual(2);
  });

  test('that swings as one piece is found to', () => {
    const { readings } = told(rope(0, sway));
    const [piece] = readings.filter(({ id, part }) => id === 'lag.together' && part === 'chain:pennant 1');
    expect(piece!.value).toBe(true);
    const found = judgeShot(defaultGauges('overlap'), { readings, unmade: [] }, 'polish').findings;
    expect(found.some(({ reading }) => reading.id === 'lag.together')).toBe(true);
  });

  test('carries past the end of its move', () => {
    const stop = (t: number): number => {
      const u = (t - 24) / 24;
      return u < 0 ? 0 : 40 * (1 - Math.exp(-3 * u) * Math.cos(2 * Math.PI * u));
    };
    const { readings } = told(rope(2, stop));
    const past = readings.find(({ id, part }) => id === 'overshoot.depth' && part === 'chain:pennant 1');
    expect(past!.value).toBeGreaterThan(10);
  });

  test('without being called a row is five points that go by themselves', () => {
    const report = reportTracks(rope(2, sway), { kind: 'overlap' }, { file: 'rope', format: 'points', warnings: [] });
    expect(report.readings.some(({ id }) => id === 'lag.frames')).toBe(false);
    expect(
      new Set(report.readings.flatMap(({ id, part }) => (id === 'move.frames' ? [part] : []))).size,
    ).toBeGreaterThan(1);
  });

  test('that names a point twice, or one that is not there, is none', () => {
    for (const wrong of [
      ['pennant 1', 'pennant 9', 'pennant 2'],
      ['pennant 1', 'pennant 1', 'pennant 2'],
    ]) {
      const { motion } = planarFigure(rope(2, sway), undefined, [wrong]);
      expect(motion.joints.every(({ parent }) => parent < 0)).toBe(true);
    }
  });

  test('of a body hangs from it, and leaves the body’s own lines alone', () => {
    const own = rope(2, sway);
    const body = { ...own, points: own.points.map((point, k) => (k === 0 ? { ...point, name: 'hips' } : point)) };
    const { motion, options } = planarFigure(body, undefined, [['hips', 'pennant 2', 'pennant 3', 'pennant 4']]);
    const at = (name: string): number => motion.joints.findIndex((joint) => joint.name === name);
    expect(motion.joints[at('pennant 2')]!.parent).toBe(at('hips'));
    expect(options.roles!['chain:pennant 2']).toBe('pennant 2');
    expect(options.roles!.hips).toBe('hips');
  });
});

describe('a drawn head', () => {
  /** A head whose nose is beside it, over or under it, at each frame; seen from the front, or lying on its side. */
  const head = (gaze: (f: number) => readonly [aside: number, down: number], tilt = 0): PointTracks => {
    const frames = 72;
    const path = (place: (f: number) => readonly [number, number]): Float64Array => {
      const places = new Float64Array(2 * frames);
      const [c, s] = [Math.cos(tilt), Math.sin(tilt)];
      for (let f = 0; f < frames; f++) {
        const [x, y] = place(f);
        places.set([300 + c * x - s * y, 300 + s * x + c * y], 2 * f);
      }
      return places;
    };
    const named = {
      neck: path(() => [0, -30]),
      head: path(() => [0, 0]),
      nose: path((f) => [gaze(f)[0], -gaze(f)[1]]),
    };
    const points = Object.entries(named).map(([name, places]) => ({
      name,
      places,
      confidence: new Float64Array(frames).fill(1),
    }));
    return { fps: 24, frames, firstFrame: 1, points };
  };
  const ease = (u: number): number => (u <= 0 ? 0 : u >= 1 ? 1 : u * u * (3 - 2 * u));
  const aside = (f: number): readonly [number, number] => [16 * (ease((f - 10) / 5) - ease((f - 40) / 5)), 0];
  const down = (f: number): readonly [number, number] => [3, 14 * (ease((f - 10) / 5) - ease((f - 40) / 5))];
  const looks = (tracks: PointTracks): Reading[] =>
    reportTracks(tracks, { kind: 'take' }, { file: 'head', format: 'points', warnings: [] }).readings.filter(
      ({ id }) => id === 'look.frames',
    );

  test.each([
    ['aside', aside, 'turn'],
    ['down', down, 'pitch'],
  ] as const)('looks %s while its nose is there', (_, gaze, which) => {
    for (const tilt of [0, 1.1]) {
      const [look] = looks(head(gaze, tilt));
      expect(Math.abs((look!.value as number) - 25)).toBeLessThanOrEqual(3);
      expect((look!.detail as Record<string, number>)[which]).toBeGreaterThan(20);
    }
  });

  test('without a nose does not show where it looks, and says what would', () => {
    const all = head(aside);
    const { unmade } = reportTracks(
      { ...all, points: all.points.filter(({ name }) => name !== 'nose') },
      { kind: 'take' },
      { file: 'head', format: 'points', warnings: [] },
    );
    expect(unmade.find(({ id }) => id === 'look.frames')!.why).toContain('nose');
  });
});
