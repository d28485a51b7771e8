import type { ReadingId } from '../measure/registry.ts';
import type { Gauge } from './gauge.ts';

/** A gauge of how much, with its band and reason. */
const gauge = (reading: ReadingId, band: readonly [number, number], why: string, more: Partial<Gauge> = {}): Gauge => ({
  reading,
  from: 'breakdowns',
  band,
  weight: 6,
  why,
  ...more,
});

const SKULL = 'The face is read first: a head that hangs, is thrown back or tilted all along says so in every frame.';
const LEVEL = 'The trunk carries the head: what it does too much the whole figure does.';
const ARMS = 'Arms that swing too far take the eye from the walk, arms that hardly swing look carried.';

/** How a walking body holds itself and how much of each it does. Common practice; times are frames at 24 fps. */
export const WALKING_BODY: readonly Gauge[] = [
  {
    reading: 'kind.seen',
    from: 'blocking',
    allowed: ['steps'],
    weight: 100,
    why: 'One foot lands after the other; what does something else is another exercise.',
  },
  gauge('posture.lean', [-4, 12], 'A walk leans a little forward, into where it goes.', {
    near: 2,
    weight: 12,
    from: 'blocking',
  }),
  gauge('posture.side', [-5, 5], 'The trunk stands over the hips; leaning to one side reads as a limp or a load.', {
    near: 1,
    weight: 10,
    from: 'blocking',
  }),
  gauge('posture.head', [-15, 15], SKULL, { near: 3, weight: 12, from: 'blocking' }),
  gauge('posture.aside', [-15, 15], 'The head faces where it goes, unless there is something to look at.', {
    near: 3,
    weight: 8,
  }),
  gauge(
    'posture.tilt',
    [-12, 12],
    'The head stands on the neck; tilted all along it reads as a question, or as hurt.',
    {
      near: 3,
      weight: 8,
    },
  ),
  gauge('posture.neck', [-20, 25], 'The neck carries the head over the chest; stretched forward it pecks.', {
    near: 4,
    weight: 6,
  }),
  gauge('posture.turn', [-14, 14], 'Hips and chest face where the body goes, on average.', { near: 3, weight: 8 }),
  gauge('posture.shrug', [-4.5, 4.5], 'Shoulders that are pulled up all along read as cold or afraid.', {
    near: 1,
    weight: 5,
  }),
  gauge('wrist.bend', [-40, 40], 'A wrist hangs from its forearm; bent far all along it looks broken.', {
    near: 5,
    weight: 6,
  }),
  gauge('size.lean', [0, 8], LEVEL, { near: 0.3, weight: 8 }),
  gauge('size.turn', [0, 25], 'Hips that turn too far swing the whole body about.', {
    part: 'pelvis',
    near: 3,
    weight: 8,
  }),
  gauge('size.turn', [0, 30], 'The chest turns against the hips, about as much as they do.', {
    part: 'chest',
    near: 3,
    weight: 8,
  }),
  gauge('size.turn', [0, 15], 'The head keeps where it goes while the shoulders turn under it.', {
    part: 'head',
    near: 3,
    weight: 7,
  }),
  gauge('size.tilt', [0, 12], 'The hip drops on the free side, a little.', { part: 'pelvis', near: 2, weight: 8 }),
  gauge('size.tilt', [0, 15], 'Shoulders tilt against the hips, no more than they do.', {
    part: 'shoulders',
    near: 2,
    weight: 6,
  }),
  gauge('size.shift', [0, 8], 'The body goes over the carrying foot, not across it.', { near: 1, weight: 8 }),
  gauge(
    'size.side',
    [0, 14],
    'From side to side the body goes over its foot; what sways above it is drunk, or at sea.',
    {
      near: 3,
      weight: 7,
    },
  ),
  gauge('size.head', [0, 5], 'A head that nods at every step looks like a bird’s.', { near: 1, weight: 8 }),
  gauge('posture.arm', [-25, 35], 'An arm swings about the line it hangs in; held up in front it carries something.', {
    near: 5,
    weight: 8,
  }),
  gauge('size.arm', [25, 75], ARMS, { except: 'carries', near: 4, weight: 9 }),
  gauge('size.spread', [-12, 35], 'Arms hang beside the body: held away from it they look stuffed.', {
    near: 4,
    weight: 6,
  }),
  gauge('size.flap', [0, 32], 'Arms swing along the way; to the side and back they flap.', { near: 6, weight: 6 }),
  gauge('size.wrist', [0, 60], 'A loose hand drags behind its forearm a little; thrown about it flops.', {
    near: 8,
    weight: 6,
  }),
  gauge('elbow.least', [2, 90], 'An elbow is never locked, and never bends the wrong way.', {
    near: [1, 5],
    weight: 9,
  }),
  gauge('elbow.most', [4, 90], 'Walking arms swing nearly straight; bent over a right angle they run.', {
    near: 5,
    weight: 6,
  }),
  gauge('arm.late', [-13, 10], 'The arms are widest when the body is lowest.', { per: 'step', near: 0.4, weight: 8 }),
  gauge(
    'nod.late',
    [-0.6, 3.2],
    'What hangs on the body nods after it: the trunk a frame behind the up and down, neck and head one more each.',
    { from: 'polish', near: 0.5, weight: 2 },
  ),
  gauge('foot.land', [4, 45], 'A walking foot lands on its heel, toes up.', {
    except: 'backwards',
    near: [2, 5],
    weight: 10,
  }),
  gauge('foot.flat', [0, 14], 'The sole slaps down within three frames of the contact.', {
    per: 'cycle',
    except: 'backwards',
    near: 1,
    weight: 5,
  }),
  gauge('foot.leave', [-90, -10], 'The foot rolls over its toes and leaves the ground with the heel up.', {
    except: 'backwards',
    near: [5, 4],
    weight: 8,
  }),
  gauge('foot.clear', [1, 20], 'The foot passes just over the ground: lifted high it marches, lower it catches.', {
    near: [0.6, 3],
    weight: 7,
  }),
  gauge('foot.turn', [-5, 30], 'Toes point ahead or a little out.', { near: 4, weight: 6 }),
  gauge('knee.aside', [-6, 6], 'The knee stays over the line from hip to ankle.', { near: 1, weight: 7 }),
  gauge('knee.contact', [1, 40], 'At the contact the leg is nearly straight, never locked.', {
    except: 'climbs',
    near: [0.5, 5],
    weight: 8,
  }),
  gauge('knee.down', [6, 60], 'At the down the knee takes the weight up.', {
    except: 'climbs',
    near: [2, 5],
    weight: 8,
  }),
  gauge('knee.passing', [1, 50], 'As the feet pass, the carrying leg carries.', {
    except: 'climbs',
    near: [0.5, 5],
    weight: 7,
  }),
  gauge('knee.passing', [25, 110], 'As it passes, the free knee is bent so that its foot clears the ground.', {
    except: 'climbs',
    of: 'swinging',
    near: 5,
    weight: 6,
  }),
  gauge('knee.up', [1, 35], 'At the up the carrying leg is nearly straight, never locked.', {
    except: 'climbs',
    near: [0.5, 5],
    weight: 8,
  }),
  gauge('step.reach', [0.72, 1.35], 'The feet land about as far ahead of the body as they trail behind it.', {
    near: 0.08,
    weight: 7,
  }),
  gauge('travel.fit', [0.94, 1.06], 'The ground goes by as fast as the feet walk on it.', {
    from: 'smoothing',
    near: 0.02,
    weight: 14,
  }),
  gauge('gait.even', [0.93, 1], 'A foot that stands goes back by the same amount every frame.', {
    from: 'smoothing',
    near: 0.03,
    weight: 4,
  }),
  gauge('cycle.jerk', [0, 16], 'A loop is as smooth at its seam as anywhere else.', {
    from: 'smoothing',
    near: 3,
    weight: 4,
  }),
  gauge('hang.share', [5, 48], 'The body goes over its highest and on; hanging there it floats.', {
    from: 'smoothing',
    near: 4,
    weight: 5,
  }),
  {
    reading: 'still.part',
    from: 'breakdowns',
    allowed: ['none'],
    weight: 12,
    why: 'A living body moves everywhere, if only a little.',
  },
  gauge('halt.share', [0, 38], 'Key poses are passed through: what stops at each of them ticks like a clock.', {
    from: 'smoothing',
    near: 6,
    weight: 10,
  }),
];

const CHANGED: Readonly<Record<string, Partial<Gauge> | null>> = {
  'posture.lean': { band: [2, 25], why: 'A run leans forward, into where it goes.' },
  'posture.arm': { band: [-35, 40] },
  'size.arm': { band: [35, 110] },
  'elbow.least': { band: [2, 125] },
  'elbow.most': { band: [35, 130], why: 'Running arms are bent, about a right angle.' },
  'size.tilt': { band: [0, 14] },
  'size.turn': { band: [0, 40] },
  'arm.late': null,
  'nod.late': null,
  'foot.land': {
    band: [-25, 35],
    near: [5, 5],
    why: 'A running foot lands on its whole sole or its ball, not on its toes’ tips.',
  },
  'foot.clear': { band: [1, 70] },
  'foot.flat': { band: [0, 16] },
  'knee.contact': { band: [3, 60] },
  'knee.down': { band: [15, 80] },
  'knee.passing': null,
  'knee.up': null,
  'step.reach': null,
};

/** The same of a running body. */
export const RUNNING_BODY: readonly Gauge[] = WALKING_BODY.flatMap((own): Gauge[] => {
  const change = CHANGED[own.reading];
  if (own.reading === 'size.turn' && own.part === 'head') return [own];
  return change === null ? [] : [{ ...own, ...change }];
}).concat(
  gauge('cycle.length', [11, 28], 'A run takes about 12 to 28 frames for its two steps; slower it floats.', {
    from: 'blocking',
    near: 1,
    weight: 14,
  }),
);

/** What shakes, stutters or goes through the body is wrong in every exercise. */
export const STEADY_BODY: readonly Gauge[] = [
  gauge(
    'shake.size',
    [0, 0.25],
    'A part that trembles from frame to frame was keyed too often, or carried by one that was.',
    { from: 'smoothing', near: 0.1, weight: 11 },
  ),
  gauge('stutter.frames', [0, 8], 'Steps that are long and short in turn look as if frames were dropped.', {
    from: 'smoothing',
    weight: 12,
  }),
  gauge('through.frames', [0, 0], 'Nothing goes through the body.', { from: 'smoothing', near: 1, weight: 6 }),
];

/** Feet that stand, in every kind of exercise that has them. */
export const STANDING_FEET: readonly Gauge[] = [
  gauge('gait.slide', [0, 2.5], 'A foot that stands does not slide.', { from: 'smoothing', near: 0.5, weight: 8 }),
  gauge('gait.depth', [0, 1.5], 'A foot stays on the ground, not in it.', { from: 'smoothing', near: 0.4, weight: 8 }),
  gauge('gait.float', [0, 2.5], 'A foot that stands comes down to the ground.', {
    from: 'smoothing',
    near: 0.5,
    weight: 6,
  }),
];

/** A body that stands: it leans, looks and reaches more than one that walks, but never bends a joint the wrong way. */
export const STANDING_BODY: readonly Gauge[] = [
  gauge('posture.lean', [-14, 20], 'On average a body stands over its feet.', { near: 3, weight: 7 }),
  gauge('posture.side', [-9, 9], 'On average a body stands over its feet.', { near: 2, weight: 7 }),
  gauge('posture.head', [-22, 25], SKULL, { near: 4, weight: 7 }),
  gauge('posture.tilt', [-17, 17], SKULL, { near: 3, weight: 6 }),
  gauge('elbow.least', [-3, 175], 'An elbow never bends the wrong way.', { near: [2, 0], weight: 8 }),
  gauge('wrist.bend', [-50, 50], 'A wrist hangs from its forearm; bent far all along it looks broken.', {
    near: 6,
    weight: 5,
  }),
];

/** A body that jumps: it folds far forward and looks where it lands, and on average is neither thrown over nor askew. */
export const JUMPING_BODY: readonly Gauge[] = [
  ...STANDING_BODY.filter(({ reading }) => reading !== 'posture.lean' && reading !== 'posture.head'),
  gauge('posture.lean', [-14, 30], 'A body folds forward to jump and unfolds; on average it is over its feet.', {
    near: 4,
    weight: 6,
  }),
  gauge('posture.head', [-25, 35], SKULL, { near: 4, weight: 6 }),
];

/** Joints that bend the wrong way, or stay bent, where the body does what it likes. */
export const SOUND_JOINTS: readonly Gauge[] = STANDING_BODY.filter(({ reading }) => !reading.startsWith('posture'));
