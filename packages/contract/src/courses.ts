import { z } from 'zod';
import { Brief, BriefHead } from './briefs.ts';
import { VerdictCounts } from './folios.ts';
import { Id, KindOfExercise, MarkState, Moment, plain, RevisionState, Role, Stage, Timestamp } from './vocabulary.ts';

/** When a stage is due. */
export const StageDate = z.object({ stage: Stage, due: Timestamp });
export type StageDate = z.infer<typeof StageDate>;

/** A later date for one person; dates of stages move by as many days and hours of the clock on the wall. */
export const LaterDate = z.object({ person: Id, name: z.string(), due: Timestamp, why: z.string() });
export type LaterDate = z.infer<typeof LaterDate>;

const assigned = {
  id: Id,
  cohort: z.object({ id: Id, name: z.string() }),
  /** When it is due: for a student who was given a later date, that one. */
  due: Timestamp,
  closed: Timestamp.nullable(),
};

/** An exercise that is set for a cohort, in a list. */
export const AssignmentHead = z.object({ ...assigned, brief: BriefHead });
export type AssignmentHead = z.infer<typeof AssignmentHead>;

/** An exercise that is set for a cohort. */
export const Assignment = z.object({
  ...assigned,
  /** The version that is set; for a student who has begun, the one they have begun with. */
  brief: Brief,
  /** The version before it, so that what changed can be told. */
  earlier: Brief.nullable(),
  /** The newest version of the brief, where it is not the one that is set. */
  newest: z.object({ id: Id, version: z.number().int() }).nullable(),
  dates: z.array(StageDate),
  /** Everybody's for staff, for a student their own. */
  later: z.array(LaterDate),
  /** Briefs to have done before, and whether the student who asks has. */
  before: z.array(z.object({ title: z.string(), done: z.boolean().nullable() })),
  /** Of a timed drill: when the student who asks began, and until when it can be handed in. */
  begun: z.object({ at: Timestamp, until: Timestamp }).nullable(),
});
export type Assignment = z.infer<typeof Assignment>;

const NewStageDates = z
  .array(z.object({ stage: Stage, due: Moment }))
  .max(5)
  .refine((dates) => new Set(dates.map(({ stage }) => stage)).size === dates.length, 'a stage has one date');

export const NewAssignment = z.object({ brief: Id, cohort: Id, due: Moment, dates: NewStageDates.default([]) });
export type NewAssignment = z.input<typeof NewAssignment>;
export const AssignmentChange = z
  .object({
    due: Moment.optional(),
    closed: z.boolean().optional(),
    dates: NewStageDates.optional(),
    /** Sets another version of the same brief for those who have not begun. */
    brief: Id.optional(),
    /** A later date for one person; null takes it back. */
    later: z.object({ person: Id, due: Moment.nullable(), why: plain(500).trim().default('') }).optional(),
  })
  .refine((change) => Object.values(change).some((value) => value !== undefined), 'nothing to change');
export type AssignmentChange = z.input<typeof AssignmentChange>;

export const Cohort = z.object({
  id: Id,
  name: z.string(),
  students: z.number().int(),
  /** The IANA name of the zone its dates are meant in. */
  timeZone: z.string(),
});
export type Cohort = z.infer<typeof Cohort>;

/** Who belongs to a cohort. */
export const CohortPeople = z.object({
  cohort: Cohort,
  people: z.array(
    z.object({
      id: Id,
      name: z.string(),
      email: z.string(),
      role: Role,
      /** Cannot sign in any more; what they made stays. */
      left: z.boolean(),
      /** Has not set a password yet. */
      invited: z.boolean(),
    }),
  ),
});
export type CohortPeople = z.infer<typeof CohortPeople>;

/** A list of students as CSV text: looked at first, taken over when it is right in every row. */
export const Roster = z.object({ csv: plain(200_000), apply: z.boolean() });
export type Roster = z.infer<typeof Roster>;

export const RosterAnswer = z.object({
  rows: z.array(
    z.object({
      line: z.number().int(),
      name: z.string(),
      email: z.string(),
      /** What becomes of the row, or why it can't be taken. */
      outcome: z.enum(['new', 'known', 'already', 'wrong']),
      why: z.string().nullable(),
    }),
  ),
  /** Whether anything was done; nothing is where a row is wrong. */
  applied: z.boolean(),
});
export type RosterAnswer = z.infer<typeof RosterAnswer>;

/** The IANA name of a time zone. */
export const TimeZone = plain(60).refine((zone) => {
  try {
    return Boolean(new Intl.DateTimeFormat('en', { timeZone: zone }));
  } catch {
    return false;
  }
}, 'no time zone is called that');

/** A course that begins: whoever makes it teaches it. */
export const NewCohort = z.object({
  name: plain(120).trim().min(1, 'a name is needed'),
  timeZone: TimeZone,
});
export type NewCohort = z.infer<typeof NewCohort>;

/** A shot to try a review on, made from an exemplar with two faults: where it is, or null. */
export const Practice = z.object({ shot: Id.nullable() });
export type Practice = z.infer<typeof Practice>;

export const CohortChange = z.object({ timeZone: TimeZone });
export type CohortChange = z.infer<typeof CohortChange>;

/** One cell of the ledger: where a student stands with an exercise. */
export const LedgerCell = z.object({
  assignment: Id,
  shot: Id.nullable(),
  revision: z
    .object({ id: Id, number: z.number().int(), state: RevisionState, stage: Stage, at: Timestamp })
    .nullable(),
  openMarks: z.number().int(),
  answeredMarks: z.number().int(),
  late: z.boolean(),
  /** The student's own date, where it is later than the others'. */
  due: Timestamp.nullable(),
});
export type LedgerCell = z.infer<typeof LedgerCell>;

export const Ledger = z.object({
  cohort: z.object({ id: Id, name: z.string() }),
  assignments: z.array(AssignmentHead),
  rows: z.array(z.object({ student: z.object({ id: Id, name: z.string() }), cells: z.array(LedgerCell) })),
});
export type Ledger = z.infer<typeof Ledger>;

/** A shot that waits for the instructor. */
export const DocketEntry = z.object({
  shot: Id,
  revision: Id,
  number: z.number().int(),
  stage: Stage,
  state: RevisionState,
  student: z.object({ id: Id, name: z.string() }),
  cohort: z.object({ id: Id, name: z.string() }),
  exercise: z.string(),
  kind: KindOfExercise,
  handedIn: Timestamp,
  due: Timestamp,
  late: z.boolean(),
  readings: z.enum(['queued', 'reading', 'read', 'failed']),
  answers: z.number().int(),
  open: z.number().int(),
  /** When its student last answered a mark. */
  answered: Timestamp.nullable(),
  /** How much was found; null while it is not measured. */
  verdicts: VerdictCounts.nullable(),
});
export type DocketEntry = z.infer<typeof DocketEntry>;

/** In what order the docket stands, and what of it is shown. */
export const DocketQuery = z.object({
  order: z.enum(['late', 'waiting', 'due', 'student', 'exercise']).default('late'),
  cohort: Id.optional(),
  /** A brief, in whichever version. */
  exercise: Id.optional(),
  stage: Stage.optional(),
  only: z.enum(['late', 'answered', 'new']).optional(),
  after: z.string().max(400).optional(),
});
export type DocketQuery = z.infer<typeof DocketQuery>;

/** A page of what waits: where the next one begins, and how much waits in all. */
export const Docket = z.object({
  entries: z.array(DocketEntry),
  /** Given back as `after`; null where nothing more waits. */
  next: z.string().nullable(),
  waiting: z.number().int(),
  late: z.number().int(),
  answered: z.number().int(),
  /** What the whole docket can be narrowed to, with how many wait. */
  exercises: z.array(z.object({ id: Id, title: z.string(), waiting: z.number().int() })),
});
export type Docket = z.infer<typeof Docket>;

/** What a student's files take and may take, bytes. */
export const Room = z.object({ used: z.number(), most: z.number() });
export type Room = z.infer<typeof Room>;

/** What a student has to do, and what came back. */
export const WorksheetEntry = z.object({
  assignment: AssignmentHead,
  shot: Id.nullable(),
  revision: z.object({ id: Id, number: z.number().int(), state: RevisionState, at: Timestamp }).nullable(),
  marks: z.record(MarkState, z.number().int()),
  words: z.string().nullable(),
  asked: z.string().nullable(),
  /** By when that is asked for. */
  askedBy: Timestamp.nullable(),
  /** The next date of a stage that is still to come. */
  next: StageDate.nullable(),
  /** Somebody of the cohort has something to look at: whether this shot is shown, and whether its student agrees to that. */
  consents: z.boolean(),
  shown: z.boolean(),
});
export type WorksheetEntry = z.infer<typeof WorksheetEntry>;
