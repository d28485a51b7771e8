import type { Motion } from '../motion/motion.ts';
import { walkExemplar } from './walk.ts';
import { WALK_DEFAULTS, WALK_FAULTS } from './walk-options.ts';

/** A kind of motion that can be made, with the names of what can be set on it and what can be wrong with it. */
export interface Exemplar {
  readonly defaults: Readonly<Record<string, string | number>>;
  readonly faults: readonly string[];
  make(options: Record<string, unknown>, faults: Record<string, number>): Motion;
}

export const EXEMPLARS: Readonly<Record<string, Exemplar>> = {
  walk: {
    defaults: { ...WALK_DEFAULTS },
    faults: WALK_FAULTS,
    make: (options, faults) => walkExemplar(options, faults),
  },
};
