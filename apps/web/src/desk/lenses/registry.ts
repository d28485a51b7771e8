import { ACTION } from './action-lens.ts';
import { ARCS } from './arcs-lens.ts';
import { BALANCE } from './balance-lens.ts';
import { CAUSE } from './cause-lens.ts';
import { CONTACTS } from './contacts-lens.ts';
import { DIFFERENCE } from './difference-lens.ts';
import { GHOSTS } from './ghosts-lens.ts';
import { LAG } from './lag-lens.ts';
import type { AnyLens } from './lens.ts';
import { MIRROR } from './mirror-lens.ts';
import { PATH } from './path-lens.ts';
import { QUANTITY } from './quantity-lens.ts';
import { REFERENCE } from './reference-lens.ts';
import { SILHOUETTE } from './silhouette-lens.ts';

/** Every lens, in the order in which they lie over one another. */
export const LENSES: readonly AnyLens[] = [
  DIFFERENCE,
  REFERENCE,
  GHOSTS,
  MIRROR,
  ARCS,
  PATH,
  CONTACTS,
  BALANCE,
  ACTION,
  LAG,
  QUANTITY,
  CAUSE,
  SILHOUETTE,
];
