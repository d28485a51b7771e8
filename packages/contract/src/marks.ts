import { z } from 'zod';
import { MARK_TOOLS, type Payload as CorePayload } from '@ypsigraph/core/mark/mark';
import type { NumberShape } from '@ypsigraph/core/mark/number-shape';
import { StoredRecipe } from './recipes.ts';
import { FrameLabel, Id, MarkKind, MarkState, plain, Role, Stage, Timestamp, words } from './vocabulary.ts';

const number = z.number().min(-1e9).max(1e9);
const readingId = plain(60).min(1);

/** How much a mark matters: what must be done before anything else, what should be, and what would be nice. */
export const Weight = z.enum(['must', 'should', 'nice']);
export type Weight = z.infer<typeof Weight>;

export const Quote = z.object({
  reading: readingId,
  part: plain(200).optional(),
  of: plain(60).optional(),
  value: z.union([number, plain(80), z.boolean()]),
  unit: plain(20),
  band: z.tuple([number.nullable(), number.nullable()]).optional(),
  allowed: z
    .array(z.union([plain(80), z.boolean()]))
    .max(20)
    .optional(),
});

const triples = (least: number, most: number) =>
  z
    .array(number)
    .min(3 * least)
    .max(3 * most)
    .refine((list) => list.length % 3 === 0, 'three numbers a point');
/** A field of a mark's numbers, by its shape. */
function fieldOf({ optional, nullable, ...shape }: NumberShape): z.ZodType {
  const plainField = plainFieldOf(shape);
  const orNull = nullable ? plainField.nullable() : plainField;
  return optional ? orNull.optional() : orNull;
}

function plainFieldOf(shape: NumberShape): z.ZodType {
  switch (shape.is) {
    case 'label':
      return FrameLabel;
    case 'percent':
      return z.number().min(-10_000).max(10_000);
    case 'length':
      return z.number().min(0).max(1_000_000);
    case 'size':
      return z.number().positive().max(1e9);
    case 'shares':
      return z.array(z.number().min(-100).max(100)).min(shape.least).max(shape.most);
    case 'places':
      return triples(shape.least, shape.most);
    case 'number':
      return number;
    case 'by name':
      return z
        .record(plain(200).min(1), z.array(number).length(shape.numbers))
        .refine((all) => Object.keys(all).length <= shape.most, `at most ${shape.most} of them`);
    case 'word':
      return plain(200);
    case 'one of':
      return z.enum(shape.words);
  }
}

/** Numbers by their shape, or none; of those that lie from one frame to another the first does not come after the last. */
const fieldsOf = (shape: Readonly<Record<string, NumberShape>> | null | undefined): z.ZodType => {
  if (!shape) return z.null();
  return z
    .object(Object.fromEntries(Object.entries(shape).map(([name, own]) => [name, fieldOf(own)])))
    .refine(({ from, to }) => typeof from !== 'number' || typeof to !== 'number' || from <= to, {
      path: ['to'],
      message: 'the last frame comes before the first',
    })
    .nullable();
};

interface Nullable {
  readonly measured: unknown;
  readonly wanted: unknown;
}

const numbersOf = ({ kind, numbers }: (typeof MARK_TOOLS)[MarkKind]) =>
  z
    .object({
      kind: z.literal(kind),
      core: plain(20),
      quote: Quote.optional(),
      measured: fieldsOf(numbers?.measured),
      wanted: fieldsOf(numbers?.wanted),
    })
    // What is read of both is only whether they are there.
    .refine((own) => (own as Nullable).measured !== null || (own as Nullable).wanted === null, {
      path: ['wanted'],
      message: 'nothing can be wanted of what is not measured',
    });

const [first, ...others] = Object.values(MARK_TOOLS).map(numbersOf);
const numbersByKind = z.discriminatedUnion('kind', [first!, ...others]);
/** The numbers of a mark by its kind: what is measured and what is wanted, in frame labels and in the shot's own coordinates. */
export const Payload = numbersByKind as unknown as z.ZodType<CorePayload, CorePayload>;
export type Payload = CorePayload;

/** A pencil line, in the shot's own coordinates: it sticks to the mark's point and goes with it, or stays at its place. */
export const PencilLine = z.object({
  sticks: z.enum(['point', 'place']),
  points: triples(1, 500),
});
export type PencilLine = z.infer<typeof PencilLine>;

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
  /** What it hangs on: a joint's name, of a picture a followed point's; null where it is about the whole. */
  point: z.string().nullable(),
  part: z.string().nullable(),
  weight: Weight,
  /** The stage it is for. */
  stage: Stage,
  payload: Payload.nullable(),
  /** What would put it right, on the shot it was made on; null where none goes with it. */
  cure: StoredRecipe.nullable(),
  lines: z.array(PencilLine),
  words: z.string(),
  state: MarkState,
  /** Counted up with every change: who changes an older one is told. */
  version: z.number().int(),
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

/** What has happened to a mark: from when it was made, for its student from when it was sent. */
export const MarkEvent = z.object({
  what: z.enum(['made', 'changed', 'sent', 'answered', 'open', 'cleared', 'waived', 'placed', 'archived']),
  author: z.object({ id: Id, name: z.string() }),
  at: Timestamp,
});
export type MarkEvent = z.infer<typeof MarkEvent>;

const said = {
  kind: MarkKind,
  from: FrameLabel,
  to: FrameLabel,
  point: plain(200).min(1).nullable(),
  part: plain(200).min(1).nullable(),
  weight: Weight,
  stage: Stage,
  payload: Payload.nullable(),
  cure: StoredRecipe.nullable(),
  lines: z.array(PencilLine).max(40, 'at most 40 pencil lines'),
  words: words(4000).min(1, 'a mark needs words'),
};

export const NewMark = z
  .object({
    ...said,
    part: said.part.default(null),
    weight: said.weight.default('should'),
    /** Left out, the stage of the revision. */
    stage: said.stage.optional(),
    payload: said.payload.default(null),
    cure: said.cure.default(null),
    lines: said.lines.default([]),
    /** Made by the page: sending the same mark twice makes one. */
    key: z.uuid(),
  })
  .refine((mark) => mark.from <= mark.to, { path: ['to'], message: 'the last frame comes before the first' })
  .refine((mark) => mark.payload === null || mark.payload.kind === mark.kind, {
    path: ['payload', 'kind'],
    message: 'the numbers are of another kind of mark',
  });
export type NewMark = z.input<typeof NewMark>;
export type MadeMark = z.output<typeof NewMark>;

/** What changes of a mark; with the version it was seen at, so that nobody writes over what somebody else wrote meanwhile. */
export const MarkChange = z.object({ ...said, version: z.number().int() }).partial();
export type MarkChange = z.infer<typeof MarkChange>;

export const MarkVerdict = z.object({ state: z.enum(['open', 'cleared', 'waived']) });
export type MarkVerdict = z.infer<typeof MarkVerdict>;

export const NewReply = z.object({ words: words(4000).min(1, 'an answer needs words'), key: z.uuid() });
export type NewReply = z.infer<typeof NewReply>;

/** A finding that is no fault here: put aside for this shot, with the reason. */
export const Dismissal = z.object({ reading: readingId, part: z.string().nullable(), reason: z.string() });
export type Dismissal = z.infer<typeof Dismissal>;
export const NewDismissal = z.object({
  reading: readingId,
  part: plain(200).min(1).nullable(),
  /** Null takes it back. */
  reason: words(500).min(1, 'a reason is needed').nullable(),
});
export type NewDismissal = z.infer<typeof NewDismissal>;

/** A remark kept for reuse. `{now}`, `{wanted}`, `{from}`, `{to}` and `{point}` are filled in where it is used. */
export const Phrase = z.object({ id: Id, kind: MarkKind, reading: z.string().nullable(), words: z.string() });
export type Phrase = z.infer<typeof Phrase>;
export const NewPhrase = z.object({
  key: z.uuid(),
  kind: MarkKind,
  reading: readingId.nullable().default(null),
  words: words(1000).min(1, 'a phrase needs words'),
});
export type NewPhrase = z.input<typeof NewPhrase>;

/** A key pose as somebody set it by hand. */
export const Pose = z.object({ label: FrameLabel, name: plain(60).trim() });
export type Pose = z.infer<typeof Pose>;
/** The key poses of a revision as they were set by hand; null for those the core finds. */
export const Poses = z.object({ poses: z.array(Pose).max(400).nullable() });
export type Poses = z.infer<typeof Poses>;
