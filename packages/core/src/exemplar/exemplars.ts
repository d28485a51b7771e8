import type { Motion } from '../motion/motion.ts';
import type { Kind } from '../motion/prepared-shot.ts';
import { HALYARD_DEFAULTS, HALYARD_FAULTS, halyardExemplar } from './halyard.ts';
import { IDLE_DEFAULTS, IDLE_FAULTS, idleExemplar } from './idle.ts';
import { LEAN_DEFAULTS, LEAN_FAULTS, leanExemplar } from './lean.ts';
import { TAKE_DEFAULTS, TAKE_FAULTS, takeExemplar } from './take.ts';
import { TURN_DEFAULTS, TURN_FAULTS, turnExemplar } from './turn.ts';
import { jumpExemplar } from './jump.ts';
import { JUMP_DEFAULTS, JUMP_FAULTS } from './jump-options.ts';
import { STEPS_DEFAULTS, STEPS_FAULTS, stepsExemplar } from './steps.ts';
import { runExemplar, walkExemplar } from './walk.ts';
import { RUN_DEFAULTS, RUN_FAULTS, WALK_DEFAULTS, WALK_FAULTS } from './walk-options.ts';

/** A kind of motion that can be made, with the names of what can be set on it and what can be wrong with it. */
export interface Exemplar {
  /** The kind of exercise it is measured as. */
  readonly kind: Kind;
  readonly defaults: Readonly<Record<string, string | number>>;
  readonly faults: readonly string[];
  make(options: Record<string, unknown>, faults: Record<string, number>): Motion;
}

export const EXEMPLARS: Readonly<Record<string, Exemplar>> = {
  walk: { kind: 'walk', defaults: { ...WALK_DEFAULTS }, faults: WALK_FAULTS, make: walkExemplar },
  run: { kind: 'run', defaults: { ...RUN_DEFAULTS }, faults: RUN_FAULTS, make: runExemplar },
  steps: { kind: 'walk', defaults: { ...STEPS_DEFAULTS }, faults: STEPS_FAULTS, make: stepsExemplar },
  jump: { kind: 'jump', defaults: { ...JUMP_DEFAULTS }, faults: JUMP_FAULTS, make: jumpExemplar },
  take: { kind: 'take', defaults: { ...TAKE_DEFAULTS }, faults: TAKE_FAULTS, make: takeExemplar },
  turn: { kind: 'turn', defaults: { ...TURN_DEFAULTS }, faults: TURN_FAULTS, make: turnExemplar },
  overlap: { kind: 'overlap', defaults: { ...HALYARD_DEFAULTS }, faults: HALYARD_FAULTS, make: halyardExemplar },
  lean: { kind: 'overlap', defaults: { ...LEAN_DEFAULTS }, faults: LEAN_FAULTS, make: leanExemplar },
  idle: { kind: 'idle', defaults: { ...IDLE_DEFAULTS }, faults: IDLE_FAULTS, make: idleExemplar },
};
