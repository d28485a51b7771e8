/** A fault, how it must be read, and what else it may move. */
export interface Expected {
  /** The reading that must be named first, of the part if it says so. */
  readonly reading: string;
  readonly part?: string;
  /** Sizes it is tried at: the first must be found, and what the reading must become at each. */
  readonly at: readonly (readonly [size: number, value: number | string | boolean])[];
  readonly within?: number;
  /** Other gauged readings that follow from it by the nature of the thing. */
  readonly with?: readonly string[];
}

/** What can be wrong with the body of a walk and of a run alike, by what the readings become at the sizes dialled in. */
const bodyFaults = (size: {
  readonly lean: number;
  readonly hang: number;
  readonly arms: number;
  readonly stutter: number;
}): Readonly<Record<string, Expected>> => ({
  leansFar: {
    reading: 'posture.lean',
    at: [[40, size.lean]],
    within: 3,
    with: ['posture.shrug', 'posture.arm', 'size.side', 'size.spread', 'gait.counter', 'size.tilt'],
  },
  headHangs: { reading: 'posture.head', at: [[35, size.hang]], within: 1, with: ['posture.neck'] },
  headNods: { reading: 'size.head', at: [[10, 10.2]], within: 0.3, with: ['nod.late'] },
  headTilts: {
    reading: 'posture.tilt',
    at: [[22, 22]],
    within: 0.5,
    with: ['posture.aside', 'mirror.off', 'posture.head'],
  },
  headSways: {
    reading: 'size.side',
    part: 'head',
    at: [[12, 24]],
    within: 1.5,
    with: ['mirror.off', 'posture.tilt', 'nod.late'],
  },
  handsFlop: {
    reading: 'size.wrist',
    // To and fro, on top of what a loose hand does already.
    at: [[42, 98]],
    within: 3,
    with: ['mirror.off', 'wrist.bend', 'lag.together', 'twin.arms', 'arc.off'],
  },
  drifts: { reading: 'cycle.drift', at: [[12, 12]], within: 0.1, with: ['gait.slide', 'gait.shift', 'size.shift'] },
  bigArms: { reading: 'size.arm', at: [[1.2, size.arms]], within: 1, with: ['size.spread', 'elbow.most'] },
  frozenArm: {
    reading: 'still.part',
    at: [[1, 'arm.L']],
    with: [
      'mirror.off',
      'size.arm',
      'size.wrist',
      'gait.opposition',
      'lag.together',
      'elbow.least',
      'elbow.most',
      'twin.arms',
      'arm.late',
      'size.spread',
    ],
  },
  headShakes: {
    reading: 'shake.size',
    at: [[1.5, 1.5]],
    within: 0.02,
    with: ['arc.off', 'posture.aside', 'size.turn', 'mirror.off', 'cycle.seam', 'cycle.jerk', 'nod.late'],
  },
  stutters: {
    reading: 'stutter.frames',
    at: [[0.4, size.stutter]],
    within: 1,
    with: [
      'gait.slide',
      'gait.even',
      'shake.size',
      'mirror.off',
      'mirror.height',
      'gait.lowAfter',
      'foot.land',
      'foot.flat',
      'foot.leave',
      'cycle.seam',
      'cycle.jerk',
      'arm.late',
      'nod.late',
      'arc.off',
      'arc.pop',
      'twin.arms',
      'knee.contact',
      'knee.down',
      'knee.passing',
      'knee.up',
      'gait.flight',
      'gait.step',
      'lag.together',
      'foot.clear',
      'step.reach',
    ],
  },
  halts: {
    reading: 'halt.share',
    at: [[1, 50]],
    within: 2,
    with: [
      'gait.counter',
      'gait.opposition',
      'arm.late',
      'nod.late',
      'arc.off',
      'lag.together',
      'shake.size',
      'cycle.seam',
      'cycle.jerk',
    ],
  },
});

/** By exemplar and fault. */
export const FAULTS: Readonly<Record<string, Readonly<Record<string, Expected>>>> = {
  walk: {
    ...bodyFaults({ lean: 24, hang: 37.3, arms: 106.7, stutter: 23 }),
    lateArms: {
      reading: 'arm.late',
      at: [
        [4, 2.9],
        [3, 2],
      ],
      within: 0.4,
      with: ['gait.opposition'],
    },
    // A tilt or a way to each side of the dial and of the walk’s own, twice: from one side to the other.
    tilts: {
      reading: 'size.tilt',
      part: 'pelvis',
      at: [
        [12, 32],
        [16, 40],
      ],
      within: 0.1,
      with: ['size.side'],
    },
    sways: {
      reading: 'size.shift',
      at: [
        [8, 21.9],
        [10, 25.9],
      ],
      within: 0.2,
    },
    bentKnees: { reading: 'knee.up', at: [[10, 57.9]], within: 1, with: ['knee.contact', 'knee.passing', 'knee.down'] },
    shortReach: { reading: 'step.reach', at: [[14, 0.41]], within: 0.05, with: ['knee.contact', 'knee.up'] },
    flatFeet: { reading: 'foot.land', at: [[1, 0]], within: 0.1, with: ['foot.flat', 'knee.contact', 'step.reach'] },
    slide: {
      reading: 'gait.slide',
      at: [
        [5, 5.2],
        [3, 3.2],
      ],
      within: 0.2,
      with: ['step.reach'],
    },
    depth: {
      reading: 'gait.depth',
      at: [
        [2.5, 2.5],
        [4, 4],
      ],
      within: 0.05,
      with: ['foot.land', 'foot.flat', 'knee.down', 'step.reach', 'gait.lowAfter', 'gait.shift'],
    },
    lowOnContact: {
      reading: 'gait.lowAfter',
      at: [
        [1, 0],
        [0.5, 1.5],
      ],
      within: 1,
      with: ['nod.late', 'knee.contact', 'knee.down', 'knee.passing', 'knee.up'],
    },
    seam: {
      reading: 'cycle.seam',
      at: [[45, 6.4]],
      within: 0.5,
      with: [
        'cycle.jerk',
        'gait.opposition',
        'posture.turn',
        'size.flap',
        'posture.aside',
        'size.turn',
        'nod.late',
        'mirror.off',
        'arc.off',
        'gait.counter',
      ],
    },
    doubledFrame: {
      reading: 'cycle.seam',
      at: [[1, 0]],
      with: ['exposure.held', 'mirror.off', 'mirror.height', 'gait.slide', 'arc.off'],
    },
    halfHeight: {
      reading: 'mirror.height',
      at: [
        [4, 4],
        [2, 2],
      ],
      within: 0.05,
      with: ['nod.late', 'knee.down', 'knee.up', 'mirror.off', 'gait.bob', 'gait.lowAfter'],
    },
    twinArms: { reading: 'twin.arms', at: [[1, 100]], with: ['gait.opposition', 'mirror.off'] },
    sameSideArms: { reading: 'gait.opposition', at: [[1, 0.87]], within: 0.05 },
    noDelay: { reading: 'lag.together', part: 'arm.L', at: [[1, true]], with: ['nod.late', 'gait.opposition'] },
    kneePop: { reading: 'gait.knee', at: [[1, 1]], with: ['cycle.jerk', 'arc.pop'] },
    pop: {
      reading: 'arc.pop',
      part: 'foreArm.R',
      at: [
        [40, 1],
        [26, 1],
      ],
      with: ['elbow.most', 'arc.off', 'mirror.off', 'twin.arms'],
    },
    bigBob: {
      reading: 'gait.bob',
      at: [
        [8, 12.5],
        [4, 8.5],
      ],
      within: 0.05,
      with: ['knee.contact', 'knee.down', 'knee.up'],
    },
  },
  run: {
    ...bodyFaults({ lean: 30, hang: 38.4, arms: 148.4, stutter: 19 }),
    noFlight: {
      reading: 'gait.flight',
      at: [[1, 0]],
      with: ['cycle.jerk', 'foot.leave', 'knee.contact', 'knee.down', 'gait.slide', 'gait.shift', 'gait.opposition'],
    },
    slide: {
      reading: 'gait.slide',
      at: [
        [5, 5],
        [3.5, 3.5],
      ],
      within: 0.2,
      with: ['gait.opposition'],
    },
    depth: {
      reading: 'gait.depth',
      at: [
        [2.5, 2.5],
        [2.2, 2.2],
      ],
      within: 0.05,
      with: ['foot.flat', 'knee.contact', 'gait.flight', 'gait.opposition', 'gait.pelvis'],
    },
    seam: {
      reading: 'cycle.seam',
      at: [[45, 2.9]],
      within: 0.3,
      with: [
        'cycle.jerk',
        'posture.side',
        'posture.turn',
        'size.side',
        'size.flap',
        'posture.aside',
        'size.turn',
        'size.spread',
        'mirror.off',
        'arc.off',
        'gait.counter',
        'gait.opposition',
      ],
    },
    doubledFrame: {
      reading: 'cycle.seam',
      at: [[1, 0]],
      with: ['exposure.held', 'mirror.off', 'mirror.height', 'gait.slide', 'gait.flight', 'arc.off', 'gait.opposition'],
    },
    halfHeight: {
      reading: 'mirror.height',
      at: [
        [4, 4],
        [2, 2],
      ],
      within: 0.05,
      with: ['mirror.off', 'gait.bob'],
    },
    twinArms: {
      reading: 'twin.arms',
      at: [[1, 100]],
      with: ['size.arm', 'size.spread', 'gait.opposition', 'mirror.off'],
    },
    sameSideArms: { reading: 'gait.opposition', at: [[1, 0.77]], within: 0.05, with: ['size.spread'] },
    noDelay: { reading: 'lag.together', part: 'arm.L', at: [[1, true]], with: ['gait.opposition', 'twin.arms'] },
    pop: { reading: 'arc.pop', part: 'foreArm.R', at: [[40, 1]], with: ['elbow.most', 'arc.off', 'mirror.off'] },
    bigBob: {
      reading: 'gait.bob',
      at: [
        [9, 16.6],
        [8, 15.6],
      ],
      within: 0.1,
      with: ['cycle.jerk', 'knee.down'],
    },
  },
  steps: {
    slide: {
      reading: 'gait.slide',
      at: [
        [5, 5.1],
        [3, 3.1],
      ],
      within: 0.2,
      with: ['travel.fit'],
    },
    bigBob: {
      reading: 'gait.bob',
      at: [
        [8, 13.3],
        [6, 11.3],
      ],
      within: 0.3,
      with: ['mirror.height'],
    },
    wrongFoot: { reading: 'gait.shift', at: [[1, -0.96]], within: 0.05, with: ['gait.slide'] },
    pop: {
      reading: 'arc.pop',
      part: 'foreArm.R',
      at: [[40, 1]],
      with: ['halt.share', 'elbow.most', 'arc.off', 'mirror.off', 'gait.opposition', 'lag.together'],
    },
  },
  jump: {
    floats: {
      reading: 'jump.gravity',
      at: [
        [0.5, 0.5],
        [0.3, 0.7],
      ],
      within: 0.01,
      with: ['hold.kind'],
    },
    hang: { reading: 'jump.parabola', at: [[0.7, 0.942]], within: 0.01, with: ['jump.gravity'] },
    noCrouch: { reading: 'jump.crouch', at: [[1, 0.2]], within: 0.5 },
    noSquash: { reading: 'jump.squash', at: [[1, 1.8]], within: 0.5, with: ['jump.settle'] },
    slowSettle: { reading: 'jump.settle', at: [[1, 16]], within: 1, with: ['hold.kind', 'jump.squash'] },
    pop: { reading: 'arc.pop', part: 'foreArm.R', at: [[40, 1]] },
    noDrag: { reading: 'lag.together', part: 'chain:strap', at: [[1, true]] },
    deadHold: { reading: 'hold.kind', at: [[1, 'dead']], with: ['jump.settle'] },
  },
  take: {
    shortLook: {
      reading: 'look.frames',
      at: [
        [9, 2],
        [6, 5],
      ],
      within: 1,
      with: ['hold.kind', 'twin.arms', 'starts.together'],
    },
    noAnticipation: {
      reading: 'take.anticipation',
      at: [[1, 0.1]],
      within: 0.1,
      with: ['take.accentHold', 'twin.arms', 'hold.kind', 'starts.together'],
    },
    noAccent: {
      reading: 'take.accent',
      at: [[1, 0]],
      with: ['take.accentHold', 'twin.arms', 'hold.kind', 'starts.together'],
    },
    shortAccent: {
      reading: 'take.accentHold',
      at: [
        [10, 4],
        [6, 8],
      ],
      within: 1,
      with: ['hold.kind', 'twin.arms'],
    },
    deadHold: { reading: 'hold.kind', at: [[1, 'dead']], with: ['twin.arms'] },
    allTogether: { reading: 'starts.together', at: [[1, 1]], with: ['twin.arms', 'hold.kind'] },
    twinArms: { reading: 'twin.arms', at: [[1, 100]] },
    pop: { reading: 'arc.pop', part: 'foreArm.R', at: [[40, 1]], with: ['hold.kind'] },
  },
  turn: {
    deadHold: { reading: 'hold.kind', part: 'head', at: [[1, 'dead']] },
    creep: {
      reading: 'hold.kind',
      part: 'head',
      at: [
        [14, 'creeping'],
        [8, 'creeping'],
      ],
    },
    shortHold: {
      reading: 'hold.frames',
      part: 'head',
      at: [
        [8, 6],
        [7, 7],
      ],
      within: 1,
    },
    noDip: { reading: 'arc.rise', part: 'head', at: [[1, -1.7]], within: 1 },
    slowTurn: {
      reading: 'move.frames',
      part: 'head',
      at: [
        [7, 15],
        [6, 14],
      ],
      within: 1,
      with: ['hold.frames', 'arc.rise'],
    },
    pop: {
      reading: 'arc.pop',
      part: 'neck',
      at: [[40, 1]],
      with: ['hold.kind', 'hold.frames', 'move.frames', 'ease.in', 'overshoot.depth', 'anticipation.depth', 'arc.rise'],
    },
  },
  overlap: {
    noDelay: { reading: 'lag.together', part: 'chain:mast', at: [[1, true]], with: ['lag.frames', 'overshoot.depth'] },
    lateChain: {
      reading: 'lag.frames',
      part: 'chain:mast',
      at: [
        [4, 6],
        [3, 5],
      ],
      within: 0.05,
      with: ['overshoot.depth'],
    },
    stopsDead: { reading: 'overshoot.depth', part: 'chain:mast', at: [[1, 0]] },
    stray: {
      reading: 'stray.motion',
      part: 'master',
      at: [
        [5, 5],
        [2, 2],
      ],
      within: 0.05,
    },
    pop: { reading: 'arc.pop', part: 'pennant2', at: [[40, 1]], with: ['lag.frames', 'overshoot.depth'] },
  },
  lean: {
    noDelay: {
      reading: 'lag.together',
      part: 'spine',
      at: [[1, true]],
      with: ['lag.frames', 'anticipation.depth', 'overshoot.depth'],
    },
    noAnticipation: {
      reading: 'anticipation.depth',
      part: 'spine',
      at: [[1, 0]],
      within: 0.5,
      with: ['overshoot.depth'],
    },
    noOvershoot: { reading: 'overshoot.depth', part: 'spine', at: [[1, 1]], within: 1, with: ['anticipation.depth'] },
    deadHold: { reading: 'hold.kind', part: 'spine', at: [[1, 'dead']], with: ['overshoot.depth'] },
    creep: { reading: 'hold.kind', part: 'spine', at: [[14, 'creeping']], with: ['overshoot.depth'] },
  },
  idle: {
    panting: {
      reading: 'breath.cycle',
      at: [
        [3, 16],
        [2, 19.2],
      ],
      within: 0.5,
    },
    gasping: { reading: 'breath.ratio', at: [[1, 0.77]], within: 0.02 },
    freeze: { reading: 'hold.kind', at: [[14, 'dead']], with: ['breath.ratio'] },
    seam: { reading: 'cycle.seam', at: [[45, 96]], within: 10, with: ['breath.size', 'breath.ratio'] },
    doubledFrame: { reading: 'cycle.seam', at: [[1, 0]], with: ['exposure.held', 'breath.ratio'] },
    pop: { reading: 'arc.pop', part: 'foreArm.R', at: [[40, 1]], with: ['hold.kind'] },
  },
};
