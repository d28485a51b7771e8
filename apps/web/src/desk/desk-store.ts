import { create } from 'zustand';
import { createJSONStorage, persist, type StateStorage } from 'zustand/middleware';
import type { MarkKind } from '@ypsigraph/contract/vocabulary';
import type { SignalName } from './frames/frame-source.ts';
import type { View } from './paper/view-rig.ts';

/** How the shot is played: every frame, or each held for two or three, or only its key poses, as in blocking. */
export const EXPOSURES = ['ones', 'twos', 'threes', 'poses'] as const;
export type Exposure = (typeof EXPOSURES)[number];

export type GhostsBy = 'frames' | 'poses' | 'twos';

/** What is looked at, and how: shared by paper, strip, dial and margin, and begun anew with every shot. */
interface Looking {
  /** Name of the chosen point; the same is followed in every revision on the desk. */
  readonly point: string | null;
  readonly view: View;
  /** Ids of the lenses that are laid over the paper. */
  readonly lenses: ReadonlySet<string>;
  readonly space: 'world' | 'screen';
  /** The point the view goes with. */
  readonly ride: string | null;
  readonly hidden: ReadonlySet<string>;
  /** The one part that is looked at alone. */
  readonly solo: string | null;
  /** A mark, or a finding, whose frames light up everywhere. */
  readonly lit: string | null;
  /** The finding that the keys act on. */
  readonly picked: string | null;
  /** Labels the strip shows; null for all. */
  readonly window: readonly [number, number] | null;
  readonly exposure: Exposure;
}

/** What a person has chosen once and wants again. */
interface Habits {
  readonly ghostsBy: GhostsBy;
  readonly trace: SignalName;
  readonly weaveBy: 'part' | 'start';
  /** Ids of the lanes that are folded away, by kind of exercise. */
  readonly folded: Readonly<Record<string, readonly string[]>>;
  /** Whether the dial of a loop, and the row of key poses, are shown. */
  readonly dial: boolean;
  readonly poseRow: boolean;
  /** Single letters and digits do something. */
  readonly letters: boolean;
}

interface DeskState extends Looking, Habits {
  /** A kind the composer was asked for by key; counted, so that the same key asks again. */
  readonly asked: { readonly kind: MarkKind; readonly count: number } | null;
  set(changes: Partial<Looking & Habits>): void;
  ask(kind: MarkKind): void;
  toggleLens(id: string): void;
  togglePart(part: string): void;
  toggleLane(kind: string, id: string): void;
  /** As it is when a shot is opened: watch first. */
  begin(view: View): void;
}

const START: Looking = {
  point: null,
  view: 'side',
  lenses: new Set(),
  space: 'world',
  ride: null,
  hidden: new Set(),
  solo: null,
  lit: null,
  picked: null,
  window: null,
  exposure: 'ones',
};

const toggled = <T>(set: ReadonlySet<T>, value: T): ReadonlySet<T> => {
  const next = new Set(set);
  if (!next.delete(value)) next.add(value);
  return next;
};

/** Where there is no page there is nothing to keep. */
const NOWHERE: StateStorage = { getItem: () => null, setItem: () => undefined, removeItem: () => undefined };

export const useDesk = create<DeskState>()(
  persist(
    (set) => ({
      ...START,
      ghostsBy: 'frames',
      trace: 'speed',
      weaveBy: 'part',
      folded: {},
      dial: true,
      poseRow: false,
      letters: true,
      asked: null,
      set: (changes) => set(changes),
      ask: (kind) => set(({ asked }) => ({ asked: { kind, count: (asked?.count ?? 0) + 1 } })),
      toggleLens: (id) => set(({ lenses }) => ({ lenses: toggled(lenses, id) })),
      togglePart: (part) => set(({ hidden }) => ({ hidden: toggled(hidden, part) })),
      toggleLane: (kind, id) =>
        set(({ folded }) => ({ folded: { ...folded, [kind]: [...toggled(new Set(folded[kind] ?? []), id)] } })),
      begin: (view) => set({ ...START, view }),
    }),
    {
      name: 'desk',
      storage: createJSONStorage(() => (typeof localStorage === 'undefined' ? NOWHERE : localStorage)),
      partialize: ({ ghostsBy, trace, weaveBy, folded, dial, poseRow, letters }): Habits => ({
        ghostsBy,
        trace,
        weaveBy,
        folded,
        dial,
        poseRow,
        letters,
      }),
    },
  ),
);

/** Parts that are not drawn: those hidden, and of a solo all others. */
export const unseenParts = (
  parts: readonly string[],
  { hidden, solo }: Pick<Looking, 'hidden' | 'solo'>,
): ReadonlySet<string> => new Set(parts.filter((part) => hidden.has(part) || (solo !== null && solo !== part)));
