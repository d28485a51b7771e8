import { z } from 'zod';
import type { Gauge as CoreGauge } from '@ypsigraph/core/gauge/gauge';
import { READING_KINDS, type ReadingId } from '@ypsigraph/core/measure/registry';
import { FrameLabel, Id, KindOfExercise, LoopChoice, plain, Stage, Timestamp, words } from './vocabulary.ts';

const number = z.number().min(-1e6).max(1e6);

/** A band on one reading, or the values it may have, with the reason in the instructor's words. */
export const Gauge = z
  .object({
    reading: z.enum([...READING_KINDS.keys()] as [ReadingId, ...ReadingId[]], {
      error: ({ input }) => `there is no reading “${String(input).slice(0, 60)}”`,
    }),
    part: plain(200).optional(),
    of: plain(60).optional(),
    link: z.number().int().min(1).max(60).optional(),
    except: plain(60).optional(),
    over: z.enum(['each', 'spread']).optional(),
    from: Stage,
    band: z
      .tuple([number, number])
      .refine(([low, high]) => low <= high, 'the lower end of the band lies above the upper one')
      .optional(),
    per: z.enum(['step', 'cycle', 'move']).optional(),
    allowed: z
      .array(z.union([plain(80), z.boolean()]))
      .min(1)
      .max(20)
      .optional(),
    near: z
      .union([z.number().min(0).max(1e6), z.tuple([z.number().min(0).max(1e6), z.number().min(0).max(1e6)])])
      .optional(),
    weight: z.number().min(0).max(100),
    why: words(1000).min(1, 'say why'),
  })
  .refine(({ band, allowed }) => (band === undefined) !== (allowed === undefined), {
    path: ['band'],
    message: 'a gauge has a band, or the values it allows',
  });
export type Gauge = z.infer<typeof Gauge>;

/** What the contract lets through is what the core judges by. */
const _judged = (gauge: Gauge): CoreGauge => gauge;
void _judged;

/** One line of a rubric: what is graded at a stage, with how many points, and which readings and marks speak of it. */
export const RubricLine = z.object({
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'small letters, digits and hyphens'),
  stage: Stage,
  title: words(120).min(1, 'a title is needed'),
  points: z.number().int().min(1).max(100),
  /** Ids of readings that speak of it, or their beginnings: `gait`, `arc.pop`. None: every one. */
  readings: z.array(plain(60).min(1)).max(30),
});
export type RubricLine = z.infer<typeof RubricLine>;

const unit = z.number().min(-1.001).max(1.001);

/** A pose that is planned, and when: at a frame, or at a share of each step. One that the core does not know by name has its pose with it. */
export const PlannedPose = z
  .object({
    name: words(60).min(1, 'a name is needed'),
    frame: FrameLabel.optional(),
    share: z.number().min(0).max(100).optional(),
    part: z.enum(['leg.L', 'leg.R']).optional(),
    tolerance: z.number().min(0).max(100),
    pose: z
      .object({
        directions: z
          .record(plain(200), z.tuple([unit, unit, unit]))
          .refine((all) => Object.keys(all).length <= 200, 'at most 200 parts'),
        height: number.optional(),
        drawn: z.literal(true).optional(),
      })
      .optional(),
  })
  .refine(({ frame, share }) => (frame === undefined) !== (share === undefined), {
    path: ['frame'],
    message: 'a pose is planned at a frame, or at a share of the step',
  });
export type PlannedPose = z.infer<typeof PlannedPose>;

/** A motion that shows the exercise done: which of the core's, with what set on it. */
export const ExemplarChoice = z.object({
  name: plain(40).min(1),
  set: z
    .record(plain(40), z.union([number, plain(40)]))
    .refine((set) => Object.keys(set).length <= 40, 'at most 40 dials'),
});
export type ExemplarChoice = z.infer<typeof ExemplarChoice>;

/** Whether something that a hand-in does not keep to is told, or keeps it from being handed in. */
export const Rule = z.enum(['warn', 'refuse']);

/** When a cure is shown to students: with the marks it was sent with, or in their self-check as well. */
export const CURES_SHOWN = ['with marks', 'before handing in'] as const;

/** An exercise as it is written: everything but its name in the database. */
export const BriefContent = z.object({
  title: words(200).min(1, 'a title is needed'),
  kind: KindOfExercise,
  /** What it is as well: a walk that looks and stops. Their readings and usual gauges come along. */
  alsoKinds: z.array(KindOfExercise).max(3).default([]),
  /** The story, and what is to be done. */
  text: words(8000),
  fps: z.number().min(1, 'at least one frame a second').max(1000),
  firstFrame: FrameLabel,
  loop: LoopChoice,
  /** Its length in frames; of a loop whose last frame repeats the first that frame is not counted. Null: any. */
  frames: z.number().int().min(1).max(100_000).nullable(),
  /** What the figure stands on; `auto`: found out from where its feet come to lie. */
  ground: z.enum(['auto', 'flat', 'steps']),
  /** How high flat ground lies, in a file's own units along up; null: found out from where the feet come down. */
  groundHeight: number.nullable(),
  /** Joints that must stay where they are, and the tops of two groups that should take turns. */
  still: z.array(plain(200).min(1)).max(40),
  groups: z.array(plain(200).min(1)).max(2),
  /** What to watch first, in order. */
  watch: z.array(words(300).min(1)).max(12),
  /** Families of the briefs to have done before. */
  before: z.array(Id).max(20),
  /** What each stage must show. Stages left out ask for nothing of their own. */
  stages: z.array(z.object({ stage: Stage, shows: words(1000).min(1) })).max(5),
  /** Null: the usual ones of its kind. */
  gauges: z.array(Gauge).max(120).nullable(),
  /** Poses that are planned, and when. */
  plan: z.array(PlannedPose).max(60).default([]),
  rubric: z.array(RubricLine).max(40),
  exemplar: ExemplarChoice.nullable(),
  rules: z.object({ length: Rule, rate: Rule, loop: Rule }),
  /** A timed drill: so many minutes from when a student begins; handed in once. */
  clockMinutes: z.number().int().min(1).max(600).nullable(),
  /** Whether students may see one way to do it before they hand in, or only with what is sent to them. */
  cures: z.enum(CURES_SHOWN).default('with marks'),
});
export type BriefContent = z.infer<typeof BriefContent>;

/** A brief that says nothing but its title and kind. */
export const EMPTY_BRIEF: Omit<BriefContent, 'title' | 'kind'> = {
  alsoKinds: [],
  text: '',
  fps: 24,
  firstFrame: 1,
  loop: 'auto',
  frames: null,
  ground: 'auto',
  groundHeight: null,
  still: [],
  groups: [],
  watch: [],
  before: [],
  stages: [],
  gauges: null,
  plan: [],
  rubric: [],
  exemplar: null,
  rules: { length: 'warn', rate: 'warn', loop: 'warn' },
  clockMinutes: null,
  cures: 'with marks',
};

/** A file to start from; one of them, a sound, may be heard with every motion that is handed in. */
export const BriefFile = z.object({ id: Id, name: z.string(), bytes: z.number().int(), heard: z.boolean() });
export type BriefFile = z.infer<typeof BriefFile>;

/** What lists show of a brief. */
export const BriefHead = z.object({
  id: Id,
  /** The same for every version of a brief. */
  family: Id,
  version: z.number().int(),
  title: z.string(),
  kind: KindOfExercise,
  text: z.string(),
  clockMinutes: z.number().int().nullable(),
});
export type BriefHead = z.infer<typeof BriefHead>;

/** One version of a brief. */
export const Brief = BriefContent.extend({
  id: Id,
  family: Id,
  version: z.number().int(),
  files: z.array(BriefFile),
});
export type Brief = z.infer<typeof Brief>;

/** A brief in the list of briefs: its newest version, and how much it is used. */
export const ListedBrief = BriefHead.extend({
  frames: z.number().int().nullable(),
  fps: z.number(),
  loop: LoopChoice,
  at: Timestamp,
  archived: Timestamp.nullable(),
  /** Cohorts it is set for, in whichever version, and shots begun on it. */
  cohorts: z.array(z.string()),
  shots: z.number().int(),
  /** Files to start from. */
  files: z.number().int(),
});
export type ListedBrief = z.infer<typeof ListedBrief>;

/** A version among the others: whether a shot was begun on it, so that it can't be changed any more. */
export const BriefVersions = z.object({
  versions: z.array(
    Brief.extend({
      at: Timestamp,
      author: z.string().nullable(),
      shots: z.number().int(),
      archived: Timestamp.nullable(),
    }),
  ),
});
export type BriefVersions = z.infer<typeof BriefVersions>;

/** A change of a brief: made to which version, and to what it said, so that two who change it at once are told. */
export const BriefChange = z.object({ of: Id, was: BriefContent.optional(), content: BriefContent });
export type BriefChange = z.infer<typeof BriefChange>;

/** What was read on shots of the cohorts somebody teaches, as far as a gauge can judge it: for seeing a band against what students do. */
export const ReadingValues = z.object({
  shots: z.array(
    z.object({
      shot: Id,
      student: z.string(),
      readings: z.array(
        z.object({
          id: z.string(),
          part: z.string().optional(),
          value: z.union([z.number(), z.string(), z.boolean()]),
          /** Of its detail what is a number, or yes or no. */
          detail: z.record(z.string(), z.union([z.number(), z.boolean()])),
        }),
      ),
    }),
  ),
});
export type ReadingValues = z.infer<typeof ReadingValues>;

/** A brief as a file of its own, to be carried elsewhere. Briefs to have done before are named by their titles. */
export const BriefFileFormat = z.object({
  format: z.literal('ypsigraph-brief'),
  version: z.literal(1),
  brief: BriefContent.omit({ before: true }).extend({ before: z.array(words(200)).max(20) }),
});
export type BriefFileFormat = z.infer<typeof BriefFileFormat>;
