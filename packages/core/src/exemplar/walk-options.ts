import type { Loop } from '../motion/loop.ts';

/** How the walk is made. Frames are frames, lengths percent of leg length, angles degrees. */
export interface WalkOptions {
  /** Frames of a cycle (two steps). */
  readonly length: number;
  readonly fps: number;
  /** Label of the first frame. */
  readonly firstFrame: number;
  /** `repeat`: one frame more than the cycle, equal to the first. `follow`: the cycle's frames only. */
  readonly loop: Extract<Loop, 'repeat' | 'follow'>;
  /** Distance of the feet at contact. */
  readonly stride: number;
  /** Highest minus lowest hips. */
  readonly bob: number;
  /** From a contact to the lowest hips after it, in frames of a 24-frame cycle. */
  readonly bobDelay: number;
  /** How far the hips move over each carrying foot. */
  readonly shift: number;
  /** Turn of the hips with the leading leg, each way. */
  readonly turn: number;
  /** Drop of the hip on the free side. */
  readonly tilt: number;
  /** Turn of the chest against the hips, each way. */
  readonly counter: number;
  /** Delays behind the legs, in frames of a 24-frame cycle: the chest; then each part behind its parent. */
  readonly counterDelay: number;
  readonly armDelay: number;
  readonly foreArmDelay: number;
  readonly handDelay: number;
  /** Swing of the upper arm, each way. */
  readonly arm: number;
  /** How much of the chest's motion the head does not follow: 0 carried along, 1 still. */
  readonly steady: number;
  /** Lean of the trunk forward. */
  readonly lean: number;
  /** Bend of the elbow about which the forearm swings. */
  readonly elbow: number;
  /** How many times the cycle is there. */
  readonly cycles: number;
  /** 0: on the spot; 1: it travels as fast as its planted foot goes back. */
  readonly travel: number;
}

/** A natural walk: contact 1, down 4, passing 7, up 10, contact 13, then mirrored, 25 = 1 (common practice of the trade). */
export const WALK_DEFAULTS: WalkOptions = Object.freeze({
  length: 24,
  fps: 24,
  firstFrame: 1,
  loop: 'repeat',
  stride: 74,
  bob: 4.5,
  bobDelay: 3,
  shift: 3,
  turn: 6,
  tilt: 4,
  counter: 7,
  counterDelay: 1,
  armDelay: 2,
  foreArmDelay: 1,
  handDelay: 1,
  arm: 24,
  steady: 0.85,
  lean: 4,
  elbow: 17,
  cycles: 1,
  travel: 0,
});

/** A run: a cycle in 20, lowest just after the foot takes the weight, highest in the air, bent arms, more lean (common practice). */
export const RUN_DEFAULTS: WalkOptions = Object.freeze({
  ...WALK_DEFAULTS,
  length: 20,
  stride: 118,
  bob: 8,
  bobDelay: 4,
  shift: 1.2,
  turn: 9,
  tilt: 3,
  counter: 11,
  arm: 34,
  armDelay: 0.5,
  steady: 0.85,
  lean: 11,
  elbow: 74,
});

/** What can be wrong with a walk, each with its size. 0, or left out, is not wrong at all. */
export interface WalkFaults {
  /** Each planted foot slips forward by so many %L between its flat and its heel's rise. */
  readonly slide?: number;
  /** Each foot sinks so many %L through the ground as it takes the weight. */
  readonly depth?: number;
  /** 1: the hips are lowest on the contact instead of after it; between 0 and 1 part of the way. */
  readonly lowOnContact?: number;
  /** The trunk has turned by so many degrees when the cycle ends, and jumps back. */
  readonly seam?: number;
  /** 1: the first pose is there once more at the end than the loop habit has it. */
  readonly doubledFrame?: number;
  /** The second step's hips are so many %L lower: its height was not copied. */
  readonly halfHeight?: number;
  /** 1: both arms swing forward together, each the other's mirror. */
  readonly twinArms?: number;
  /** 1: each arm swings with the leg of its own side. */
  readonly sameSideArms?: number;
  /** 1: chest, arms, hands and bag move with no delay. */
  readonly noDelay?: number;
  /** 1: each knee snaps straight for one frame before its contact. */
  readonly kneePop?: number;
  /** The right forearm is off by so many degrees for one frame. */
  readonly pop?: number;
  /** So many %L more up and down. */
  readonly bigBob?: number;
  /** The trunk leans so many degrees more forward. */
  readonly leansFar?: number;
  /** The head hangs by so many degrees. */
  readonly headHangs?: number;
  /** The head nods by so many degrees at every step. */
  readonly headNods?: number;
  /** The head is tilted to the left by so many degrees. */
  readonly headTilts?: number;
  /** The head sways by so many degrees to each side. */
  readonly headSways?: number;
  /** The hands flop by so many degrees to and fro, twice a cycle. */
  readonly handsFlop?: number;
  /** The body is so many %L farther to the left when the loop ends. */
  readonly drifts?: number;
  /** The arms swing so many times farther. */
  readonly bigArms?: number;
  /** 1: the left arm never moves. */
  readonly frozenArm?: number;
  /** The arms come so many frames of a 24-frame cycle later. */
  readonly lateArms?: number;
  /** 1: the feet land flat, toes not up at all. */
  readonly flatFeet?: number;
  /** The head shakes by so many degrees from frame to frame. */
  readonly headShakes?: number;
  /** Every other step is longer, by so much of a step. */
  readonly stutters?: number;
  /** 1: the whole upper body halts at each contact. */
  readonly halts?: number;
  /** The hips tilt by so many degrees more to each side. */
  readonly tilts?: number;
  /** The hips go so many %L farther to each side. */
  readonly sways?: number;
  /** The hips are carried so many %L lower: the knees stay bent. */
  readonly bentKnees?: number;
  /** Both feet land so many %L farther back under the body. */
  readonly shortReach?: number;
  /** Of a run. 1: each foot stays on the ground until the other lands, so that there is no pose in the air. */
  readonly noFlight?: number;
}

export const WALK_FAULTS = [
  'slide',
  'depth',
  'lowOnContact',
  'seam',
  'doubledFrame',
  'halfHeight',
  'twinArms',
  'sameSideArms',
  'noDelay',
  'kneePop',
  'pop',
  'bigBob',
  'leansFar',
  'headHangs',
  'headNods',
  'headTilts',
  'headSways',
  'handsFlop',
  'drifts',
  'bigArms',
  'frozenArm',
  'lateArms',
  'flatFeet',
  'headShakes',
  'stutters',
  'halts',
  'tilts',
  'sways',
  'bentKnees',
  'shortReach',
] as const satisfies readonly (keyof WalkFaults)[];

/** Faults that only a walk shows. */
const OF_A_WALK: readonly string[] = [
  'lowOnContact',
  'kneePop',
  'flatFeet',
  'lateArms',
  'tilts',
  'sways',
  'bentKnees',
  'shortReach',
];

export const RUN_FAULTS = ['noFlight', ...WALK_FAULTS.filter((fault) => !OF_A_WALK.includes(fault))] as const;
