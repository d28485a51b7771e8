import { reportTracks } from '../src/track/report-tracks.ts';
import { shotEvents } from '../src/measure/keys/shot-events.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import {
  type FollowedPoint,
  followedPoints,
  heldStill,
  NO_TRACKS,
  pictureFigure,
  type PictureFacts,
  pointTracks,
  reportPictures,
} from '../src/track/picture-shot.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { withoutCharacter, splitCharacter } from '../src/measure/characters.ts';
import { seenFromTheSide } from './points.ts';

const HEIGHT = 600;
const walk = seenFromTheSide(prepareShot(walkExemplar({}, {}), { kind: 'walk' }));
const frames = walk.frames;
const ones = (count = frames) => Array.from({ length: count }, (_, k) => ({ from: k, to: k }));
const facts: PictureFacts = { fps: 24, frames, width: 900, height: HEIGHT, exposures: ones() };
/** The walk's points on a picture, y down. */
const POINTS = followedPoints(walk, HEIGHT);
const source = { file: 'walk.webm', format: 'WebM', warnings: [] };
const value = (report: ReturnType<typeof reportPictures>, id: string): unknown =>
  report.readings.find((reading) => reading.id === id)?.value;

test('without points only the exposures are told, and why not the rest', () => {
  const exposures = Array.from({ length: 12 }, (_, k) => ({ from: 2 * k, to: 2 * k + 1 }));
  const report = reportPictures({ ...facts, frames: 24, exposures }, NO_TRACKS, { kind: 'walk' }, source);
  expect(value(report, 'exposure.pattern')).toBe('twos');
  expect(new Set(report.unmade.map(({ why }) => why))).toContain('no points have been followed on the pictures yet');
  expect(report.readings.every(({ id }) => id.startsWith('exposure.'))).toBe(true);
});

test('pictures that run at another rate than the exercise asks for say so', () => {
  const { warnings } = reportPictures(facts, NO_TRACKS, { kind: 'walk', fps: 25 }, source);
  expect(warnings).toEqual(['the pictures run at 24 frames a second; the exercise asks for 25']);
});

test('places go to tracks with y up, and back', () => {
  const tracks = pointTracks(facts, [{ name: 'hips', places: [[3, 100, 40, 1]] }], 101);
  expect(tracks.points[0]!.places[7]).toBe(HEIGHT - 40);
  expect(followedPoints(tracks, HEIGHT)).toEqual([{ name: 'hips', places: [[3, 100, 40, 1]] }]);
});

test('where the lids of an eye come together is a blink, where other points do a closing; both move with the drawings', () => {
  const open = [20, 20, 20, 12, 2, 2, 2, 12, 20, 20, 20, 20];
  const pair = (a: string, b: string, late = 0): FollowedPoint[] => [
    { name: a, places: open.map((_, f) => [f, 100, 50, 1]) },
    { name: b, places: open.map((_, f) => [f, 100, 50 + (open[f - late] ?? 20), 1]) },
  ];
  const own = (late: number) =>
    pictureFigure(
      { ...facts, frames: open.length, exposures: ones(open.length) },
      {
        ...NO_TRACKS,
        points: [...pair('lid up', 'lid low', late), ...pair('lip up', 'lip low', 2)],
        pairs: [
          ['lid up', 'lid low'],
          ['lip up', 'lip low'],
          ['lid up', 'gone'],
        ],
      },
      { kind: 'any', firstFrame: 101 },
    )!.shot;
  const closings = (late: number) => shotEvents(own(late)).filter(({ name }) => ['blink', 'closing'].includes(name));
  expect(closings(0)).toEqual([
    { label: 103, name: 'blink', part: 'eyes' },
    { label: 105, name: 'closing', part: 'lip up, lip low' },
  ]);
  expect(closings(2)[0]).toEqual({ label: 105, name: 'blink', part: 'eyes' });
});

test('a drawing that is held stands where a hand put it, or in the middle of where it was followed to', () => {
  const held = [
    { from: 0, to: 1 },
    { from: 2, to: 4 },
  ];
  const point: FollowedPoint = {
    name: 'hand.R',
    places: [
      [0, 10, 20, 1],
      [1, 11, 21, 0.8],
      [2, 30, 40, 0.9],
      [3, 32, 40, 0.9],
      [4, 31, 46, 0.9],
    ],
  };
  const { points } = heldStill(pointTracks({ ...facts, frames: 5 }, [point], 1), held);
  const [own] = followedPoints({ fps: 24, frames: 5, firstFrame: 1, points }, HEIGHT);
  expect(own!.places.map(([, x, y]) => [x, y])).toEqual([
    [10, 20],
    [10, 20],
    [31, 40],
    [31, 40],
    [31, 40],
  ]);
});

test('a walk drawn on twos is measured as one, however its points tremble while they are held', () => {
  const exposures = Array.from({ length: Math.ceil(frames / 2) }, (_, k) => ({
    from: 2 * k,
    to: Math.min(frames - 1, 2 * k + 1),
  }));
  const onTwos = (tremble: number): FollowedPoint[] =>
    POINTS.map(({ name, places }) => ({
      name,
      places: places.map(([at], k) => {
        const [, x, y] = places[2 * Math.floor(at / 2)]!;
        return [at, x + (k % 2) * tremble, y - (k % 2) * tremble, 0.95] as const;
      }),
    }));
  const report = (tremble: number) =>
    reportPictures({ ...facts, exposures }, { ...NO_TRACKS, points: onTwos(tremble) }, { kind: 'walk' }, source);
  const [still, trembling] = [report(0), report(0.3)];
  expect(value(trembling, 'exposure.pattern')).toBe('twos');
  for (const id of ['gait.bob', 'gait.slide', 'gait.stance'])
    expect(Number(value(trembling, id))).toBeCloseTo(Number(value(still, id)), 0);
});

describe('a ground that somebody has drawn', () => {
  const feet = POINTS.filter(({ name }) => /foot|toe/.test(name)).flatMap(({ places }) => places.map(([, , y]) => y));
  const low = Math.max(...feet);

  test('is where the figure stands: drawn 5 % of a leg higher, it sinks in by as much', () => {
    const leg = pictureFigure(facts, { ...NO_TRACKS, points: POINTS }, { kind: 'walk' })!.shot.scale.legLength;
    const depthOver = (y: number): number =>
      Number(
        value(
          reportPictures(facts, { ...NO_TRACKS, points: POINTS, ground: [0, y, 900, y] }, { kind: 'walk' }, source),
          'gait.depth',
        ),
      );
    expect(depthOver(low - 0.05 * leg) - depthOver(low)).toBeCloseTo(5, 0);
  });

  test('that leans is made level: a walk up a sloping picture is the walk', () => {
    const lean = 0.12;
    const turned = ([at, x, y, confidence]: FollowedPoint['places'][number]) =>
      [
        at,
        450 + (x - 450) * Math.cos(lean) - (y - low) * Math.sin(lean),
        low + (x - 450) * Math.sin(lean) + (y - low) * Math.cos(lean),
        confidence,
      ] as const;
    const points = POINTS.map(({ name, places }) => ({ name, places: places.map(turned) }));
    const [ax, bx] = [0, 900].map((x) => [x, low + (x - 450) * Math.tan(lean)] as const);
    const ground = [ax![0], ax![1], bx![0], bx![1]] as const;
    const leant = reportPictures(facts, { ...NO_TRACKS, points, ground }, { kind: 'walk' }, source);
    const level = reportPictures(
      facts,
      { ...NO_TRACKS, points: POINTS, ground: [0, low, 900, low] },
      { kind: 'walk' },
      source,
    );
    for (const id of ['gait.bob', 'gait.slide', 'gait.depth', 'gait.stepLength'])
      expect(Number(value(leant, id))).toBeCloseTo(Number(value(level, id)), 4);
  });
});

test('a figure of points lies on the picture where they were placed, whatever the camera and the ground do', () => {
  const still: FollowedPoint = {
    name: 'bollard',
    places: Array.from({ length: frames }, (_, f) => [f, 700 - 7 * f, 300 + f, 1] as const),
  };
  const panned = POINTS.map(({ name, places }) => ({
    name,
    places: places.map(([at, x, y, confidence]) => [at, x - 7 * at, y + at, confidence] as const),
  }));
  const own = { ...NO_TRACKS, points: [...panned, still], still: ['bollard'], ground: [0, 480, 900, 500] as const };
  const made = pictureFigure(facts, own, { kind: 'walk' })!;
  const { motion, world } = made.shot.played;
  own.points.forEach(({ places }, k) => {
    for (const [at, x, y] of places) {
      const p = 3 * (at * motion.joints.length + made.joints[k]!);
      const [px, py] = made.toPicture(world.positions[p]!, world.positions[p + 1]!, at);
      expect(Math.hypot(px - x, py - y)).toBeLessThan(1e-6);
      const back = made.fromPicture(px, py, at);
      expect(Math.hypot(back[0] - world.positions[p]!, back[1] - world.positions[p + 1]!)).toBeLessThan(1e-6);
    }
  });
});

test('still points, pairs and shapes that name no point that is there are left alone', () => {
  const own = {
    ...NO_TRACKS,
    points: POINTS,
    still: ['gone'],
    pairs: [['gone', 'hips'] as const],
    shapes: [['a', 'b', 'c', 'd'] as const],
  };
  expect(() => reportPictures(facts, own, { kind: 'walk' }, source)).not.toThrow();
});

describe('two characters', () => {
  /** The walker and somebody beside it, who waves with one hand between two frames. */
  const two = (from: number, to: number): FollowedPoint[] => [
    ...POINTS.map(({ name, places }) => ({ name: `carrier: ${name}`, places })),
    {
      name: 'keeper: hand.R',
      places: Array.from(
        { length: frames },
        (_, f) => [f, 100, f >= from && f <= to ? 200 + 30 * (f % 2) : 200, 1] as const,
      ),
    },
  ];
  const told = (from: number, to: number) =>
    reportPictures(facts, { ...NO_TRACKS, points: two(from, to) }, { kind: 'any' }, source);

  test('the first is the figure that is measured', () => {
    const alone = reportPictures(facts, { ...NO_TRACKS, points: POINTS }, { kind: 'walk' }, source);
    const both = reportPictures(facts, { ...NO_TRACKS, points: two(3, 8) }, { kind: 'walk' }, source);
    for (const id of ['gait.bob', 'gait.slide', 'gait.stance']) expect(value(both, id)).toBe(value(alone, id));
  });

  /** Both walk; the keeper, who lives beside the carrier, slides. */
  const slides = seenFromTheSide(prepareShot(walkExemplar({}, { slide: 8 }), { kind: 'walk' }), { leg: 150 });
  const KEEPER = followedPoints(slides, HEIGHT);
  const walkers = (first: readonly FollowedPoint[], second: readonly FollowedPoint[]) =>
    reportPictures(
      facts,
      {
        ...NO_TRACKS,
        points: [
          ...first.map(({ name, places }) => ({ name: `carrier: ${name}`, places })),
          ...second.map(({ name, places }) => ({ name: `keeper: ${name}`, places })),
        ],
      },
      { kind: 'walk' },
      source,
    );

  test('the second is a figure of its own: the same is read of it as if it were alone, and says whose it is', () => {
    const alone = reportPictures(facts, { ...NO_TRACKS, points: KEEPER }, { kind: 'walk' }, source);
    const both = walkers(POINTS, KEEPER);
    const theirs = both.readings
      .filter(({ part }) => splitCharacter(part).character === 'keeper')
      .map(withoutCharacter);
    for (const id of ['gait.bob', 'gait.slide', 'gait.step', 'gait.contact', 'gait.stepLength']) {
      const own = theirs.filter((reading) => reading.id === id).map(({ value: v, part }) => [part, v]);
      expect(own.length).toBeGreaterThan(0);
      expect(own).toEqual(alone.readings.filter((reading) => reading.id === id).map(({ value: v, part }) => [part, v]));
    }
    expect(both.roles['keeper: foot.L']).toBe('keeper: foot.L');
    // How the pictures are exposed, and how surely points are known, is told once.
    for (const id of ['exposure.pattern', 'attention.clash'])
      expect(both.readings.filter((reading) => reading.id === id)).toHaveLength(1);
    expect(both.readings.filter(({ id }) => id === 'track.sure')).toHaveLength(POINTS.length + KEEPER.length);
    // What can't be seen of them is unmade of them as well, with its reason.
    expect(both.unmade.find(({ id, part }) => id === 'gait.track' && part === 'keeper: body')!.why).toMatch(/depth/);
  });

  test('is judged by the same gauges, each by its own step; what is found says who does it, and whose foot', () => {
    const said = (report: ReturnType<typeof walkers>): string[] =>
      judgeShot(defaultGauges('walk', 24), report, 'polish')
        .findings.filter(({ reading }) => reading.id === 'gait.slide')
        .map(({ say }) => say);
    expect(said(walkers(POINTS, KEEPER)).join()).toMatch(/^“keeper”: the (left|right) foot slides/);
    expect(said(walkers(KEEPER, POINTS)).join()).toMatch(/^The (left|right) foot slides/);
    // One who slides explains nothing of the other.
    const slidesTwice = said(walkers(KEEPER, KEEPER));
    expect(slidesTwice.filter((text) => text.startsWith('“keeper”')).length).toBe(slidesTwice.length / 2);
    const { unjudged } = judgeShot(defaultGauges('walk', 24), walkers(POINTS, KEEPER), 'polish');
    expect(unjudged.filter(({ part }) => part === 'keeper: body').length).toBeGreaterThan(0);
  });

  test('act at once in as many frames as both are lively: the longer the other waves, the more', () => {
    const clash = (from: number, to: number): number => Number(value(told(from, to), 'attention.clash'));
    expect(clash(3, 8)).toBeGreaterThan(0);
    expect(clash(3, 18)).toBeGreaterThan(clash(3, 8));
    const { frames: at } = told(3, 8).readings.find(({ id }) => id === 'attention.clash')!;
    for (const label of at!) expect(label).toBeGreaterThanOrEqual(3);
    for (const label of at!) expect(label).toBeLessThanOrEqual(10);
  });

  test('of one who does not move nothing is told, and of one alone neither', () => {
    expect(told(99, 99).unmade.find(({ id }) => id === 'attention.clash')!.why).toMatch(/“keeper” does not move/);
    const alone = reportPictures(facts, { ...NO_TRACKS, points: POINTS }, { kind: 'any' }, source);
    expect(alone.unmade.find(({ id }) => id === 'attention.clash')!.why).toMatch(/one character only/);
  });
});

describe('a point alone', () => {
  // It moves for 10 frames, rests for 13, and moves on for 10, past its end by a tenth and back (24 fps).
  const ease = (u: number): number => u * u * (3 - 2 * u);
  const place = (f: number): number => {
    const first = 100 * ease(Math.min(1, Math.max(0, (f - 5) / 10)));
    const second = 80 * ease(Math.min(1, Math.max(0, (f - 28) / 10)));
    const past = f > 38 && f < 44 ? 8 * Math.sin((Math.PI * (f - 38)) / 6) : 0;
    return 50 + first + second + past;
  };
  const frames = 60;
  const tracks = {
    fps: 24,
    frames,
    firstFrame: 1,
    points: [
      {
        name: 'lantern',
        places: Float64Array.from({ length: 2 * frames }, (_, k) => (k % 2 === 0 ? place(k >> 1) : 200)),
        confidence: new Float64Array(frames).fill(1),
      },
    ],
  };

  test('has moves and holds, and goes past its end, as a turn has', () => {
    const source = { file: 'points.csv', format: 'points', warnings: [] };
    const { readings } = reportTracks(tracks, { kind: 'overlap', loop: 'none' }, source);
    const of = (id: string) => readings.filter((own) => own.id === id && own.part === 'lantern');
    expect(of('move.frames')).toHaveLength(2);
    const rest = of('hold.frames').find(({ detail }) => (detail as { from: number }).from > 10)!;
    expect(Math.abs((rest.value as number) - 13)).toBeLessThanOrEqual(2);
    const past = of('overshoot.depth').at(-1)!;
    expect(Math.abs((past.value as number) - 10)).toBeLessThan(2.5);
  });
});
