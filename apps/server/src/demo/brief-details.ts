import type { BriefContent } from '@ypsigraph/contract/briefs';

type Details = Pick<BriefContent, 'watch' | 'stages' | 'rubric' | 'exemplar'>;

const stages = (blocking: string, breakdowns: string, smoothing: string, polish: string): Details['stages'] => [
  { stage: 'blocking', shows: blocking },
  { stage: 'breakdowns', shows: breakdowns },
  { stage: 'smoothing', shows: smoothing },
  { stage: 'polish', shows: polish },
];

/** What is graded of everything: the poses in time, what lies between them, and how it is finished. */
const rubric = (between: string, readings: string[]): Details['rubric'] => [
  { id: 'timing', stage: 'blocking', title: 'Poses, in time', points: 10, readings: [] },
  { id: 'between', stage: 'smoothing', title: between, points: 10, readings },
  {
    id: 'finish',
    stage: 'polish',
    title: 'Arcs, and no frame out of place',
    points: 5,
    readings: ['arc', 'spacing'],
  },
];

/** What each exercise of the course says beyond its story, by its title. */
export const BRIEF_DETAILS: Readonly<Record<string, Details>> = {
  'Night round': {
    watch: [
      'The feet: do they stay where they land?',
      'The hips: lowest after the contact, not on it',
      'Arms against legs, a frame or so late',
    ],
    stages: stages(
      'Contact, down, passing and up, held, on their frames; the second step mirrored.',
      'Hips, then legs: the weight comes down after the foot has landed.',
      'No foot slides; the arms swing against the legs.',
      'Hands and strap drag; every path is an arc.',
    ),
    rubric: rubric('Feet that hold the ground', ['gait']),
    exemplar: { name: 'walk', set: { bob: 4, arm: 21 } },
  },
  'Last ferry': {
    watch: ['A pose in the air in each half', 'The lean: is the carrier going somewhere?'],
    stages: stages(
      'Two contacts, two poses in the air, held.',
      'Lowest just after the foot takes the weight.',
      'The arms are bent, and drive.',
      'The bag comes down later than the hips.',
    ),
    rubric: rubric('Time in the air', ['gait']),
    exemplar: { name: 'run', set: {} },
  },
  'Quay to barge': {
    watch: ['The crouch before', 'The time in the air', 'How the landing is taken up'],
    stages: stages(
      'Crouch, stretch, air, squash, rest: held.',
      'In the air the weight follows one curve.',
      'The squash comes out again within a second.',
      'What hangs on him drags up and follows down.',
    ),
    rubric: rubric('Weight in the air', ['jump']),
    exemplar: { name: 'jump', set: {} },
  },
  Foghorn: {
    watch: ['Can each look be read?', 'Down before up'],
    stages: stages(
      'The looks, the anticipation and the accent, held.',
      'The accent is held a dozen frames.',
      'Not everything starts at once.',
      'The arms are no twins; holds live.',
    ),
    rubric: rubric('Looks that can be read', ['look', 'take']),
    exemplar: { name: 'take', set: {} },
  },
  'Two voices': {
    watch: ['The dip of the chin in each turn', 'The hold: alive, and a hold'],
    stages: stages(
      'Left, hold, right, held.',
      'A dip in the middle of each turn; both take as long.',
      'The hold drifts a little, and has an end.',
      'Eyes and brow before the head.',
    ),
    rubric: rubric('A hold that lives', ['hold', 'move']),
    exemplar: { name: 'turn', set: {} },
  },
  'Signal halyard': {
    watch: ['Which pennant starts last?', 'The mast stops: what goes on?'],
    stages: stages(
      'The mast: there, and stopped.',
      'Each pennant a frame or two after the one above.',
      'It swings out, smaller each time.',
      'No pennant out of place for a frame.',
    ),
    rubric: rubric('Drag and follow-through', ['lag', 'settle', 'overshoot']),
    exemplar: { name: 'overlap', set: { pennants: 5 } },
  },
  Gangplank: {
    watch: ['Is a planted foot still?', 'The parcel: does it weigh?'],
    stages: stages(
      'A contact on each cleat.',
      'The body is over the foot that carries it.',
      'No foot slides on its cleat.',
      'The head stays steady.',
    ),
    rubric: rubric('Feet that hold the plank', ['gait']),
    exemplar: { name: 'steps', set: {} },
  },
  'Cold morning': {
    watch: ['In slower than out', 'How many parts are alive?'],
    stages: stages(
      'One breath in, one out.',
      'The breath begins in the chest.',
      'Several parts are alive, none of them busy.',
      'It loops without a seam.',
    ),
    rubric: rubric('A breath, not an exercise', ['breath', 'activity']),
    exemplar: { name: 'idle', set: {} },
  },
};
