import { create } from 'zustand';
import { createJSONStorage, persist, type StateStorage } from 'zustand/middleware';
import type { MarkKind } from '@ypsigraph/contract/vocabulary';
import type { View } from './paper/view-rig.ts';

/** How the shot is played: every frame, or each held for two or three, or only its key poses, as in blocking. */
export const EXPOSURES = ['ones', 'twos', 'threes', 'poses'] as const;
export type Exposure = (typeof EXPOSURES)[number];

/** How two revisions are seen together, where one can be laid over the other. */
export const COMPARED_BY = ['beside', 'behind', 'flicked', 'wiped', 'blended'] as const;
export type ComparedBy = (typeof COMPARED_BY)[number];
/** Ways in which two motions can be seen together, and two clips. */
export const COMPARED: Readonly<Record<'motion' | 'pictures', readonly ComparedBy[]>> = {
  motion: ['beside', 'behind', 'flicked', 'wiped'],
  pictures: ['beside', 'flicked', 'wiped', 'blended'],
};

/** What of two revisions belongs together: frames of one label, or frames that show the same. */
export const ALIGNED_BY = ['label', 'shown'] as const;
export type AlignedBy = (typeof ALIGNED_BY)[number];

/** How a motion and the clip that came with it are seen. */
export const CLIP_BY = ['figure', 'beside', 'under'] as const;
export type ClipBy = (typeof CLIP_BY)[number];

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
  /** Flicking between two revisions, the other one is seen. */
  readonly flicked: boolean;
  /** A loop is played twice in a row, going over the ground as it would. */
  readonly twice: boolean;
  /** Pictures are seen the other way round; turned by quarters to the right; with their pencil made stronger. */
  readonly mirrored: boolean;
  readonly turned: number;
  readonly stronger: boolean;
  /** Whether points are being put on the pictures, which one a click places, and whether the ground is drawn instead. */
  readonly placesPoints: boolean;
  readonly placing: string | null;
  /** Where the older revision ends and the newer begins, wiped; share of the paper's width. */
  readonly wipeAt: number;
  readonly drawsGround: boolean;
  /** A pencil is in the hand: what is drawn on the paper goes to the mark that is being written. */
  readonly pencil: boolean;
  /** The words of the mark are to be written next: their field takes the focus as soon as it is there. */
  readonly wantsWords: boolean;
  readonly findingsOpen: boolean;
  /** Kind of the exercise on the desk: some choices are kept by it. */
  readonly kind: string;
}

/** What a person has chosen once and wants again: the browser keeps all of it. */
interface Habits extends ChosenBefore {
  /** Ids of the lenses that were on last, by kind of exercise: a shot opens with none, and one key brings them back. */
  readonly lensesBefore: Readonly<Record<string, readonly string[]>>;
  /** Ids of the lanes that are folded away, by kind of exercise. */
  readonly folded: Readonly<Record<string, readonly string[]>>;
  /** Whether the dial of a loop, and the row of key poses, are shown. */
  readonly dial: boolean;
  readonly poseRow: boolean;
  /** Frames that the shot goes on by once a point was placed. */
  readonly stepAfter: number;
  /** A student’s own character is drawn as the plain figure. */
  readonly plainFigure: boolean;
  readonly comparedBy: ComparedBy;
  /** Null until somebody chooses: then by what they show where one is longer than the other. */
  readonly alignedBy: AlignedBy | null;
  readonly clipBy: ClipBy;
  /** How much of a clip shows beneath the figure, 0 to 1. */
  readonly clipStrength: number;
  /** What sounds is heard. */
  readonly heard: boolean;
  /** Single letters and digits do something. */
  readonly letters: boolean;
}

/** What was chosen of lenses and lanes, by the id of the choice. */
export interface ChosenBefore {
  readonly chosen: Readonly<Record<string, string>>;
}

const HABITS: Habits = {
  chosen: {},
  lensesBefore: {},
  folded: {},
  dial: true,
  poseRow: false,
  stepAfter: 1,
  plainFigure: false,
  comparedBy: 'beside',
  alignedBy: null,
  clipBy: 'beside',
  clipStrength: 0.8,
  heard: false,
  letters: true,
};
const HABIT_NAMES = Object.keys(HABITS) as (keyof Habits)[];

interface DeskState extends Looking, Habits {
  /** A kind the composer was asked for by key; counted, so that the same key asks again. */
  readonly asked: { readonly kind: MarkKind; readonly count: number } | null;
  set(changes: Partial<Looking & Habits>): void;
  ask(kind: MarkKind): void;
  toggleLens(id: string): void;
  /** All lenses off; where none is on, those that were on last with this kind of exercise. */
  swapLenses(): void;
  togglePart(part: string): void;
  toggleLane(kind: string, id: string): void;
  /** As it is when a shot is opened: watch first. */
  begin(view: View, kind: string): void;
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
  flicked: false,
  twice: false,
  mirrored: false,
  turned: 0,
  stronger: false,
  placesPoints: false,
  placing: null,
  wipeAt: 0.5,
  drawsGround: false,
  pencil: false,
  wantsWords: false,
  findingsOpen: false,
  kind: 'any',
};

/** Lenses that tell most of an exercise, until somebody has chosen others for it. */
const FIRST_LENSES: Readonly<Record<string, readonly string[]>> = {
  walk: ['path', 'contacts'],
  run: ['path', 'contacts'],
  jump: ['path', 'balance', 'contacts'],
  take: ['path', 'action'],
  turn: ['path', 'arcs'],
  overlap: ['lag', 'path'],
  idle: ['path', 'balance'],
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
      ...HABITS,
      asked: null,
      set: (changes) => set(changes),
      ask: (kind) => set(({ asked }) => ({ asked: { kind, count: (asked?.count ?? 0) + 1 } })),
      toggleLens: (id) =>
        set(({ lenses, lensesBefore, kind }) => {
          const next = toggled(lenses, id);
          return { lenses: next, ...(next.size > 0 && { lensesBefore: { ...lensesBefore, [kind]: [...next] } }) };
        }),
      swapLenses: () =>
        set(({ lenses, lensesBefore, kind }) =>
          lenses.size > 0
            ? { lenses: new Set(), lensesBefore: { ...lensesBefore, [kind]: [...lenses] } }
            : { lenses: new Set(lensesBefore[kind] ?? FIRST_LENSES[kind] ?? ['path']) },
        ),
      togglePart: (part) => set(({ hidden }) => ({ hidden: toggled(hidden, part) })),
      toggleLane: (kind, id) =>
        set(({ folded }) => ({ folded: { ...folded, [kind]: [...toggled(new Set(folded[kind] ?? []), id)] } })),
      begin: (view, kind) => set({ ...START, view, kind }),
    }),
    {
      name: 'desk',
      storage: createJSONStorage(() => (typeof localStorage === 'undefined' ? NOWHERE : localStorage)),
      partialize: (state) => Object.fromEntries(HABIT_NAMES.map((name) => [name, state[name]])) as unknown as DeskState,
    },
  ),
);

/** Parts that are not drawn: those hidden, and of a solo all others. */
export const unseenParts = (
  parts: readonly string[],
  { hidden, solo }: Pick<Looking, 'hidden' | 'solo'>,
): ReadonlySet<string> => new Set(parts.filter((part) => hidden.has(part) || (solo !== null && solo !== part)));
