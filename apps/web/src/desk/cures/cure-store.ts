import { create } from 'zustand';
import type { Recipe } from '@ypsigraph/core/remedy/remedy';
import type { StoredRecipe } from '@ypsigraph/core/remedy/stored-recipe';
import type { Shown } from '../../workers/cure.worker.ts';

/** What a cure is for: it can be kept with the mark that is made of it. */
export interface CureFor {
  /** Whose frames it is laid over. */
  readonly revision: string;
  /** In words. */
  readonly about: string;
  /** A finding's reading and part; undefined of a mark's. */
  readonly finding?: { readonly reading: string; readonly part: string | undefined };
  /** The mark it goes with, or is made for. */
  readonly mark?: string;
  /** As it was kept, where another version of the core made it: it may come out otherwise today. */
  readonly keptAs?: StoredRecipe;
}

/** How the cure is seen with the shot. */
export const CURE_SEEN = ['over', 'beside', 'wiped', 'flicked'] as const;
export type CureSeen = (typeof CURE_SEEN)[number];

interface CureState {
  readonly on: CureFor | undefined;
  /** Undefined while it is being sought. */
  readonly recipe: Recipe | undefined;
  /** Recipes as they were before, the last last: each change is taken back by itself. */
  readonly before: readonly Recipe[];
  readonly shown: Shown | undefined;
  readonly why: string | undefined;
  readonly seen: CureSeen;
  begin(on: CureFor, recipe?: Recipe): void;
  /** What was sought was found, or why not. */
  found(on: CureFor, answer: { recipe: Recipe } | { why: string }): void;
  /** @param goesOn one more change of a hand that is still dragging: it is taken back with the one before */
  change(recipe: Recipe, goesOn?: boolean): void;
  undo(): void;
  show(recipe: Recipe, answer: Shown | { why: string }): void;
  look(seen: CureSeen): void;
  close(): void;
}

const NOTHING = { on: undefined, recipe: undefined, before: [], shown: undefined, why: undefined } as const;

/** The cure that lies on the desk: one at a time. */
export const useCures = create<CureState>()((set, get) => ({
  ...NOTHING,
  seen: 'over',
  begin: (on, recipe) => set({ ...NOTHING, on, recipe }),
  found: (on, answer) => {
    if (get().on !== on) return;
    set('why' in answer ? { why: answer.why } : { recipe: answer.recipe });
  },
  change: (recipe, goesOn = false) =>
    set(({ recipe: now, before }) => ({ recipe, before: now && !goesOn ? [...before, now] : before })),
  undo: () =>
    set(({ before }) => {
      const last = before.at(-1);
      return last ? { recipe: last, before: before.slice(0, -1) } : {};
    }),
  // What was asked before the last change is not shown any more.
  show: (recipe, answer) => {
    if (get().recipe !== recipe) return;
    set('why' in answer ? { why: answer.why } : { shown: answer, why: undefined });
  },
  look: (seen) => set({ seen }),
  close: () => set(NOTHING),
}));
