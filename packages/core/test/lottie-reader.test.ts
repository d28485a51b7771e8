import bezier from 'bezier-easing';
import { strToU8, zipSync } from 'fflate';
import { jumpExemplar } from '../src/exemplar/jump.ts';
import { puppetOf } from '../src/exemplar/puppet.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { contentOf } from '../src/formats/lottie/content-size.ts';
import { eased } from '../src/formats/lottie/ease.ts';
import type { LottieJson, LottieLayer, LottieShape } from '../src/formats/lottie/lottie-json.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { readShot } from '../src/formats/read-shot.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { reportShot, type Report } from '../src/measure/report.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { withPairsAndShapes } from '../src/track/report-tracks.ts';
import type { Kind } from '../src/motion/kinds.ts';
import type { ShotOptions } from '../src/motion/prepared-shot.ts';
import { bytesOf, documentOf, EVEN, keyed, layerOf, SOFT } from './puppets.ts';

const reportOf = async (json: unknown, options: ShotOptions = { kind: 'any' }): Promise<Report> => {
  const { shot, warnings, format } = await readShot(bytesOf(json), options);
  return reportShot(shot, { file: 'night-round.json', format, warnings });
};
const valueOf = ({ readings }: Report, id: string, part?: string): unknown =>
  readings.find((reading) => reading.id === id && (part === undefined || reading.part === part))?.value;
const findingsOf = (report: Report, kind: Kind): string[] =>
  judgeShot(defaultGauges([kind], report.fps), report, 'polish').findings.map(({ gauge }) => gauge.reading);
const walkPuppet = (faults: Parameters<typeof walkExemplar>[1] = {}, options = {}): LottieJson =>
  puppetOf(prepareShot(walkExemplar({}, faults), { kind: 'walk' }), options);

it('eases as CSS’ cubic-bezier does', () => {
  // bezier-easing (of the registry) works the same curve out by Newton's way.
  for (const [a, b, c, d] of [
    [0.42, 0, 0.58, 1],
    [0.33, 0, 0.67, 1],
    [0.9, -0.4, 0.1, 1.5],
    [0, 0.5, 1, 0.5],
  ] as const)
    for (let share = 0; share <= 1; share += 0.05)
      expect(eased([a, b, c, d], share)).toBeCloseTo(bezier(a, b, c, d)(share), 5);
});

describe('a walk as a puppet', () => {
  it('is measured as its figure is, seen from the side', async () => {
    const own = reportShot(prepareShot(walkExemplar(), { kind: 'walk', firstFrame: 1 }), {
      file: '',
      format: '',
      warnings: [],
    });
    const puppet = await reportOf(walkPuppet(), { kind: 'walk', firstFrame: 1 });
    expect(puppet.format).toBe('lottie');
    for (const [id, part, digits] of [
      ['gait.contact', 'leg.L', 5],
      ['gait.contact', 'leg.R', 5],
      ['gait.lowAfter', undefined, 5],
      ['gait.stance', 'leg.L', 5],
      ['cycle.length', undefined, 5],
      ['gait.bob', undefined, 0],
      ['size.arm', 'arm.L', 0],
      ['posture.lean', 'spine', 0],
      ['knee.passing', 'leg.L', 0],
      ['foot.land', 'leg.L', 0],
    ] as const)
      expect([id, valueOf(puppet, id, part)]).toEqual([id, expect.closeTo(valueOf(own, id, part) as number, digits)]);
  });

  it('is clean where its figure is, and shows the fault that was dialled in', async () => {
    const clean = await reportOf(walkPuppet(), { kind: 'walk' });
    expect(findingsOf(clean, 'walk')).toEqual([]);
    const slides = await reportOf(walkPuppet({ slide: 8 }), { kind: 'walk' });
    expect(findingsOf(slides, 'walk')).toContain('gait.slide');
    // What depth alone shows is said, and never guessed.
    const { why } = clean.unmade.find(({ id }) => id === 'gait.track')!;
    expect(why).toBe('it needs depth, which a picture does not show');
  });

  it('is told by names in other spellings, and by what hangs from what', async () => {
    const spelled = (name: (own: string) => string): LottieJson => {
      const json = walkPuppet();
      return { ...json, layers: json.layers.map((layer) => ({ ...layer, nm: name(layer.nm!) })) };
    };
    const contacts = (report: Report): unknown[] =>
      ['leg.L', 'leg.R'].map((part) => valueOf(report, 'gait.contact', part));
    for (const name of [
      (own: string) =>
        own.replace(
          /(.+) (left|right)$/,
          (_, part: string, side: string) => `${side[0]!.toUpperCase()}_${part.replace(' ', '')}`,
        ),
      (own: string) => `carrier-${own.replace(' left', '.L').replace(' right', '.R')}`,
      (own: string) => own.replace('shin', 'lower leg').replace('thigh', 'upper leg').replace('hips', 'pelvis'),
    ])
      expect(contacts(await reportOf(spelled(name), { kind: 'walk' }))).toEqual([0, 12]);
  });

  it('lands and jumps as its figure does', async () => {
    const shot = prepareShot(jumpExemplar(), { kind: 'jump' });
    const own = reportShot(shot, { file: '', format: '', warnings: [] });
    const puppet = await reportOf(puppetOf(shot), { kind: 'jump', firstFrame: own.firstFrame });
    for (const id of ['jump.takeoff', 'jump.landing', 'jump.gravity'] as const)
      expect([id, valueOf(puppet, id)]).toEqual([id, expect.closeTo(valueOf(own, id) as number, 1)]);
  });
});

describe('which way it faces', () => {
  /** A walk whose feet have neither toes nor soles: by its knees, if by anything. */
  const withoutFeet = (json: LottieJson): LottieJson => ({
    ...json,
    layers: json.layers.filter(({ nm }) => !/toe/.test(nm!)).map((layer) => ({ ...layer, ty: 3, shapes: [] })),
  });
  /** The same picture seen in a mirror: all of it hangs from a layer that is turned over. */
  const mirrored = (json: LottieJson): LottieJson => ({
    ...json,
    layers: [
      layerOf('stage', { s: { k: [-100, 100] }, p: { k: [json.w, 0] } }, { ind: 99, op: 99 }),
      ...json.layers.map((layer) => (layer.parent === undefined ? { ...layer, parent: 99 } : layer)),
    ],
  });

  it.each([
    ['as it was drawn', walkPuppet(), '+X'],
    ['without feet', withoutFeet(walkPuppet()), '+X'],
    ['in a mirror', mirrored(walkPuppet()), '-X'],
    ['in a mirror, without feet', mirrored(withoutFeet(walkPuppet())), '-X'],
  ])('is told: %s', async (_, json, forward) => {
    const report = await reportOf(json, { kind: 'walk' });
    expect(report.forward).toBe(forward);
    expect(valueOf(report, 'size.arm', 'arm.L')).toBeCloseTo(
      valueOf(await reportOf(walkPuppet(), { kind: 'walk' }), 'size.arm', 'arm.L') as number,
      1,
    );
  });
});

describe('keys', () => {
  const POSES = [0, 3, 6, 9, 12, 15, 18, 21, 24];

  it('are kept as they were set, in frames of the document', async () => {
    const { motion } = await readMotion(
      bytesOf(
        documentOf([layerOf('boat', {}, { ty: 0, refId: 'deck', ind: 1, st: 4, sr: 2 })], {
          assets: [{ id: 'deck', layers: [layerOf('lamp', { r: keyed({ 0: [0], 5: [40], 8: [0] }, SOFT) })] }],
        }),
      ),
    );
    const [keys] = motion.keys!;
    expect([...keys!.at]).toEqual([4, 14, 20]);
    expect({ of: keys!.of, way: keys!.way, flat: [...keys!.flat] }).toEqual({
      of: 'rotation',
      way: 'cubic',
      flat: [1, 1, 1],
    });
  });

  it('a part that was left out of a key pose is named', async () => {
    const otherwise = { 'foreArm.L': POSES.filter((f) => f !== 12) };
    const report = await reportOf(walkPuppet({}, { keys: POSES, otherwise }), { kind: 'walk' });
    const partial = report.readings.filter(({ id }) => id === 'keys.partial');
    expect(partial.map(({ frames }) => frames)).toContainEqual([12]);
    expect(valueOf(await reportOf(walkPuppet({}, { keys: POSES }), { kind: 'walk' }), 'keys.partial')).toBe('no part');
  });

  it('held on every second frame are poses on twos; held long, blocking', async () => {
    const held = (every: number): LottieJson =>
      documentOf([
        layerOf('lamp', {
          p: keyed(
            Object.fromEntries(Array.from({ length: 24 / every }, (_, k) => [k * every, [20 * k, (k * k) % 50]])),
            { h: 1 },
          ),
          r: keyed(Object.fromEntries(Array.from({ length: 24 / every }, (_, k) => [k * every, [17 * k]])), { h: 1 }),
        }),
      ]);
    expect(valueOf(await reportOf(held(2)), 'exposure.pattern')).toBe('twos');
    const { shot } = await readShot(bytesOf(held(6)), {});
    expect(shot.exposures.blocking).toBe(true);
  });
});

describe('shapes', () => {
  it('a layer scaled by s and 1/s keeps its volume, and stretches by the square', async () => {
    const report = await reportOf(
      documentOf([
        layerOf('parcel', {
          p: keyed({ 0: [50, 200], 12: [200, 80], 23: [350, 200] }, SOFT),
          s: keyed({ 0: [100, 100], 12: [80, 125], 23: [100, 100] }, EVEN),
        }),
      ]),
    );
    const stretch = report.readings.find(({ id }) => id === 'shape.stretch')!;
    expect(stretch.detail).toMatchObject({ most: expect.closeTo(1.5625, 4) as number, mostAt: 12 });
  });

  it('sizes are those of what is drawn: groups, outlines, ellipses', () => {
    const shapes: LottieShape[] = [
      {
        ty: 'gr',
        it: [
          { ty: 'el', p: { k: [10, 0] }, s: { k: [20, 40] } },
          { ty: 'tr', p: { k: [5, 5] }, s: { k: [200, 100] }, r: { k: 90 } },
        ],
      },
    ];
    // Twice as wide, a quarter turn: 40 × 40 round (5, 25).
    expect(
      contentOf(shapes)
        .boxAt(0)!
        .map((value) => Number(value.toFixed(6))),
    ).toEqual([-15, 5, 25, 45]);
    // A curve from (0, 0) to (10, 0) with both handles 8 up reaches three quarters of them.
    const bow: LottieShape = {
      ty: 'sh',
      ks: {
        k: {
          v: [
            [0, 0],
            [10, 0],
          ],
          o: [
            [0, -8],
            [0, 0],
          ],
          i: [
            [0, 0],
            [0, -8],
          ],
          c: false,
        },
      },
    };
    expect(contentOf([bow]).boxAt(0)).toEqual([0, -6, 10, 0]);
  });

  it('eyes that are drawn low are shut: a blink of closing, closed and opening frames', async () => {
    const eye = (name: string): LottieLayer =>
      layerOf(
        name,
        {
          p: { k: [100, 90] },
          s: keyed({ 0: [100, 100], 8: [100, 100], 11: [135, 5], 14: [135, 5], 17: [100, 100] }, EVEN),
        },
        { parent: 1 },
      );
    const report = await reportOf(
      documentOf([
        layerOf('head', { r: keyed({ 0: [0], 23: [8] }, SOFT) }, { ind: 1 }),
        eye('eye left'),
        eye('eye right'),
      ]),
    );
    expect(
      report.readings.filter(({ id }) => id === 'blink.frames').map(({ frames, detail }) => ({ frames, detail })),
    ).toEqual([{ frames: [8], detail: { closing: 3, closed: 4, opening: 3 } }]);
    expect(valueOf(report, 'blink.count')).toBe(1);
  });

  it('a pair of layers has a distance, and four have a shape', async () => {
    const { shot } = await readShot(
      bytesOf(
        documentOf([
          layerOf('upper lid', { p: keyed({ 0: [100, 50], 6: [100, 98], 12: [100, 50] }, EVEN) }),
          layerOf('lower lid', { p: keyed({ 0: [100, 100], 23: [100.5, 100] }, EVEN) }),
        ]),
      ),
      {},
    );
    const none = reportShot(shot, { file: '', format: '', warnings: [] });
    const report = withPairsAndShapes(none, shot, { pairs: [['upper lid', 'lower lid']] });
    const pair = report.readings.find(({ id }) => id === 'pair.length')!;
    expect(pair.detail).toMatchObject({ smallestAt: 6, largestAt: expect.any(Number) as number });
    // 2 pixels of 50 that are half the largest extent.
    expect(pair.value).toBeCloseTo((100 * 2) / 25, 0);
  });

  it('an outline that is squashed by its own points is told as well', async () => {
    const square = (w: number, h: number): object => ({
      v: [
        [-w, 0],
        [w, 0],
        [w, -h],
        [-w, -h],
      ],
      i: [
        [0, 0],
        [0, 0],
        [0, 0],
        [0, 0],
      ],
      o: [
        [0, 0],
        [0, 0],
        [0, 0],
        [0, 0],
      ],
      c: true,
    });
    const k = [0, 10, 12, 14, 23].map((t) => ({ t, s: [t === 12 ? square(15, 10) : square(10, 15)], ...EVEN }));
    const report = await reportOf(
      documentOf([
        layerOf(
          'mail sack',
          { p: keyed({ 0: [50, 100], 12: [200, 280], 23: [350, 100] }, EVEN) },
          {
            ty: 4,
            shapes: [{ ty: 'sh', ks: { k: k as never } }],
          },
        ),
      ]),
    );
    expect(report.readings.find(({ id }) => id === 'shape.stretch')!.detail).toMatchObject({
      least: expect.closeTo(4 / 9, 4) as number,
      leastAt: 12,
    });
    // Half-way between 20 × 15 and 30 × 10 it is 25 × 12.5.
    expect(valueOf(report, 'shape.volume')).toBeCloseTo(312.5 / 300, 4);
  });
});

describe('what a document holds', () => {
  const pilot = (name: string, x: number): LottieLayer =>
    layerOf(name, { p: { k: [x, 0] } }, { ty: 0, refId: name, op: 25 });
  const two: LottieJson = (() => {
    const walk = walkPuppet();
    const shorter = walk.layers.filter(({ nm }) => !/bag|strap|hand/.test(nm!));
    return {
      ...walk,
      layers: [pilot('keeper', 200), pilot('carrier', -200)],
      assets: [
        { id: 'keeper', layers: shorter },
        { id: 'carrier', layers: walk.layers },
      ],
    };
  })();

  it('two figures are read one at a time, by their names', async () => {
    const { motion, shot } = await readShot(bytesOf(two), { kind: 'walk' });
    expect(motion.holds!.figures).toEqual(['carrier', 'keeper']);
    expect(shot.motion.joints.map(({ name }) => name)).toContain('bag');
    const other = await readShot(bytesOf(two), { kind: 'walk', figure: 'keeper' });
    expect(other.shot.motion.joints.map(({ name }) => name)).not.toContain('bag');
    await expect(readShot(bytesOf(two), { figure: 'gull' })).rejects.toThrow(
      'there is no figure “gull”: there are “carrier”, “keeper”',
    );
  });

  it('two figures in one composition are told by what hangs from what', async () => {
    const of = (name: string, first: number): LottieLayer[] =>
      walkPuppet().layers.map((layer) => ({
        ...layer,
        nm: `${name} ${layer.nm!}`,
        ind: layer.ind! + first,
        ...(layer.parent !== undefined && { parent: layer.parent + first }),
      }));
    const json = { ...walkPuppet(), layers: [...of('keeper', 0), ...of('carrier', 50)] };
    const { motion } = await readMotion(bytesOf(json));
    expect(motion.holds!.figures).toEqual(['keeper hips', 'carrier hips']);
    const report = await reportOf(json, { kind: 'walk', figure: 'carrier hips' });
    expect(valueOf(report, 'gait.contact', 'leg.L')).toBe(0);
    expect(Object.values(report.roles).every((name) => name.startsWith('carrier'))).toBe(true);
  });

  it('a layer that only holds others is one, though it is clear', async () => {
    const json = walkPuppet();
    const layers = json.layers.map((layer) =>
      layer.nm === 'hips' ? { ...layer, ty: 3, shapes: [], ks: { ...layer.ks, o: { k: 0 } } } : layer,
    );
    expect((await reportOf({ ...json, layers }, { kind: 'walk' })).roles.hips).toBe('hips');
  });

  it('an archive’s animations are chosen by name or number, the longest first', async () => {
    const short = documentOf([layerOf('lamp', { r: keyed({ 0: [0], 10: [30] }, EVEN) })], { op: 12 });
    const long = documentOf([layerOf('rope', { r: keyed({ 0: [0], 20: [30] }, EVEN) })]);
    const archive = zipSync({
      'manifest.json': strToU8('{"version":"2"}'),
      'a/lamp.json': bytesOf(short),
      'a/rope.json': bytesOf(long),
      'i/gull.png': strToU8('no picture'),
    });
    expect((await readMotion(archive)).motion).toMatchObject({
      frames: 24,
      holds: { animations: ['rope', 'lamp'], figures: ['puppet'] },
    });
    for (const animation of ['lamp', '2']) expect((await readMotion(archive, { animation })).motion.frames).toBe(12);
    await expect(readMotion(archive, { animation: 'horn' })).rejects.toThrow('there is no animation “horn”');
  });

  it('scenery that stands still, masks and what is never seen are no points', async () => {
    const { motion } = await readMotion(
      bytesOf(
        documentOf([
          layerOf('quay', { p: { k: [200, 280] } }),
          layerOf('mask', { p: keyed({ 0: [0, 0], 20: [50, 0] }, EVEN) }, { td: 1 }),
          layerOf('later', { p: keyed({ 0: [0, 0], 20: [50, 0] }, EVEN) }, { ip: 40, op: 60 }),
          layerOf('gull', { p: keyed({ 0: [0, 0], 20: [50, 9] }, EVEN) }),
          layerOf('gull', { p: keyed({ 0: [0, 40], 20: [50, 9] }, EVEN) }),
          layerOf('', { p: keyed({ 0: [0, 0], 20: [50, 90] }, EVEN) }),
        ]),
      ),
    );
    expect(motion.joints.map(({ name }) => name)).toEqual(['gull', 'gull (2)', 'layer 6']);
  });

  it('the first frame is the brief’s, else the document’s own', async () => {
    const json = { ...documentOf([layerOf('lamp', { r: keyed({ 0: [0], 20: [30] }, EVEN) })]), ip: 5 };
    expect((await readShot(bytesOf(json), {})).shot.firstFrame).toBe(5);
    expect((await readShot(bytesOf(json), { firstFrame: 1 })).shot.firstFrame).toBe(1);
  });

  it('its rate is its own; that the exercise asks for another is said', async () => {
    const json = documentOf([layerOf('lamp', { r: keyed({ 0: [0], 20: [30] }, EVEN) })], { fr: 30 });
    expect((await readShot(bytesOf(json), { fps: 30 })).warnings).toEqual([]);
    const { shot, warnings } = await readShot(bytesOf(json), { fps: 24 });
    expect(shot.fps).toBe(30);
    expect(warnings).toEqual(['the document runs at 30 frames a second; the exercise asks for 24']);
    const taken = await readShot(bytesOf(json), { fps: 24 }, { fps: 24 });
    expect(taken.shot.fps).toBe(24);
    expect(taken.warnings).toEqual(['the document runs at 30 frames a second; it is taken at 24']);
  });

  it('expressions, text and pictures from elsewhere are left out, and that is said', async () => {
    const { warnings } = await readMotion(
      bytesOf(
        documentOf(
          [
            layerOf('lamp', { r: { k: 0, x: 'wiggle(2, 30)' }, p: keyed({ 0: [0, 0], 20: [9, 9] }, EVEN) }),
            layerOf('sign', { rx: { k: 30 }, rz: keyed({ 0: [0], 20: [9] }, EVEN) }, { ty: 5 }),
          ],
          { assets: [{ id: 'sea', p: 'sea.png', e: 0 }] },
        ),
      ),
    );
    expect(warnings).toEqual([
      'one layer has expressions: they are left out, keys are read',
      'one layer turns out of the picture: only the turn on it is read',
      'one layer of text: its font is left out',
      'one picture is not inside the file: it is left out',
    ]);
  });

  it('half a body is told by its names', async () => {
    const hung = (nm: string, ind: number, parent?: number): LottieLayer =>
      layerOf(
        nm,
        {
          p: keyed({ 0: [40, 30 * ind], 12: [40, 30 * ind + 9], 23: [40, 30 * ind] }, SOFT),
          r: keyed({ 0: [0], 12: [9 * ind], 23: [0] }, SOFT),
        },
        { ind, ...(parent !== undefined && { parent }) },
      );
    const { roles } = await reportOf(
      documentOf([
        hung('torso', 1),
        hung('neck', 2, 1),
        hung('head', 3, 2),
        hung('upper arm left', 4, 1),
        hung('forearm left', 5, 4),
        hung('hand left', 6, 5),
      ]),
    );
    expect(roles).toEqual({
      spine: 'torso',
      neck: 'neck',
      head: 'head',
      'upperArm.L': 'upper arm left',
      'foreArm.L': 'forearm left',
      'hand.L': 'hand left',
    });
  });

  it('what is drawn asks for nothing from elsewhere', async () => {
    const elsewhere = 'https://saltwick.example/';
    const json = {
      ...documentOf(
        [
          layerOf('lamp', { r: keyed({ 0: [0], 20: [30] }, EVEN) }),
          layerOf('sign', {}, { ty: 5 }),
          layerOf('sea', {}, { ty: 2, refId: 'sea' }),
          layerOf('gull', {}, { ty: 2, refId: 'gull' }),
        ],
        {
          assets: [
            { id: 'sea', p: `${elsewhere}sea.png`, e: 0 },
            { id: 'gull', p: 'data:image/png;base64,AAAA', e: 1 },
          ],
        },
      ),
      fonts: { list: [{ fName: 'harbour', fPath: `${elsewhere}font.woff2`, origin: 3 }] },
      chars: [],
    };
    const { motion } = await readMotion(bytesOf(json), { withShape: true });
    const { document } = motion.drawn!;
    expect(JSON.stringify(document)).not.toContain(elsewhere);
    expect((document as LottieJson).layers.map(({ nm }) => nm)).toEqual(['lamp', 'gull']);
  });

  it('a lone ball moves, rests and moves again', async () => {
    const report = await reportOf(
      documentOf(
        [
          layerOf(
            'ball',
            { p: keyed({ 0: [50, 100], 10: [150, 100], 30: [150, 100], 40: [250, 100] }, SOFT) },
            { op: 48 },
          ),
        ],
        {
          op: 48,
        },
      ),
    );
    expect(report.readings.filter(({ id }) => id === 'move.frames').length).toBe(2);
  });
});
