import { z } from 'zod';
import {
  FrameLabel,
  Id,
  KindOfExercise,
  LoopChoice,
  MarkState,
  Moment,
  RevisionState,
  Stage,
  Timestamp,
} from './vocabulary.ts';

/** An exercise as it is set. */
export const Brief = z.object({
  id: Id,
  title: z.string(),
  kind: KindOfExercise,
  text: z.string(),
  version: z.number().int(),
  fps: z.number(),
  firstFrame: FrameLabel,
  loop: LoopChoice,
  frames: z.number().int().nullable(),
  /** What the figure stands on; `auto`: found out from where its feet come to lie. */
  ground: z.enum(['auto', 'flat', 'steps']),
  /** Joints that must stay where they are, and the tops of two groups that should take turns. */
  still: z.array(z.string()),
  groups: z.array(z.string()),
});
export type Brief = z.infer<typeof Brief>;

export const Assignment = z.object({
  id: Id,
  brief: Brief,
  cohort: z.object({ id: Id, name: z.string() }),
  due: Timestamp,
  closed: Timestamp.nullable(),
});
export type Assignment = z.infer<typeof Assignment>;

export const NewAssignment = z.object({ brief: Id, cohort: Id, due: Moment });
export type NewAssignment = z.infer<typeof NewAssignment>;
export const AssignmentChange = z
  .object({ due: Moment.optional(), closed: z.boolean().optional() })
  .refine((change) => change.due !== undefined || change.closed !== undefined, 'nothing to change');
export type AssignmentChange = z.infer<typeof AssignmentChange>;

export const Cohort = z.object({ id: Id, name: z.string(), students: z.number().int() });
export type Cohort = z.infer<typeof Cohort>;

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
});
export type LedgerCell = z.infer<typeof LedgerCell>;

export const Ledger = z.object({
  cohort: z.object({ id: Id, name: z.string() }),
  assignments: z.array(Assignment),
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
});
export type DocketEntry = z.infer<typeof DocketEntry>;

/** A page of what waits: where the next one begins, and how much waits in all. */
export const Docket = z.object({
  entries: z.array(DocketEntry),
  /** Given back as `after`; null where nothing more waits. */
  next: z.string().nullable(),
  waiting: z.number().int(),
  late: z.number().int(),
});
export type Docket = z.infer<typeof Docket>;

/** What a student's files take and may take, bytes. */
export const Room = z.object({ used: z.number(), most: z.number() });
export type Room = z.infer<typeof Room>;

/** What a student has to do, and what came back. */
export const WorksheetEntry = z.object({
  assignment: Assignment,
  shot: Id.nullable(),
  revision: z.object({ id: Id, number: z.number().int(), state: RevisionState, at: Timestamp }).nullable(),
  marks: z.record(MarkState, z.number().int()),
  words: z.string().nullable(),
  asked: z.string().nullable(),
});
export type WorksheetEntry = z.infer<typeof WorksheetEntry>;
