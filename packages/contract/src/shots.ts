import { z } from 'zod';
import { Brief } from './courses.ts';
import {
  FrameLabel,
  Id,
  LoopChoice,
  MarkKind,
  MarkState,
  plain,
  ReadingState,
  RevisionState,
  Role,
  Stage,
  Timestamp,
} from './vocabulary.ts';

const words = (most: number) => plain(most).trim();

export const Reading = z.object({
  id: z.string(),
  part: z.string().optional(),
  value: z.union([z.number(), z.string(), z.boolean()]),
  unit: z.string(),
  frames: z.array(z.number()).optional(),
  detail: z.record(z.string(), z.unknown()).optional(),
  note: z.string().optional(),
});

/** What reading a file gave: stored for each revision and version of the core. */
export const StoredReport = z.object({
  file: z.string(),
  format: z.string(),
  fps: z.number(),
  frames: z.number().int(),
  firstFrame: FrameLabel,
  loop: z.enum(['none', 'repeat', 'follow']),
  up: z.string(),
  forward: z.string(),
  scale: z.object({ legLength: z.number(), metresPerUnit: z.number() }),
  roles: z.record(z.string(), z.string()),
  readings: z.array(Reading),
  unmade: z.array(z.object({ id: z.string(), part: z.string().optional(), why: z.string() })),
  warnings: z.array(z.string()),
});
export type StoredReport = z.infer<typeof StoredReport>;

export const Reply = z.object({
  id: Id,
  author: z.object({ id: Id, name: z.string(), role: Role }),
  words: z.string(),
  at: Timestamp,
});
export type Reply = z.infer<typeof Reply>;

export const Mark = z.object({
  id: Id,
  revision: Id,
  kind: MarkKind,
  from: FrameLabel,
  to: FrameLabel,
  joint: z.string().nullable(),
  words: z.string(),
  state: MarkState,
  /** Null until the revision is sent back: only then students see it. */
  sent: Timestamp.nullable(),
  author: z.object({ id: Id, name: z.string() }),
  at: Timestamp,
  replies: z.array(Reply),
});
export type Mark = z.infer<typeof Mark>;

/** A mark that was taken away before it was sent. */
export const ArchivedMark = z.object({ id: Id, archived: z.literal(true) });
export type ArchivedMark = z.infer<typeof ArchivedMark>;

export const NewMark = z
  .object({
    kind: MarkKind,
    from: FrameLabel,
    to: FrameLabel,
    joint: plain(200).min(1).nullable(),
    words: words(4000).min(1, 'a mark needs words'),
    /** Made by the page: sending the same mark twice makes one. */
    key: z.uuid(),
  })
  .refine((mark) => mark.from <= mark.to, { path: ['to'], message: 'the last frame comes before the first' });
export type NewMark = z.infer<typeof NewMark>;

export const MarkChange = z.object({
  kind: MarkKind.optional(),
  from: FrameLabel.optional(),
  to: FrameLabel.optional(),
  joint: plain(200).min(1).nullable().optional(),
  words: words(4000).min(1).optional(),
});
export type MarkChange = z.infer<typeof MarkChange>;

export const MarkVerdict = z.object({ state: z.enum(['open', 'cleared', 'waived']) });
export type MarkVerdict = z.infer<typeof MarkVerdict>;

export const NewReply = z.object({ words: words(4000).min(1, 'an answer needs words'), key: z.uuid() });
export type NewReply = z.infer<typeof NewReply>;

export const Revision = z.object({
  id: Id,
  number: z.number().int(),
  stage: Stage,
  state: RevisionState,
  fileName: z.string(),
  bytes: z.number().int(),
  note: z.string(),
  at: Timestamp,
  firstFrame: FrameLabel,
  loop: LoopChoice,
  roles: z.record(z.string(), z.string().nullable()),
  reading: z.object({
    state: ReadingState,
    reason: z.string().nullable(),
    /** Which report there is: of which core, made with which corrections. Null where there is none. */
    report: z.string().nullable(),
  }),
  /** The instructor's words when it was sent back or signed off, and what is asked for next. */
  words: z.string().nullable(),
  asked: z.string().nullable(),
  answeredAt: Timestamp.nullable(),
});
export type Revision = z.infer<typeof Revision>;

export const Shot = z.object({
  id: Id,
  assignment: Id,
  brief: Brief,
  cohort: z.object({ id: Id, name: z.string() }),
  due: Timestamp,
  closed: Timestamp.nullable(),
  student: z.object({ id: Id, name: z.string() }),
  revisions: z.array(Revision),
  marks: z.array(Mark),
});
export type Shot = z.infer<typeof Shot>;

/** The text fields of a hand-in; the file comes as the part `file` behind them. */
export const HandIn = z.object({
  stage: Stage,
  note: words(4000).default(''),
  firstFrame: z.coerce.number().int().min(-100_000).max(100_000).optional(),
  loop: LoopChoice.optional(),
});
export type HandIn = z.infer<typeof HandIn>;

export const SendBack = z.object({ words: words(8000), asked: words(1000) });
export type SendBack = z.infer<typeof SendBack>;
export const SignOff = z.object({ words: words(8000) });
export type SignOff = z.infer<typeof SignOff>;

export const RevisionSettings = z.object({
  firstFrame: FrameLabel.optional(),
  loop: LoopChoice.optional(),
  roles: z
    .record(plain(80), plain(200).nullable())
    .refine((roles) => Object.keys(roles).length <= 200, 'at most 200 roles')
    .optional(),
});
export type RevisionSettings = z.infer<typeof RevisionSettings>;

/** One event of a revision's stream. */
export const RevisionEvent = z.object({
  revision: Id,
  state: RevisionState,
  reading: ReadingState,
  reason: z.string().nullable(),
});
export type RevisionEvent = z.infer<typeof RevisionEvent>;
