import type { Kind } from '../motion/kinds.ts';
import type { ReadingKind } from './describe.ts';
import { MEASURES, type ReadingId, type Topic, TOPICS } from './registry.ts';

export { type Topic, TOPICS } from './registry.ts';

/** What is told of a reading before it is made. */
export interface CatalogueEntry {
  readonly id: ReadingId;
  /** What people call it. */
  readonly name: string;
  /** Which family of definitions it belongs to. */
  readonly topic: Topic;
  readonly unit: string;
  /** What a shot must have for it, in words. */
  readonly needs: string;
  /** Kinds of exercise it is made for; none: only when it is asked for. */
  readonly kinds: readonly Kind[];
}

/** Every reading the core can make, by topic, in the order in which they are defined. */
export const CATALOGUE: readonly CatalogueEntry[] = TOPICS.flatMap((topic) =>
  MEASURES.filter((family) => family.topic === topic).flatMap(({ readings }) =>
    (readings as readonly ReadingKind<ReadingId>[]).map(({ id, name, unit, needs, kinds }): CatalogueEntry => ({
      id,
      name,
      topic,
      unit,
      needs,
      kinds,
    })),
  ),
);
