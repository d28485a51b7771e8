import type { Kind } from '../motion/kinds.ts';
import { MEASURES, type Topic, TOPICS } from './registry.ts';

export { TOPICS } from './registry.ts';

/** What is told of a reading before it is made. */
export interface CatalogueEntry {
  readonly id: string;
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
    readings.map(({ id, unit, needs, kinds }): CatalogueEntry => ({ id, topic, unit, needs, kinds })),
  ),
);
