/** What was set for the Monday loft before Night round, the oldest first: the term behind it. */
export interface TermExercise {
  readonly title: string;
  /** Name of the exemplar it is made from. */
  readonly exemplar: string;
  readonly dueDaysAgo: number;
  /** What goes wrong in it, by the habit it comes from, each with its size. */
  readonly habits: Readonly<Record<Habit, Readonly<Record<string, number>>>>;
}

/** What somebody tends to do: everything at once, holding too long or not at all, straight lines, the wrong number of frames. */
export type Habit = 'together' | 'holds' | 'straight' | 'frames';

export const TERM: readonly TermExercise[] = [
  {
    title: 'Signal halyard',
    exemplar: 'overlap',
    dueDaysAgo: 66,
    habits: { together: { noDelay: 1 }, holds: { stopsDead: 1 }, straight: { pop: 9 }, frames: { lateChain: 3 } },
  },
  {
    title: 'Two voices',
    exemplar: 'turn',
    dueDaysAgo: 45,
    habits: {
      together: { noDip: 1, slowTurn: 5 },
      holds: { deadHold: 1 },
      straight: { noDip: 1 },
      frames: { shortHold: 10 },
    },
  },
  {
    title: 'Quay to barge',
    exemplar: 'jump',
    dueDaysAgo: 31,
    habits: { together: { noDrag: 1 }, holds: { deadHold: 1 }, straight: { pop: 8 }, frames: { floats: 0.45 } },
  },
  {
    title: 'Foghorn',
    exemplar: 'take',
    dueDaysAgo: 17,
    habits: {
      together: { allTogether: 1 },
      holds: { deadHold: 1 },
      straight: { pop: 8, twinArms: 1 },
      frames: { shortLook: 9 },
    },
  },
];

/**
 * How somebody went through the term: what they tend to, in the order it matters; whether they mend it from one revision to the next, or
 * only now and then; how many days early (or, negative, late) they hand in.
 */
export interface Course {
  readonly habits: readonly Habit[];
  readonly mends: 'at once' | 'in two' | 'never quite';
  readonly early: number;
}

/** Everybody of the Monday loft: each good at something and bad at something. */
export const COURSES: Readonly<Record<string, Course>> = {
  'Amara Oyelaran': { habits: ['straight', 'together'], mends: 'in two', early: 1 },
  'Bram Hoekstra': { habits: ['frames', 'straight'], mends: 'never quite', early: 2 },
  'Chiyo Tanabe': { habits: ['holds'], mends: 'at once', early: 4 },
  'Dagny Solheim': { habits: ['frames'], mends: 'at once', early: -2 },
  'Emeka Brightwater': { habits: ['holds', 'together'], mends: 'never quite', early: 1 },
  'Farid Qasemi': { habits: ['straight'], mends: 'in two', early: 0 },
  'Greta Almqvist': { habits: ['together', 'holds'], mends: 'in two', early: 3 },
  'Hoku Kealoha': { habits: ['together'], mends: 'at once', early: 1 },
  'Inês Carvalhal': { habits: ['holds', 'frames'], mends: 'never quite', early: 2 },
  'Jomo Wanyama': { habits: ['frames', 'together'], mends: 'in two', early: -3 },
  'Kiri Tamatea': { habits: ['straight', 'holds'], mends: 'at once', early: 2 },
  'Liesl Achterberg': { habits: ['together', 'frames'], mends: 'never quite', early: 1 },
};

/** What was wrong in each revision of an exercise, from the first to the last: what a course comes to. */
export function revisionsOf(
  { habits }: TermExercise,
  { habits: own, mends }: Course,
  at: number,
): Record<string, number>[] {
  const all = own.map((habit) => habits[habit]);
  const smaller = (faults: Readonly<Record<string, number>>): Record<string, number> =>
    Object.fromEntries(Object.entries(faults).map(([name, size]) => [name, Math.round(size * 0.6 * 100) / 100]));
  const both = Object.assign({}, ...all) as Record<string, number>;
  const [first = {}] = all;
  // What somebody tends to most they have at first in everything; what comes second not in every exercise.
  const begun = at % 2 === 0 ? both : { ...first };
  if (mends === 'at once') return at === 3 ? [{}] : [begun, {}];
  if (mends === 'in two') return [begun, smaller(first), {}];
  return [begun, { ...first }, smaller(first)];
}
