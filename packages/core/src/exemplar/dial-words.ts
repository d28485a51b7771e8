/** What can be set on an exemplar, as people set it. */
export interface DialWords {
  readonly name: string;
  /** What its number counts; undefined where its name says so, or where it is a share of 1. */
  readonly unit?: string;
  /** Values of a dial that takes words. */
  readonly words?: readonly string[];
}

const LEG = '% of a leg';
const DEGREES = 'degrees';
const EACH_WAY = 'degrees each way';
const FRAMES = 'frames';
/** Times of a gait are those of a cycle of 24 frames, however long its own is. */
const OF_24 = 'frames of 24';

/** Dials by their name; one that means something else on one exemplar stands under that one's name and its own. */
const DIALS: Readonly<Record<string, DialWords>> = {
  length: { name: 'length', unit: FRAMES },
  fps: { name: 'frames a second' },
  firstFrame: { name: 'first frame' },
  loop: { name: 'loop', words: ['repeat', 'follow'] },
  stride: { name: 'step length', unit: LEG },
  bob: { name: 'hips up and down', unit: LEG },
  bobDelay: { name: 'down after contact', unit: OF_24 },
  shift: { name: 'hips to the side', unit: LEG },
  turn: { name: 'turn of the hips', unit: EACH_WAY },
  tilt: { name: 'tilt of the hips', unit: DEGREES },
  counter: { name: 'turn of the chest', unit: EACH_WAY },
  counterDelay: { name: 'delay of the chest', unit: OF_24 },
  armDelay: { name: 'delay of the arm', unit: OF_24 },
  foreArmDelay: { name: 'delay of the forearm', unit: OF_24 },
  handDelay: { name: 'delay of the hand', unit: OF_24 },
  arm: { name: 'swing of the arms', unit: EACH_WAY },
  steady: { name: 'steady head', unit: 'of 1' },
  lean: { name: 'lean', unit: DEGREES },
  elbow: { name: 'bend of the elbow', unit: DEGREES },
  cycles: { name: 'cycles' },
  travel: { name: 'travel', unit: 'of 1' },
  step: { name: 'time of a step', unit: FRAMES },
  rise: { name: 'rise', unit: LEG },
  'steps.rise': { name: 'height of a step', unit: LEG },
  stand: { name: 'standing before and after', unit: FRAMES },
  distance: { name: 'distance', unit: LEG },
  drop: { name: 'drop', unit: LEG },
  crouch: { name: 'crouch', unit: LEG },
  squash: { name: 'squash on landing', unit: LEG },
  takeoff: { name: 'take-off at', unit: FRAMES },
  jumps: { name: 'jumps' },
  looks: { name: 'looks' },
  lookFrames: { name: 'a look lasts', unit: FRAMES },
  anticipation: { name: 'anticipation', unit: LEG },
  'lean.anticipation': { name: 'anticipation', unit: DEGREES },
  accent: { name: 'accent', unit: LEG },
  accentFrames: { name: 'the accent lasts', unit: FRAMES },
  'turn.turn': { name: 'turn of the head', unit: EACH_WAY },
  turnFrames: { name: 'a turn takes', unit: FRAMES },
  holdFrames: { name: 'a hold lasts', unit: FRAMES },
  dip: { name: 'dip of the chin', unit: DEGREES },
  drift: { name: 'drift of the hold', unit: '% of the turn' },
  swing: { name: 'swing of the mast', unit: DEGREES },
  pennants: { name: 'pennants' },
  delay: { name: 'delay of each joint', unit: FRAMES },
  gain: { name: 'swing of each joint', unit: 'of the one before' },
  damping: { name: 'damping', unit: 'of 1' },
  period: { name: 'a swing takes', unit: FRAMES },
  settle: { name: 'settles to', unit: '% of the lean' },
  breaths: { name: 'breaths' },
  ratio: { name: 'in against out', unit: 'times' },
  depth: { name: 'depth of a breath', unit: DEGREES },
  sway: { name: 'sway', unit: 'cm each way' },
};

/** How a dial of an exemplar is called, and what it counts; of one that has no words its own name. */
export const dialWords = (exemplar: string, dial: string): DialWords =>
  DIALS[`${exemplar}.${dial}`] ?? DIALS[dial] ?? { name: dial };
