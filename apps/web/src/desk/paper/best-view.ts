import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { FixedView } from './view-rig.ts';

/** The side an exercise reads best from (common practice): what goes somewhere from the side, a face from the front. */
const BEST: Readonly<Record<PreparedShot['kind'], FixedView>> = {
  walk: 'side',
  run: 'side',
  jump: 'side',
  take: 'three-quarter',
  turn: 'front',
  overlap: 'side',
  idle: 'three-quarter',
  any: 'three-quarter',
};

export const readsBestFrom = (kind: PreparedShot['kind']): FixedView => BEST[kind];
