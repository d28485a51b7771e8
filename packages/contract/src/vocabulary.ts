import { z } from 'zod';

/** Our own words, as values on the wire and in the database. */
export const Role = z.enum(['instructor', 'assistant', 'student']);
export const Stage = z.enum(['planning', 'blocking', 'breakdowns', 'smoothing', 'polish']);
export const RevisionState = z.enum(['handed in', 'on the desk', 'sent back', 'signed off', 'withdrawn']);
/** Where the reading of a handed-in file stands. */
export const ReadingState = z.enum(['queued', 'reading', 'read', 'failed']);
export const MarkKind = z.enum(['timing', 'spacing', 'arc', 'breakdown', 'overshoot', 'moving hold', 'note']);
export const MarkState = z.enum(['open', 'answered', 'cleared', 'waived']);
export const LoopChoice = z.enum(['auto', 'none', 'repeat', 'follow']);
export const KindOfExercise = z.enum(['walk', 'run', 'jump', 'take', 'turn', 'overlap', 'idle', 'any']);

export type Role = z.infer<typeof Role>;
export type Stage = z.infer<typeof Stage>;
export type RevisionState = z.infer<typeof RevisionState>;
export type ReadingState = z.infer<typeof ReadingState>;
export type MarkKind = z.infer<typeof MarkKind>;
export type MarkState = z.infer<typeof MarkState>;

export const Id = z.uuid();
/** A frame label: what the animator sees in their own program. */
export const FrameLabel = z.number().int().min(-1_000_000).max(1_000_000);
export const Timestamp = z.iso.datetime();
/** Largest file that is taken in. */
export const MAX_FILE_BYTES = 64 * 1024 * 1024;
/** State-changing requests carry this header, which no form of another site can send. */
export const REQUEST_HEADER = 'x-ypsigraph';
