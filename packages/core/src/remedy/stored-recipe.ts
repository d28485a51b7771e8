import { CORE_VERSION } from '../measure/registry.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { largestOf } from '../signal/statistics.ts';
import { keyedChanges } from './keyed-changes.ts';
import type { Treated } from './recipe.ts';
import type { Recipe } from './remedy.ts';

/** What a recipe came to when it was stored: told by it whether the core of another day makes something else of it. */
export interface Outcome {
  /** Frames of the shot then. */
  readonly frames: number;
  /** Joints with the largest change of each, ° or %L; those with most change. */
  readonly changes: readonly { readonly joint: string; readonly most: number }[];
}

/** A recipe as it is stored: with the version of the core that made it, and what came of it. */
export interface StoredRecipe {
  readonly core: string;
  readonly steps: Recipe;
  readonly came?: Outcome | undefined;
}

/** So many joints tell what came of a recipe. */
export const OUTCOME_JOINTS = 12;
/** A change within this of what it was, ° or %L, and within this share of it, is the same. */
const SAME = { amount: 1, share: 0.05 } as const;

/** A recipe as it is stored by this core. */
export const stored = (steps: Recipe, came?: Outcome): StoredRecipe => ({
  core: CORE_VERSION,
  steps,
  ...(came && { came }),
});

/** What a recipe came to on a shot. */
export function outcomeOf(before: PreparedShot, treated: Pick<Treated, 'shot' | 'map'>): Outcome {
  const most = new Map<string, number>();
  for (const { joint, keys } of keyedChanges(before, treated))
    most.set(joint, Math.max(most.get(joint) ?? 0, largestOf(keys.map(({ by }) => Math.abs(by)))));
  return {
    frames: treated.shot.played.motion.frames,
    changes: [...most].slice(0, OUTCOME_JOINTS).map(([joint, own]) => ({ joint, most: Number(own.toFixed(1)) })),
  };
}

/** Where a recipe comes out otherwise than when it was stored. */
export interface Differs {
  /** The joint that differs most; undefined where the shot has another number of frames. */
  readonly joint?: string;
  readonly then: number;
  readonly now: number;
}

/**
 * Where a recipe comes out otherwise today, by more than anyone would see; undefined where it comes out the same, or nobody knows what it came to.
 *
 * @example differsFrom({ frames: 25, changes: [{ joint: 'head', most: 20 }] }, { frames: 25, changes: [{ joint: 'head', most: 12 }] }) // { joint: 'head', then: 20, now: 12 }
 */
export function differsFrom(came: Outcome | undefined, today: Outcome): Differs | undefined {
  if (!came) return undefined;
  if (came.frames !== today.frames) return { then: came.frames, now: today.frames };
  const value = (own: Outcome, name: string): number => own.changes.find(({ joint }) => joint === name)?.most ?? 0;
  // What is not told lies under what is: of many joints alike one may have lost its place to another.
  const least = (own: Outcome): number =>
    own.changes.length < OUTCOME_JOINTS ? 0 : own.changes[OUTCOME_JOINTS - 1]!.most;
  const floor = Math.max(least(came), least(today));
  const names = [...new Set([...came.changes, ...today.changes].map(({ joint }) => joint))];
  const far = names.flatMap((joint): Differs[] => {
    const [then, now] = [value(came, joint), value(today, joint)];
    const most = Math.max(then, now);
    const isTold = Math.min(then, now) > 0 || most > floor;
    return isTold && Math.abs(then - now) > Math.max(SAME.amount, SAME.share * most) ? [{ joint, then, now }] : [];
  });
  return far.toSorted((a, b) => Math.abs(b.then - b.now) - Math.abs(a.then - a.now))[0];
}
