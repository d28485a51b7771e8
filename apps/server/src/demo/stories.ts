import type { ClipSeed } from './clips.ts';
import type { FaceKeys } from '@ypsigraph/core/exemplar/character-face';
import type { HeldLamp } from '@ypsigraph/core/exemplar/character-lamp';
import type { WalkOptions } from '@ypsigraph/core/exemplar/walk-options';
import type { MarkKind, MarkState, RevisionState, Stage } from '@ypsigraph/contract/vocabulary';

export interface MarkSeed {
  readonly kind: MarkKind;
  readonly frames: readonly [from: number, to: number];
  readonly point: string | null;
  readonly words: string;
  /** Id of the reading whose finding was taken. */
  readonly finding?: string;
  /** What is asked for, where it is not what the mark proposes. */
  readonly wanted?: object;
  /** Of a pose: the frame whose parts it should have. */
  readonly takes?: { readonly frame: number; readonly parts: readonly string[] };
  readonly state?: MarkState;
  readonly answer?: string;
}

/** Frames at which everything is keyed, 0 for the first, and joints that are keyed otherwise. */
interface KeysSeed {
  readonly keys: readonly number[];
  readonly otherwise?: Readonly<Record<string, readonly number[]>>;
}

export interface RevisionSeed {
  readonly stage: Stage;
  readonly state: RevisionState;
  /**
   * Hours before now at which it was handed in. The Monday loft's exercise was due between 90 and 54 hours ago, whatever the hour of
   * the day: first revisions outside that are surely in time, or surely late.
   */
  readonly hoursAgo: number;
  /** Of Night round: how the walk is made. */
  readonly walk?: Partial<WalkOptions>;
  /** Of another exercise: how its exemplar is made. */
  readonly set?: Readonly<Record<string, number>>;
  readonly faults?: Readonly<Record<string, number>>;
  /** Handed in as a clip that is drawn from it. */
  readonly clip?: ClipSeed;
  /** The clip that came with the motion, and the label at which it begins. */
  readonly beside?: ClipSeed & { readonly firstLabel: number };
  /** Handed in with a character, keyed so. */
  readonly character?: KeysSeed & { readonly face?: FaceKeys; readonly lamp?: HeldLamp };
  /** Handed in as a puppet of layers, keyed so. */
  readonly puppet?: KeysSeed;
  /** Poses held for so many frames. */
  readonly onHold?: number;
  readonly note?: string;
  readonly words?: string;
  readonly asked?: string;
  readonly marks?: readonly MarkSeed[];
}

export const open = (
  kind: MarkKind,
  frames: readonly [number, number],
  point: string | null,
  words: string,
  more: Pick<MarkSeed, 'finding' | 'wanted' | 'takes'> = {},
): MarkSeed => ({
  kind,
  frames,
  point,
  words,
  ...more,
});
export const answered = (mark: MarkSeed, answer: string): MarkSeed => ({ ...mark, state: 'answered', answer });
const cleared = (mark: MarkSeed, answer?: string): MarkSeed => ({
  ...mark,
  state: 'cleared',
  ...(answer && { answer }),
});

/** What each student has handed in for Night round, by name, oldest revision first. What is wrong with each is known. */
export const STORIES: Readonly<Record<string, readonly RevisionSeed[]>> = {
  'Amara Oyelaran': [
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 190,
      walk: { arm: 20, lean: 5 },
      faults: { slide: 6 },
      note: 'The feet took me longest. I think they hold now?',
      words: 'The weight is there. The feet are not: both of them skate once they are flat.',
      asked: 'Feet that stay where they land.',
      marks: [
        answered(
          open(
            'spacing',
            [4, 7],
            'foot.L',
            'The planted foot slips forward here. On the spot it must travel back by the same amount every frame.',
            { finding: 'gait.slide' },
          ),
          'Found it: I had eased the foot into the passing pose. It is linear now.',
        ),
        answered(
          open('spacing', [16, 19], 'foot.R', 'The same on the other side.', { finding: 'gait.slide' }),
          'Copied from the left once that was right.',
        ),
      ],
    },
    {
      stage: 'smoothing',
      state: 'handed in',
      hoursAgo: 30,
      walk: { arm: 20, lean: 5 },
      faults: { kneePop: 1 },
      note: 'Feet fixed. Something about the knees feels off but I can’t see what.',
    },
  ],
  'Bram Hoekstra': [
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 230,
      faults: { bigBob: 7 },
      words: 'A strong walk, but the body goes up and down like a cork.',
      asked: 'A third of this bob.',
      marks: [
        cleared(
          open('arc', [1, 25], 'hips', 'Far too much up and down. It reads as a march on springs.', {
            finding: 'gait.bob',
          }),
          'Took it right down.',
        ),
      ],
    },
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 120,
      walk: { bob: 0.4 },
      note: 'Bob is gone :)',
      words: 'And now there is none at all. He glides.',
      asked: 'Somewhere between the first and this.',
      marks: [
        answered(
          open('spacing', [1, 25], 'hips', 'No weight left: the body must drop after each contact.', {
            finding: 'gait.bob',
          }),
          'Aimed for the middle.',
        ),
      ],
    },
    {
      stage: 'polish',
      state: 'handed in',
      hoursAgo: 21,
      walk: { bob: 3.6, counterDelay: 2 },
      faults: { pop: 16 },
      note: 'In between now.',
    },
  ],
  'Chiyo Tanabe': [
    {
      stage: 'polish',
      state: 'signed off',
      hoursAgo: 210,
      walk: { armDelay: 2.5, counterDelay: 1.5, arm: 22 },
      words: 'Nothing to add. Watch the bag: that is what following means.',
    },
  ],
  'Dagny Solheim': [
    {
      stage: 'blocking',
      state: 'sent back',
      hoursAgo: 50,
      onHold: 3,
      note: 'Late, sorry. Held poses on threes.',
      words: 'The poses read at a glance. Go on to breakdowns.',
      asked: 'Breakdowns, then smoothing, in one go if you like.',
      marks: [
        cleared(open('timing', [1, 13], null, 'Both contacts are clear as silhouettes. Keep them when you smooth.')),
      ],
    },
    {
      stage: 'smoothing',
      state: 'handed in',
      hoursAgo: 9,
      faults: { lowOnContact: 1 },
      note: 'Smoothed it overnight.',
    },
  ],
  'Emeka Brightwater': [
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 100,
      faults: { twinArms: 1 },
      words: 'Legs and hips are good. The arms are one arm, twice.',
      asked: 'Arms against the legs.',
      marks: [
        open(
          'timing',
          [1, 13],
          'hand.R',
          'Both arms go forward together. The right one should be forward where the left leg leads.',
        ),
        open('note', [7, 7], 'chest', 'Once the arms oppose, let the chest turn with them.'),
      ],
    },
  ],
  'Farid Qasemi': [
    {
      stage: 'smoothing',
      state: 'handed in',
      hoursAgo: 95,
      walk: { stride: 70 },
      faults: { pop: 26 },
      note: 'Ready for a look.',
    },
  ],
  'Greta Almqvist': [
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 130,
      faults: { doubledFrame: 1 },
      words: 'It walks well and then hiccups once a cycle.',
      asked: 'A loop nobody can find the end of.',
      marks: [
        answered(
          open('timing', [25, 26], null, 'The first pose is in there twice at the end: the loop stops for a frame.'),
          'So 25 and 26 are both frame 1. Taking 26 out.',
        ),
      ],
    },
  ],
  'Hoku Kealoha': [
    { stage: 'smoothing', state: 'handed in', hoursAgo: 49, faults: { halfHeight: 4 }, note: 'First smooth pass.' },
  ],
  'Inês Carvalhal': [
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 250,
      faults: { sameSideArms: 1 },
      words: 'Arm and leg of the same side go together. Walk across the room once and look down.',
      asked: 'Swap the arms.',
      marks: [
        cleared(
          open(
            'pose',
            [1, 1],
            'hand.L',
            'The left arm is forward with the left leg. Like this: the arms of the other contact.',
            {
              takes: { frame: 13, parts: ['arm.L', 'arm.R'] },
            },
          ),
          'Oh no. Yes.',
        ),
      ],
    },
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 150,
      faults: { noDelay: 1, slide: 5 },
      words: 'Much better. Now everything starts and stops on the same frame.',
      asked: 'Let chest, arm, forearm and hand come one after the other.',
      marks: [
        answered(
          open('delay', [7, 7], 'hand.L', 'The hand stops dead with the shoulder. A frame or so later, each.', {
            wanted: { frames: 1 },
          }),
          'Moved forearm one frame, hand two.',
        ),
      ],
    },
    {
      stage: 'polish',
      state: 'handed in',
      hoursAgo: 26,
      walk: { armDelay: 2, turn: 8 },
      note: 'Offset the arms. More hips as well.',
    },
  ],
  'Kiri Tamatea': [{ stage: 'smoothing', state: 'withdrawn', hoursAgo: 52, faults: { slide: 3 } }],
  'Liesl Achterberg': [
    {
      stage: 'smoothing',
      state: 'on the desk',
      hoursAgo: 99,
      walk: { length: 30, stride: 66 },
      faults: { noDelay: 1, slide: 5 },
      note: 'Slower, thirty frames. Is that allowed?',
      marks: [
        open('delay', [8, 8], 'hand.R', 'The arm is one stick: let the hand arrive after the elbow.', {
          wanted: { frames: 1 },
        }),
      ],
    },
  ],
  'Mateo Villarreal': [
    {
      stage: 'smoothing',
      state: 'handed in',
      hoursAgo: 18,
      walk: { loop: 'repeat' },
      faults: { seam: 9 },
      note: 'Added a look to the side.',
    },
  ],
  'Nilufar Rashidova': [
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 160,
      walk: { steady: 0.1 },
      words: 'The head pecks with every step.',
      asked: 'A steady head.',
      marks: [
        cleared(
          open('arc', [1, 25], 'head', 'The head nods and turns with the chest. Let it stay.'),
          'Counter-animated the neck.',
        ),
      ],
    },
    {
      stage: 'polish',
      state: 'signed off',
      hoursAgo: 70,
      walk: { steady: 0.9 },
      words: 'Steady, and still alive. Done.',
    },
  ],
  'Oisín Brannagh': [
    { stage: 'smoothing', state: 'handed in', hoursAgo: 33, faults: { depth: 5 }, note: 'Heavier, like you said.' },
  ],
  'Priya Ramanathan': [
    {
      stage: 'smoothing',
      state: 'sent back',
      hoursAgo: 170,
      faults: { slide: 4, lowOnContact: 0.6 },
      words: 'Two things, both in the feet.',
      asked: 'The slip first; the drop if you have time.',
      marks: [
        cleared(open('spacing', [4, 7], 'foot.L', 'A slip of the planted foot.'), 'Fixed on both sides.'),
        {
          ...open('timing', [1, 4], 'hips', 'The body is lowest almost on the contact. Let it fall two frames longer.'),
          state: 'waived',
          answer: 'I ran out of evening.',
        },
      ],
    },
    {
      stage: 'polish',
      state: 'signed off',
      hoursAgo: 65,
      faults: { lowOnContact: 0.4 },
      words: 'The slip is gone. I let the drop pass: nobody in the room saw it.',
    },
  ],
  'Rosalind Achebe-Moor': [
    {
      stage: 'breakdowns',
      state: 'sent back',
      hoursAgo: 90,
      onHold: 2,
      walk: { arm: 34 },
      words: 'Good breakdowns. The arms are too big for a night walk.',
      asked: 'Smooth it, with two thirds of the swing.',
      marks: [
        open('amount', [1, 24], 'upperArm.R', 'Too wide for somebody with a bag at the end of a round.', {
          wanted: { value: 42 },
        }),
      ],
    },
  ],
  'Sunniva Dahlby': [
    { stage: 'blocking', state: 'handed in', hoursAgo: 12, onHold: 3, walk: { stride: 80 }, note: 'Poses only.' },
  ],
  'Ulugbek Saidov': [
    {
      stage: 'smoothing',
      state: 'handed in',
      hoursAgo: 40,
      walk: { firstFrame: 0 },
      faults: { doubledFrame: 1 },
      note: 'My program starts at frame 0.',
    },
  ],
};
