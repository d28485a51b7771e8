import { z } from 'zod';
import { UP_AXES } from '@ypsigraph/core/motion/axes';
import { KINDS } from '@ypsigraph/core/motion/kinds';
import { MARK_KINDS } from '@ypsigraph/core/trade/mark-kinds';
import { STAGES } from '@ypsigraph/core/trade/stages';

/** Which of a file's axes is up; `auto`: found out. */
export const UpChoice = z.enum(['auto', ...UP_AXES]);
export type UpChoice = z.infer<typeof UpChoice>;

/** Our own words, as values on the wire and in the database. */
export const Role = z.enum(['instructor', 'assistant', 'student']);
export const Stage = z.enum(STAGES);
export const RevisionState = z.enum(['handed in', 'on the desk', 'sent back', 'signed off', 'withdrawn']);
/** Where the reading of a handed-in file stands. */
export const ReadingState = z.enum(['queued', 'reading', 'read', 'failed']);
export const MarkKind = z.enum(MARK_KINDS);
export const MarkState = z.enum(['open', 'answered', 'cleared', 'waived']);
export const LoopChoice = z.enum(['auto', 'none', 'repeat', 'follow']);
export type LoopChoice = z.infer<typeof LoopChoice>;
/** What a revision was handed in as. */
export const Media = z.enum(['motion', 'pictures']);
export const KindOfExercise = z.enum(KINDS);

export type Role = z.infer<typeof Role>;
export type Stage = z.infer<typeof Stage>;
export type RevisionState = z.infer<typeof RevisionState>;
export type ReadingState = z.infer<typeof ReadingState>;
export type MarkKind = z.infer<typeof MarkKind>;
export type Media = z.infer<typeof Media>;
export type MarkState = z.infer<typeof MarkState>;

export const Id = z.uuid();
/** A frame label: what the animator sees in their own program. */
export const FrameLabel = z.number().int().min(-1_000_000).max(1_000_000);
export const Timestamp = z.iso.datetime();
/** A moment somebody sets: within the years a school plans in, which every part of the system can hold. */
export const Moment = Timestamp.pipe(
  z.string().refine((text) => /^(19|20|21)\d\d-/.test(text), 'a year from 1900 to 2199 is needed'),
);

/** Half of a pair that makes one character, without the other half. */
const LONE_HALF = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

/** Text that can be stored: of a bounded length, without NUL and without halves of characters. */
export const plain = (most: number) =>
  z
    .string()
    .max(most, `at most ${most} characters`)
    .refine((text) => !text.includes('\0') && !LONE_HALF.test(text), 'a character in it is none that can be stored');
/** What somebody wrote: so many letters at most, without the spaces around it. */
export const words = (most: number) => plain(most).trim();
/** Largest file that is taken in. */
export const MAX_FILE_BYTES = 64 * 1024 * 1024;
/** State-changing requests carry this header, which no form of another site can send. */
export const REQUEST_HEADER = 'x-ypsigraph';
