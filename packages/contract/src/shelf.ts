import { type BriefContent, EMPTY_BRIEF } from './briefs.ts';

/** A brief that is ready to be taken over; it says everything but what a school decides for itself. */
export type ReadyBrief = BriefContent;

type Shows = readonly [blocking: string, breakdowns: string, smoothing: string, polish: string];

type Ready = Partial<BriefContent> &
  Pick<BriefContent, 'title' | 'kind' | 'text' | 'exemplar' | 'watch'> & {
    readonly shows: Shows;
    /** What is graded between the poses and the finish, and the readings that speak of it. */
    readonly between: readonly [title: string, readings: string[]];
  };

const STAGES = ['blocking', 'breakdowns', 'smoothing', 'polish'] as const;

function ready({ shows, between: [title, readings], ...brief }: Ready): ReadyBrief {
  return {
    ...EMPTY_BRIEF,
    ...brief,
    stages: STAGES.map((stage, k) => ({ stage, shows: shows[k]! })),
    rubric: [
      { id: 'poses', stage: 'blocking', title: 'Key poses that read, on their frames', points: 10, readings: [] },
      { id: 'between', stage: 'smoothing', title, points: 10, readings },
      {
        id: 'finish',
        stage: 'polish',
        title: 'Arcs, and no frame out of place',
        points: 5,
        readings: ['arc', 'spacing', 'stray'],
      },
    ],
  };
}

/**
 * Briefs that a school can begin with: one for each exercise of a first course, in the order it is taught in. Their gauges are the usual ones of their
 * kind. Lengths and frames are common practice of the trade.
 */
export const SHELF: readonly ReadyBrief[] = [
  ready({
    title: 'Lamplighter',
    kind: 'walk',
    loop: 'repeat',
    frames: 24,
    text: 'The lamplighter walks along the quay at dusk, on the spot: two steps in 24 frames, frame 25 repeats frame 1. Contact on 1, down on 4, passing on 7, up on 10, and the same mirrored from 13. There are many lamps, and no hurry.',
    watch: [
      'The feet: do they stay where they land?',
      'The hips: lowest after the contact, not on it',
      'Arms against legs, each joint a frame or so later',
    ],
    shows: [
      'Contact, down, passing and up, held, on their frames; the second step mirrored.',
      'Hips, then legs: the weight comes down after the foot has landed.',
      'No foot slides; the arms swing against the legs.',
      'Hands drag a little; every path is an arc, and nothing jumps where the loop closes.',
    ],
    between: ['Feet that hold the ground', ['gait']],
    exemplar: { name: 'walk', set: {} },
  }),
  ready({
    title: 'Along the mole',
    kind: 'walk',
    loop: 'none',
    text: 'The same walk, out along the mole: it goes forward, as fast as its planted foot goes back in the cycle on the spot. Four steps or more.',
    watch: ['Does a planted foot slide along the stones?', 'Is the speed even?', 'The head: steady over all of it'],
    shows: [
      'Every contact, held, each foot where it will stand.',
      'The body travels evenly from contact to contact.',
      'No planted foot slides, sinks or floats.',
      'The head stays steady; the arms are arcs.',
    ],
    between: ['Feet that hold the ground while the body travels', ['gait']],
    exemplar: { name: 'walk', set: { travel: 1, cycles: 2 } },
  }),
  ready({
    title: 'Rain on the slip',
    kind: 'run',
    loop: 'repeat',
    frames: 20,
    text: 'A shower, and the boat is open: a run on the spot, a cycle of 20 frames with a pose in the air in each half. Frame 21 repeats frame 1.',
    watch: [
      'A pose in the air in each half',
      'Lowest just after the foot takes the weight',
      'The lean: is somebody going somewhere?',
    ],
    shows: [
      'Two contacts and two poses in the air, held; the second half mirrored.',
      'Lowest just after the foot takes the weight.',
      'The arms are bent, and drive.',
      'What hangs on the body comes down later than the hips.',
    ],
    between: ['Time in the air', ['gait', 'lag']],
    exemplar: { name: 'run', set: {} },
  }),
  ready({
    title: 'Over the mooring line',
    kind: 'jump',
    loop: 'none',
    frames: 60,
    text: 'A hop over a mooring line, from standing to standing: crouch, stretch, air, stretch, squash, settle. 60 frames.',
    watch: ['The crouch before', 'The path in the air: one curve', 'How the landing is taken up'],
    shows: [
      'Crouch, stretch, air, squash, rest: held.',
      'In the air the weight follows one curve; the landing is not the take-off played backwards.',
      'The squash comes out again within a second.',
      'Arms drag on the way up and follow through on the way down.',
    ],
    between: ['Weight in the air', ['jump']],
    exemplar: { name: 'jump', set: {} },
  }),
  ready({
    title: 'Harbour stairs',
    kind: 'walk',
    loop: 'auto',
    ground: 'steps',
    text: 'Up the harbour stairs at low water, 15 frames a step. Each planted foot stands higher than the one before, and stays there.',
    watch: ['Is a planted foot still?', 'The hips turn toward the leading leg', 'The head rises gradually'],
    shows: [
      'A contact on each stair, held.',
      'The body is over the foot that carries it before it goes up.',
      'No foot slides on its stair.',
      'The head stays steady.',
    ],
    between: ['Feet that hold the stairs', ['gait']],
    exemplar: { name: 'steps', set: { step: 15, length: 60 } },
  }),
  ready({
    title: 'The lost letter',
    kind: 'take',
    loop: 'none',
    frames: 72,
    text: 'Somebody finds a letter in a coat that was washed: looks, looks away, looks again, and starts. Each look is held long enough to read. 72 frames.',
    watch: ['Can each look be read?', 'Down before up', 'Do both arms do the same?'],
    shows: [
      'The looks, the anticipation and the accent, held.',
      'Down and squashed before up and stretched.',
      'The accent is held a dozen frames, and lives; not everything starts at once.',
      'The arms are no twins.',
    ],
    between: ['Looks that can be read', ['look', 'take', 'hold']],
    exemplar: { name: 'take', set: {} },
  }),
  ready({
    title: 'Two bells',
    kind: 'turn',
    loop: 'none',
    frames: 64,
    text: 'Two bells in the fog, one on either hand: the head turns to the first, listens, and turns to the second. A moving hold between the two turns. 64 frames.',
    watch: ['The dip of the chin in each turn', 'The hold: alive, and a hold', 'Do both turns take about as long?'],
    shows: [
      'First bell, hold, second bell, held.',
      'A dip in the middle of each turn.',
      'The hold drifts a little, and has an end.',
      'The eyes before the head, the shoulders after it.',
    ],
    between: ['A hold that lives', ['hold', 'move', 'arc.rise']],
    exemplar: { name: 'turn', set: {} },
  }),
  ready({
    title: 'Wet pennants',
    kind: 'overlap',
    loop: 'none',
    frames: 48,
    text: 'A mast swings over and stops; a rope of wet pennants drags behind it and follows through. The deck is not animated. 48 frames.',
    watch: ['Which pennant starts last?', 'The mast stops: what goes on?', 'The deck: does it move?'],
    shows: [
      'The mast: there, and stopped.',
      'Each pennant a frame or two after the one above.',
      'It swings out, smaller each time.',
      'No pennant out of place for a frame.',
    ],
    between: ['Drag and follow-through', ['lag', 'settle', 'overshoot']],
    exemplar: { name: 'overlap', set: {} },
  }),
  ready({
    title: 'Waiting for the tide',
    kind: 'idle',
    loop: 'repeat',
    frames: 96,
    text: 'On a bollard, or beside it, until the water comes: breathing, and no more than that. A loop of 96 frames in which several parts are alive and none of them is busy.',
    watch: ['In slower than out', 'How many parts are alive?', 'The seam of the loop'],
    shows: [
      'One breath in, one out.',
      'The breath begins in the chest.',
      'Several parts are alive, none of them busy.',
      'It loops without a seam.',
    ],
    between: ['A breath that is no exercise', ['breath', 'activity', 'cycle']],
    exemplar: { name: 'idle', set: {} },
  }),
  ready({
    title: 'A look over the rail',
    kind: 'overlap',
    loop: 'none',
    frames: 56,
    text: 'Something is in the water: a lean over the rail of about 20 degrees. It starts at the hips, goes up the spine and ends at the head, after a small move the other way, and settles back a little. 56 frames.',
    watch: [
      'The small move the other way first',
      'Hips, spine, chest, head: one after the other',
      'How far it settles back',
    ],
    shows: [
      'Upright, back, over, at rest: held.',
      'Back by 4 to 5 degrees before it goes.',
      'Each part a frame or two after the one below.',
      'It settles to between 60 and 90 percent of its farthest, and the hold lives.',
    ],
    between: ['Anticipation, overshoot and settle', ['anticipation', 'overshoot', 'settle', 'lag']],
    exemplar: { name: 'lean', set: {} },
  }),
  ready({
    title: 'Sack of meal',
    kind: 'any',
    loop: 'none',
    frames: 60,
    text: 'A full sack of meal is thrown on to the quay, bounces and comes to rest. It squashes and stretches, and there is always as much meal in it. 60 frames. Pictures are measured by the points put on its top, bottom and sides.',
    watch: [
      'A fall gets faster: look at the spacing',
      'Widest where it is flattest, narrowest where it is longest',
      'Each bounce lower and shorter than the one before',
    ],
    shows: [
      'Each contact and the top of each bounce, held.',
      'Squash on the contact, stretch just before and after it.',
      'The spacing opens on the way down and closes on the way up.',
      'The volume is kept, and it comes to rest.',
    ],
    between: ['Weight, and as much meal as before', ['shape', 'spacing']],
    // A figure that falls and is taken up: what a body in the air does is the same.
    exemplar: { name: 'jump', set: {} },
  }),
  ready({
    title: 'Buyer and seller',
    kind: 'any',
    loop: 'none',
    text: 'Two at a fish stall: one shows the catch, the other does not believe it. They act in turn: while one moves the other rests and listens. Name the top joint of each in the brief, so that what they do at once can be measured.',
    watch: ['Where does the eye go?', 'Who acts while the other rests?', 'Does whoever rests still live?'],
    shows: [
      'Who acts when: both in held poses.',
      'Each move is seen coming by a small one the other way.',
      'While one acts the other holds, and the hold lives.',
      'No two accents fall on one frame.',
    ],
    between: ['One after the other', ['attention', 'hold', 'activity']],
    // One of the two: a listener, who turns and holds.
    exemplar: { name: 'turn', set: {} },
  }),
];
