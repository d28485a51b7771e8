import { z } from 'zod';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { Id, KindOfExercise, Timestamp, words } from './vocabulary.ts';

/** A shot that is shown to its cohort, with its student's consent. */
export const Showing = z.object({
  shot: Id,
  cohort: z.object({ id: Id, name: z.string() }),
  student: z.string(),
  exercise: z.string(),
  kind: KindOfExercise,
  revisions: z.number().int(),
  /** The newest of them. */
  newest: Id,
  at: Timestamp,
  words: z.string(),
});
export type Showing = z.infer<typeof Showing>;

const faultsOf = (exemplar: string): readonly string[] | undefined =>
  Object.hasOwn(EXEMPLARS, exemplar) ? EXEMPLARS[exemplar]!.faults : undefined;

/** An exemplar with a fault dialled in, beside one way to do it: what a cohort is shown of a fault without anybody's shot. */
export const FaultyExemplar = z
  .object({
    exemplar: z.string().max(40),
    fault: z.string().max(40),
    /** As its dial counts it. */
    size: z.number().positive().max(1e4),
    words: words(1000).default(''),
  })
  .refine(({ exemplar }) => faultsOf(exemplar) !== undefined, {
    path: ['exemplar'],
    message: 'there is no such exemplar',
  })
  .refine(({ exemplar, fault }) => faultsOf(exemplar)?.includes(fault) !== false, {
    path: ['fault'],
    message: 'the exemplar has no such fault',
  });
export type FaultyExemplar = z.input<typeof FaultyExemplar>;

export const ShownExemplar = z.object({
  id: Id,
  cohort: z.object({ id: Id, name: z.string() }),
  exemplar: z.string(),
  fault: z.string(),
  size: z.number(),
  words: z.string(),
  by: z.string(),
  at: Timestamp,
});
export type ShownExemplar = z.infer<typeof ShownExemplar>;
