import { KINDS, type Kind } from '../motion/prepared-shot.ts';
import { MEASURES } from './registry.ts';

/** What is told of a reading before it is made. How it is said once it is made stands in `sentence.ts`. */
export interface CatalogueEntry {
  readonly id: string;
  /** Which family of definitions it belongs to. */
  readonly topic: Topic;
  readonly unit: string;
  /** What a shot must have for it, in words. */
  readonly needs: string;
  /** Kinds of exercise it is made for; none: only when it is asked for. */
  readonly kinds: readonly Kind[];
}

/** Topics in the order in which they are defined. */
export const TOPICS = [
  'spacing and arcs',
  'moves and holds',
  'breakdowns',
  'ends of a move',
  'overlap',
  'loop',
  'gait',
  'jump',
  'take, head and attention',
] as const;
export type Topic = (typeof TOPICS)[number];

const PATH = 'a joint that moves over 5 frames or more';
const MOVES = 'something that moves and rests, over 6 frames or more';
const POSES = 'two poses of the shot, and a frame between them';
const STEP = 'a rotation that goes from one rest to another';
const LOOP = 'a loop';
const FEET = 'hips and both feet, planted at some time';
const CYCLE = 'a loop with hips and both feet';
const FLIGHT = 'feet that leave the ground together';
const MASS = 'feet that leave the ground together, trunk and thighs';
const HEAD = 'a head';

type Row = readonly [id: string, unit: string, needs: string];

const ROWS: Readonly<Record<Topic, readonly Row[]>> = {
  'spacing and arcs': [
    ['spacing.steps', 'units', PATH],
    ['spacing.off', 'ratio', PATH],
    ['arc.off', 'ratio', PATH],
    ['arc.rise', '%', 'a move of two frames or more whose ends are apart'],
    ['arc.pop', 'frames', PATH],
  ],
  'moves and holds': [
    ['move.frames', 'frames', MOVES],
    ['hold.frames', 'frames', MOVES],
    ['hold.drift', '%', MOVES],
    ['hold.kind', '–', MOVES],
  ],
  breakdowns: [
    ['breakdown.favour', '%', POSES],
    ['breakdown.departure', '%', POSES],
    ['chart.fractions', '–', 'two poses of the shot'],
  ],
  'ends of a move': [
    ['anticipation.depth', '%', STEP],
    ['anticipation.frames', 'frames', STEP],
    ['overshoot.depth', '%', STEP],
    ['overshoot.frames', 'frames', STEP],
    ['settle.frames', 'frames', STEP],
    ['settle.swings', 'count', STEP],
    ['settle.damping', '–', 'a rotation that swings past its end'],
    ['ease.out', 'ratio', STEP],
    ['ease.in', 'ratio', STEP],
  ],
  overlap: [
    ['lag.frames', 'frames', 'a chain of two joints or more that move alike, over 8 frames or more'],
    ['lag.together', 'yes/no', 'a chain of two joints or more that move alike, over 8 frames or more'],
  ],
  loop: [
    ['cycle.length', 'frames', LOOP],
    ['cycle.seam', 'ratio', 'a loop of 4 frames or more'],
    ['cycle.jerk', 'ratio', 'a loop of 12 frames or more'],
    ['cycle.cadence', '1/min', 'a loop that walks or runs'],
    ['mirror.off', '°', 'a loop with left and right legs'],
    ['mirror.height', '%L', CYCLE],
    ['exposure.pattern', '–', 'something that moves, over 4 frames or more'],
  ],
  gait: [
    ['gait.contact', 'frames', FEET],
    ['gait.down', 'frames', 'one foot that lands after the other'],
    ['gait.passing', 'frames', 'one foot that lands after the other'],
    ['gait.up', 'frames', 'one foot that lands after the other'],
    ['gait.step', 'frames', 'one foot that lands after the other'],
    ['gait.stance', '%', CYCLE],
    ['gait.flight', 'frames', CYCLE],
    ['gait.slide', '%L', 'a foot that stays planted for 3 frames or more'],
    ['gait.even', '0…1', 'a foot that stays planted for 3 frames or more'],
    ['gait.depth', '%L', 'feet on flat ground'],
    ['gait.float', '%L', 'feet on flat ground'],
    ['gait.bob', '%L', FEET],
    ['gait.lowAfter', 'frames', 'one foot that lands after the other'],
    ['gait.stepLength', '%L', 'a foot that lands'],
    ['gait.track', '%L', 'a foot that lands'],
    ['gait.opposition', '–1…1', 'hands and feet that swing'],
    ['gait.shift', '–1…1', 'hips that move from side to side'],
    ['gait.pelvis', '–1…1', 'hips that turn'],
    ['gait.counter', '–1…1', 'hips and chest that turn'],
    ['gait.knee', 'frames', 'thigh, shin and foot'],
    ['gait.froude', '–', FEET],
  ],
  jump: [
    ['jump.crouch', '%L', FLIGHT],
    ['jump.takeoff', 'frames', FLIGHT],
    ['jump.apex', 'frames', MASS],
    ['jump.landing', 'frames', FLIGHT],
    ['jump.air', 'frames', FLIGHT],
    ['jump.rise', '%L', MASS],
    ['jump.gravity', 'ratio', MASS],
    ['jump.parabola', '0…1', MASS],
    ['jump.squash', '%L', FLIGHT],
    ['jump.settle', 'frames', 'a jump that ends at rest'],
  ],
  'take, head and attention': [
    ['take.anticipation', '%', HEAD],
    ['take.accent', '%', HEAD],
    ['take.accentHold', 'frames', HEAD],
    ['look.count', 'count', HEAD],
    ['look.frames', 'frames', 'a head that turns and holds'],
    ['head.steady', 'ratio', 'head and chest, and a chest that turns'],
    ['head.counter', 'ratio', 'head and chest, and a chest that turns'],
    ['cause.share', 'share', 'a joint and a range of two frames or more'],
    ['twin.arms', '%', 'both arms, moving'],
    ['starts.together', 'share', 'two parts or more that start from rest'],
    ['activity', '°/frame', '2 frames or more'],
    ['attention.clash', '%', 'two characters, or two groups that the brief names'],
    ['stray.motion', '%L', 'a master, a camera, or a joint the brief says is still'],
    ['camera.shake', '°', 'a camera'],
    ['breath.cycle', 'frames', 'hips and a chest that swings slowly'],
    ['breath.ratio', 'ratio', 'hips and a chest that swings slowly'],
    ['keys.partial', 'list', 'a format that keeps keys'],
  ],
};

/** Every reading the core can make, in the order in which they are defined. */
export const CATALOGUE: readonly CatalogueEntry[] = TOPICS.flatMap((topic) =>
  ROWS[topic].map(([id, unit, needs]): CatalogueEntry => {
    const families = MEASURES.filter(({ ids }) => ids.includes(id));
    const kinds = KINDS.filter((kind) => families.some((family) => family.kinds?.includes(kind) ?? true));
    return { id, topic, unit, needs, kinds };
  }),
);
