import type { FaceKeys } from '@ypsigraph/core/exemplar/character-face';
import { WHOLE } from './clips.ts';
import { answered, open, type RevisionSeed } from './stories.ts';

/** An exercise that one student of the Thursday loft has begun ahead of the others. */
export interface Ahead {
  /** Title of the brief. */
  readonly exercise: string;
  /** Name of the exemplar it is made from. */
  readonly exemplar: string;
  readonly student: string;
  readonly story: readonly RevisionSeed[];
}

/** The rest of the course, set for the Thursday loft, and what the quick ones have handed in. What is wrong with each is known. */
export const AHEAD: readonly Ahead[] = [
  {
    exercise: 'Last ferry',
    exemplar: 'run',
    student: 'Mateo Villarreal',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 16,
        faults: { noFlight: 1 },
        note: 'Faster than my walk, but it doesn’t feel like a run yet.',
      },
    ],
  },
  {
    exercise: 'Quay to barge',
    exemplar: 'jump',
    student: 'Oisín Brannagh',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 14,
        faults: { floats: 0.45 },
        note: 'Gave him more time in the air.',
      },
    ],
  },
  {
    exercise: 'Foghorn',
    exemplar: 'take',
    student: 'Nilufar Rashidova',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 11,
        faults: { shortLook: 9 },
        note: 'All three looks are in.',
      },
    ],
  },
  {
    exercise: 'Two voices',
    exemplar: 'turn',
    student: 'Priya Ramanathan',
    story: [
      {
        stage: 'breakdowns',
        state: 'sent back',
        hoursAgo: 120,
        faults: { deadHold: 1, noDip: 1 },
        words: 'The turns are on a ruler, and between them the pilot is a photograph.',
        asked: 'A dip in both turns, and a hold that lives.',
        marks: [
          answered(
            open('arc', [9, 18], 'head', 'The chin dips in the middle of a turn.', { finding: 'arc.rise' }),
            'Dipped both.',
          ),
          answered(
            open('moving hold', [18, 32], 'head', 'Nothing moves here. A degree of drift keeps it alive.', {
              wanted: { from: 18, to: 32, drift: 3 },
            }),
            'Added a little drift?',
          ),
        ],
      },
      {
        stage: 'smoothing',
        state: 'sent back',
        hoursAgo: 70,
        faults: { deadHold: 1 },
        words: 'The dips are lovely. The hold is still dead: the key at its end is the key at its start.',
        asked: 'Only the hold.',
        marks: [
          open('moving hold', [18, 32], 'head', 'Still nothing between 18 and 32.', {
            wanted: { from: 18, to: 32, drift: 3 },
          }),
        ],
      },
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 10,
        set: { dip: 13 },
        faults: { deadHold: 1 },
        note: 'The hold drifts now, I hope.',
      },
    ],
  },
  {
    exercise: 'Signal halyard',
    exemplar: 'overlap',
    student: 'Ulugbek Saidov',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 8,
        faults: { noDelay: 1 },
        note: 'Copied the mast’s keys on to the rope.',
      },
    ],
  },
  {
    exercise: 'Cold morning',
    exemplar: 'idle',
    student: 'Sunniva Dahlby',
    story: [{ stage: 'smoothing', state: 'handed in', hoursAgo: 6, faults: { panting: 3 }, note: 'He breathes.' }],
  },
];

/** Two blinks: one before the horn is understood, one while the keeper calms down. */
const BLINKS: NonNullable<FaceKeys['blink.L']> = [
  ...([
    [11, 0],
    [14, 1],
    [17, 1],
    [20, 0],
  ] as const),
  ...([
    [58, 0],
    [61, 1],
    [64, 1],
    [67, 0],
  ] as const),
];

/** What was handed in otherwise: pictures drawn in pencil, cut out of paper, with a camera that goes along; a character and a puppet with their own keys. */
export const DRAWN: readonly Ahead[] = [
  {
    exercise: 'Last ferry',
    exemplar: 'run',
    student: 'Priya Ramanathan',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 10,
        faults: { headHangs: 40 },
        puppet: {
          keys: [0, 3, 7, 10, 13, 17, 20],
          // The forearm was forgotten where the other foot lands.
          otherwise: { 'foreArm.R': [0, 3, 7, 13, 17, 20] },
        },
        note: 'Cut in layers, every joint a pin.',
      },
    ],
  },
  {
    exercise: 'Foghorn',
    exemplar: 'take',
    student: 'Mateo Villarreal',
    story: [
      {
        stage: 'breakdowns',
        state: 'handed in',
        hoursAgo: 7,
        character: {
          keys: [0, 9, 15, 21, 27, 33, 37, 41, 45, 51, 57, 64, 71],
          // The hand was forgotten in two poses, and the head has a key that belongs to none.
          otherwise: {
            'hand.L': [0, 9, 15, 27, 33, 37, 45, 51, 57, 64, 71],
            head: [0, 9, 15, 21, 27, 30, 33, 37, 41, 45, 51, 57, 64, 71],
          },
          lamp: { hand: 'hand.R', slides: 0.11 },
          face: {
            'blink.L': BLINKS,
            'blink.R': BLINKS,
            'mouth open': [
              [33, 0],
              [37, 1],
              [51, 0.9],
              [57, 0.15],
            ],
          },
        },
        note: 'My own keeper, with a body this time, and a lamp in his hand. Keyed, not splined yet.',
      },
    ],
  },
  {
    exercise: 'Mail sack',
    exemplar: 'sack',
    student: 'Priya Ramanathan',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 13,
        note: 'Drawn straight ahead. It felt heavier with a big squash.',
        clip: {
          sack: { keeps: 1.35 },
          format: 'mp4',
          points: ['top', 'bottom', 'left', 'right'],
          shapes: [['top', 'bottom', 'left', 'right']],
        },
      },
    ],
  },
  {
    exercise: 'Last ferry',
    exemplar: 'run',
    student: 'Sunniva Dahlby',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 12,
        note: 'Pencil test, the camera goes along the quay.',
        clip: {
          figure: { exemplar: 'run', on: 2, pan: 12, set: {}, leg: 165, width: 960, height: 540 },
          format: 'webm',
          grain: 3,
          points: ['hips', 'head', 'hat tip', 'bollard two'],
          still: ['bollard two'],
        },
      },
    ],
  },
  {
    exercise: 'Last ferry',
    exemplar: 'run',
    student: 'Nilufar Rashidova',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 9,
        note: 'A paper puppet under my phone. I moved it for every frame.',
        clip: {
          figure: { exemplar: 'run', cutOut: true, faults: { noFlight: 1 }, leg: 165, width: 960, height: 540 },
          format: 'mp4',
          grain: 2,
        },
      },
    ],
  },
  {
    exercise: 'Gangplank',
    exemplar: 'walk',
    student: 'Oisín Brannagh',
    story: [
      {
        stage: 'blocking',
        state: 'handed in',
        hoursAgo: 7,
        note: 'First I tried his walk on paper, on the flat. The steps are my own, on our stairs.',
        clip: {
          figure: { exemplar: 'walk', faults: { slide: 6 }, leg: 165, width: 960, height: 540 },
          format: 'webm',
          // Each is heard three frames after the foot has come down.
          steps: [3, 15],
          points: WHOLE,
        },
      },
    ],
  },
  {
    exercise: 'Quay to barge',
    exemplar: 'jump',
    student: 'Ulugbek Saidov',
    story: [
      {
        stage: 'smoothing',
        state: 'handed in',
        hoursAgo: 6,
        note: 'The motion, and the drawing test that I made it from.',
        faults: { floats: 0.4 },
        beside: {
          figure: { exemplar: 'jump', on: 2, leg: 150, width: 960, height: 540 },
          format: 'webm',
          steps: [36],
          grain: 2,
          firstLabel: 1,
        },
      },
    ],
  },
];
