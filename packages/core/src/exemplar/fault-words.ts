/** A fault that can be dialled into an exemplar, as people choose it. */
export interface FaultWords {
  /** What is wrong then. */
  readonly say: string;
  /** A size at which it is seen. */
  readonly usual: number;
  /** What its size counts; undefined of a fault that is there or not: 1, or in part. */
  readonly unit?: string;
}

const LEG = '% of a leg';

/** Every fault of every exemplar by its name. */
export const FAULT_WORDS: Readonly<Record<string, FaultWords>> = {
  slide: { say: 'planted feet slide', usual: 6, unit: LEG },
  depth: { say: 'feet sink through the ground', usual: 4, unit: LEG },
  lowOnContact: { say: 'the body is lowest on the contact', usual: 1 },
  seam: { say: 'the trunk jumps where the loop closes', usual: 12, unit: 'degrees' },
  doubledFrame: { say: 'the first pose is there twice', usual: 1 },
  halfHeight: { say: 'the second step’s hips are lower', usual: 4, unit: LEG },
  twinArms: { say: 'both arms do the same', usual: 1 },
  sameSideArms: { say: 'arms swing with the leg of their side', usual: 1 },
  noDelay: { say: 'nothing drags behind', usual: 1 },
  kneePop: { say: 'knees snap straight', usual: 1 },
  pop: { say: 'one frame is off its arc', usual: 18, unit: 'degrees' },
  bigBob: { say: 'the body goes up and down too far', usual: 8, unit: LEG },
  leansFar: { say: 'the trunk leans too far', usual: 40, unit: 'degrees' },
  headHangs: { say: 'the head hangs', usual: 35, unit: 'degrees' },
  headNods: { say: 'the head nods at every step', usual: 10, unit: 'degrees' },
  headTilts: { say: 'the head is tilted', usual: 22, unit: 'degrees' },
  headSways: { say: 'the head sways from side to side', usual: 12, unit: 'degrees' },
  handsFlop: { say: 'the hands flop', usual: 42, unit: 'degrees' },
  drifts: { say: 'the loop drifts aside', usual: 12, unit: LEG },
  bigArms: { say: 'the arms swing too far', usual: 1.2, unit: 'times more' },
  frozenArm: { say: 'one arm never moves', usual: 1 },
  lateArms: { say: 'the arms come late', usual: 4, unit: 'frames of 24' },
  flatFeet: { say: 'the feet land flat', usual: 1 },
  headShakes: { say: 'the head shakes', usual: 1.5, unit: 'degrees' },
  stutters: { say: 'steps are long and short in turn', usual: 0.4, unit: 'of a step' },
  halts: { say: 'the upper body halts at each contact', usual: 1 },
  tilts: { say: 'the hips tilt too far', usual: 12, unit: 'degrees' },
  sways: { say: 'the hips sway from side to side', usual: 8, unit: LEG },
  bentKnees: { say: 'the knees never straighten', usual: 10, unit: LEG },
  shortReach: { say: 'the feet land under the body', usual: 14, unit: LEG },
  noFlight: { say: 'no pose in the air', usual: 1 },
  floats: { say: 'it floats: gravity is missing', usual: 0.5, unit: 'of gravity' },
  hang: { say: 'it hangs at the top', usual: 0.5 },
  noCrouch: { say: 'no crouch before take-off', usual: 1 },
  noSquash: { say: 'the knees don’t take the landing up', usual: 1 },
  slowSettle: { say: 'it settles late', usual: 1, unit: 'times longer' },
  noDrag: { say: 'strap and bag don’t drag', usual: 1 },
  deadHold: { say: 'the hold is dead', usual: 1 },
  shortLook: { say: 'the first look is too short', usual: 8, unit: 'frames' },
  noAnticipation: { say: 'no anticipation', usual: 1 },
  noAccent: { say: 'no stretch on the accent', usual: 1 },
  shortAccent: { say: 'the accent is too short', usual: 10, unit: 'frames' },
  allTogether: { say: 'every part starts at once', usual: 1 },
  creep: { say: 'the hold creeps', usual: 25, unit: '% of the move' },
  shortHold: { say: 'the hold is too short', usual: 9, unit: 'frames' },
  noDip: { say: 'the head turns on a straight line', usual: 1 },
  slowTurn: { say: 'the turns are slow', usual: 6, unit: 'frames' },
  lateChain: { say: 'each joint is too late', usual: 3, unit: 'frames' },
  stopsDead: { say: 'what drags stops dead', usual: 1 },
  stray: { say: 'the base of the rig is moved', usual: 4, unit: '% of half its height' },
  noOvershoot: { say: 'it stops dead at its end', usual: 1 },
  panting: { say: 'more breaths', usual: 4, unit: 'breaths' },
  gasping: { say: 'in is quicker than out', usual: 1 },
  freeze: { say: 'nothing moves for a while', usual: 12, unit: 'frames' },
  wrongFoot: { say: 'the hips shift over the wrong foot', usual: 1 },
};
