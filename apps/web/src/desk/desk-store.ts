import { create } from 'zustand';
import type { MarkKind } from '@ypsigraph/contract/vocabulary';
import type { View } from './paper/view-rig.ts';

/** What several panels of the desk share besides the frame: what is looked at, and how. */
interface DeskState {
  /** Name of the chosen joint; the same joint is followed in every revision on the desk. */
  readonly joint: string | null;
  readonly view: View;
  readonly path: boolean;
  readonly space: 'world' | 'screen';
  readonly ride: boolean;
  readonly silhouette: boolean;
  readonly hidden: ReadonlySet<string>;
  /** A mark whose frames light up everywhere. */
  readonly lit: string | null;
  /** A kind the composer was asked for by key; counted, so that the same key asks again. */
  readonly asked: { readonly kind: MarkKind; readonly count: number } | null;
  set(changes: Partial<Omit<DeskState, 'set' | 'ask' | 'togglePart'>>): void;
  ask(kind: MarkKind): void;
  togglePart(part: string): void;
}

export const useDesk = create<DeskState>((set) => ({
  joint: null,
  view: 'side',
  path: false,
  space: 'world',
  ride: false,
  silhouette: false,
  hidden: new Set(),
  lit: null,
  asked: null,
  set: (changes) => set(changes),
  ask: (kind) => set(({ asked }) => ({ asked: { kind, count: (asked?.count ?? 0) + 1 } })),
  togglePart: (part) =>
    set(({ hidden }) => {
      const next = new Set(hidden);
      if (!next.delete(part)) next.add(part);
      return { hidden: next };
    }),
}));
