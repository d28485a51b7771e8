import { z } from 'zod';
import { Brief } from './briefs.ts';
import { Dismissal, Mark, Pose } from './marks.ts';
import {
  FrameLabel,
  Id,
  LoopChoice,
  UpChoice,
  Media,
  Moment,
  plain,
  ReadingState,
  RevisionState,
  Stage,
  Timestamp,
  words,
} from './vocabulary.ts';

export const Reading = z.object({
  id: z.string(),
  part: z.string().optional(),
  value: z.union([z.number(), z.string(), z.boolean()]),
  unit: z.string(),
  frames: z.array(z.number()).optional(),
  detail: z.record(z.string(), z.unknown()).optional(),
  note: z.string().optional(),
  outOfPicture: z.literal(true).optional(),
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
  unmade: z.array(
    z.object({
      id: z.string(),
      part: z.string().optional(),
      why: z.string(),
      notAsked: z.literal(true).optional(),
    }),
  ),
  warnings: z.array(z.string()),
});
export type StoredReport = z.infer<typeof StoredReport>;

/** How a clip lies beneath the figure: its middle from the figure's, and its height, in leg lengths. */
export const Under = z.object({
  x: z.number().min(-100).max(100),
  y: z.number().min(-100).max(100),
  height: z.number().min(0.05).max(200),
});
export type Under = z.infer<typeof Under>;

/** Where a clip lies: the label at which its first frame is seen, and how it lies beneath the figure; null where the page is to find that. */
export const ClipPlace = z.object({ firstLabel: FrameLabel, under: Under.nullable() });
export type ClipPlace = z.infer<typeof ClipPlace>;

/** A clip that came with a motion. */
export const Clip = ClipPlace.extend({
  fileName: z.string(),
  /** Whether its pictures are there. */
  made: z.boolean(),
  /** Why they can't be. */
  refused: z.string().nullable(),
});
export type Clip = z.infer<typeof Clip>;

/** While a file waits to be read: how many are read before it; while it is read: what share of a clip's pictures has been decoded. */
const Waiting = { ahead: z.number().int().nullable(), progress: z.number().nullable() };

export const Revision = z.object({
  id: Id,
  number: z.number().int(),
  stage: Stage,
  state: RevisionState,
  fileName: z.string(),
  bytes: z.number().int(),
  /** What was handed in was deleted after its student had left: its marks and verdicts are counted still. */
  deleted: z.boolean(),
  /** Whether it was handed in as a motion or as pictures. */
  media: Media,
  /** The clip that came with a motion: what was seen of it. */
  clip: Clip.nullable(),
  /** Which version of its points on pictures there is; 0 where there are none. */
  tracks: z.number().int(),
  note: z.string(),
  at: Timestamp,
  firstFrame: FrameLabel,
  loop: LoopChoice,
  up: UpChoice,
  /** Which of a file's animations and figures it is; null where the first of them. */
  animation: z.string().nullable(),
  figure: z.string().nullable(),
  roles: z.record(z.string(), z.string().nullable()),
  /** Its key poses as they were set by hand; null where those the core finds stand. */
  poses: z.array(Pose).nullable(),
  reading: z.object({
    state: ReadingState,
    reason: z.string().nullable(),
    ...Waiting,
    /** Which report there is: of which core, made with which corrections. Null where there is none. */
    report: z.string().nullable(),
  }),
  /** The instructor's words when it was sent back or signed off, and what is asked for next. */
  words: z.string().nullable(),
  asked: z.string().nullable(),
  /** By when it is asked for. */
  askedBy: Timestamp.nullable(),
  /** The parts its student worked on this time. */
  workedOn: z.array(z.string()),
  /** What its student looked at one way to do before handing in: readings, with their parts. */
  curesSeen: z.array(z.string()),
  answeredAt: Timestamp.nullable(),
});
export type Revision = z.infer<typeof Revision>;

/** How something that a teacher has made may be looked at: so many times through, or stepped and never played. */
export const Demonstration = z.object({ plays: z.number().int().min(1).max(100).nullable(), stills: z.boolean() });
export type Demonstration = z.infer<typeof Demonstration>;

/** What shows how an exercise is done, made by those who teach. */
export const ListedDemonstration = Demonstration.extend({
  shot: Id,
  by: z.string(),
  /** Its newest revision. */
  revision: Id,
  number: z.number().int(),
  /** It is for one shot alone. */
  alone: z.boolean(),
});
export type ListedDemonstration = z.infer<typeof ListedDemonstration>;

export const Shot = z.object({
  id: Id,
  assignment: Id,
  /** The version it was begun with: it is never changed under the shot. */
  brief: Brief,
  /** The version that is set for those who begin now. */
  briefNow: z.number().int(),
  cohort: z.object({ id: Id, name: z.string() }),
  due: Timestamp,
  closed: Timestamp.nullable(),
  student: z.object({ id: Id, name: z.string() }),
  revisions: z.array(Revision),
  marks: z.array(Mark),
  /** Findings that were put aside for this shot. Students have none. */
  dismissals: z.array(Dismissal),
  /** Whether its student agrees to its being shown to the cohort, and since when it is. */
  showing: z.object({ consent: z.boolean(), shown: Timestamp.nullable() }),
  /** Of what those who teach have made to show how: how it may be looked at; null of a student's own shot. */
  demonstration: Demonstration.nullable(),
});
export type Shot = z.infer<typeof Shot>;

/** Parts of a figure that a student can have worked on, in the order one works: a pass. */
export const WORKED_ON = ['body', 'legs', 'spine', 'arms', 'head', 'hands', 'face', 'what drags'] as const;

const correctedRoles = z
  .record(plain(80), plain(200).nullable())
  .refine((roles) => Object.keys(roles).length <= 200, 'at most 200 roles');

/** JSON text of a form's field. */
const jsonText = <T extends z.ZodType>(schema: T) =>
  z
    .string()
    .max(30_000)
    .transform((text, context) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        context.addIssue({ code: 'custom', message: 'this is no JSON' });
        return z.NEVER;
      }
    })
    .pipe(schema);

/** The text fields of a hand-in; the file comes as the part `file` behind them. */
export const HandIn = z.object({
  stage: Stage,
  note: words(4000).default(''),
  firstFrame: z.coerce.number().int().min(-100_000).max(100_000).optional(),
  loop: LoopChoice.optional(),
  /** Of a file with several: which animation, which figure. */
  animation: plain(200).optional(),
  figure: plain(200).optional(),
  /** Roles corrected before it was sent, as JSON text. */
  roles: jsonText(correctedRoles).optional(),
  /** Parts worked on this time, as JSON text. */
  workedOn: jsonText(z.array(z.enum(WORKED_ON)).max(WORKED_ON.length)).default([]),
  /** Readings, with their parts, whose cures were looked at before, as JSON text. */
  curesSeen: jsonText(z.array(plain(120)).max(60)).default([]),
  /** Name of an upload that has come whole: the clip that goes with a motion. */
  clip: z
    .string()
    .regex(/^[0-9a-f-]{36}\.[0-9a-f-]{36}$/, 'no upload has such a name')
    .optional(),
  /** Label at which the clip's first frame is seen; default: the motion's first. */
  clipFirst: z.coerce.number().int().min(-100_000).max(100_000).optional(),
  /** Of what a teacher hands in: the one shot it shows how for; left out, every shot of the exercise. */
  beside: Id.optional(),
});
export type HandIn = z.infer<typeof HandIn>;

export const SendBack = z.object({ words: words(8000), asked: words(1000), askedBy: Moment.nullable().default(null) });
export type SendBack = z.input<typeof SendBack>;
/** Whether a student agrees to a shot's being shown. */
export const Consent = z.object({ consent: z.boolean() });
export type Consent = z.infer<typeof Consent>;
/** Whether a shot is shown, and what is said of it. */
export const Show = z.object({ shown: z.boolean(), words: words(1000).default('') });
export type Show = z.input<typeof Show>;

export const SignOff = z.object({ words: words(8000) });
export type SignOff = z.infer<typeof SignOff>;

export const RevisionSettings = z.object({
  firstFrame: FrameLabel.optional(),
  loop: LoopChoice.optional(),
  up: UpChoice.optional(),
  animation: plain(200).nullable().optional(),
  figure: plain(200).nullable().optional(),
  roles: correctedRoles.optional(),
});
export type RevisionSettings = z.infer<typeof RevisionSettings>;

/** One event of a revision's stream. */
export const RevisionEvent = z.object({
  revision: Id,
  state: RevisionState,
  reading: ReadingState,
  reason: z.string().nullable(),
  ...Waiting,
});
export type RevisionEvent = z.infer<typeof RevisionEvent>;

/** One event of a shot's stream: something about it has changed. */
export const ShotEvent = z.object({ shot: Id });
export type ShotEvent = z.infer<typeof ShotEvent>;

/** Another student's newest revision, waiting to be looked at, on which the same was found: what is said of it there. */
export const Alike = z.object({
  shot: Id,
  student: z.string(),
  revision: z.number().int(),
  stage: Stage,
  reading: z.string(),
  part: z.string().nullable(),
  say: z.string(),
  judgement: z.enum(['near', 'outside']),
});
export type Alike = z.infer<typeof Alike>;

/** What a hand-in has become. */
export const HandedIn = z.object({ shot: Id, revision: Id });
export type HandedIn = z.infer<typeof HandedIn>;
