import { create } from 'zustand';
import { exposedBy } from '@ypsigraph/core/remedy/exposure-list';
import type { MissingDrawing } from '@ypsigraph/core/remedy/missing-drawings';
import { type Recipe, RemedyError } from '@ypsigraph/core/remedy/remedy';
import type { FrameSource } from '../frames/frame-source.ts';

/** What the drawings are opened with. */
interface Opened {
  readonly recipe?: Recipe;
  readonly mark?: string;
  readonly missing?: readonly MissingDrawing[];
}

interface DrawingsState {
  /** Whose drawings are exposed otherwise; undefined where none are. */
  readonly source: FrameSource | undefined;
  readonly recipe: Recipe;
  /** Recipes as they were before, the last last. */
  readonly before: readonly Recipe[];
  /** Which drawing each frame shows, 0 for the first. */
  readonly shown: readonly number[];
  /** Where the spacing that a mark wants has no drawing, and the points it is seen at. */
  readonly missing: readonly MissingDrawing[];
  /** Why the last change could not be made. */
  readonly why: string | undefined;
  /** The mark it is kept with. */
  readonly mark: string | undefined;
  open(source: FrameSource, opened?: Opened): void;
  change(recipe: Recipe): void;
  undo(): void;
  /** The same clip with other points on it, or measured anew: its drawings stay as they were put. */
  follow(source: FrameSource): void;
  close(): void;
}

const NOTHING = {
  ...{ source: undefined, recipe: [], before: [], shown: [] },
  ...{ missing: [], why: undefined, mark: undefined },
} as const;

/** Which drawing each frame of a clip shows as it was handed in. */
export const asHandedIn = ({ exposed = [] }: FrameSource): number[] =>
  exposed.flatMap(({ length }, drawing) => Array.from({ length }, () => drawing));

/** Whether two sources show the same clip on the same frames: what is measured of it makes another of them. */
export const sameDrawings = (a: FrameSource | undefined, b: FrameSource | undefined): boolean =>
  a !== undefined &&
  b !== undefined &&
  (a === b ||
    (a.pictures !== undefined && a.pictures === b.pictures && a.first === b.first && asHeld(a) === asHeld(b)));

const asHeld = ({ exposed = [] }: FrameSource): string => exposed.map(({ length }) => length).join();

function listOf(source: FrameSource, recipe: Recipe): { shown: readonly number[] } | { why: string } {
  try {
    return { shown: exposedBy(asHandedIn(source), source.first, recipe) };
  } catch (error) {
    if (error instanceof RemedyError) return { why: error.message };
    throw error;
  }
}

/** The drawings of the clip on the desk, exposed otherwise: they are shown so as it is played and stepped. */
export const useDrawings = create<DrawingsState>()((set, get) => ({
  ...NOTHING,
  open: (source, { recipe = [], mark, missing = [] } = {}) =>
    set({ ...NOTHING, source, recipe, mark, missing, ...listOf(source, recipe) }),
  change: (recipe) => {
    const { source, recipe: now, before } = get();
    if (!source) return;
    const made = listOf(source, recipe);
    // What can't be made changes nothing.
    set('why' in made ? { why: made.why } : { recipe, before: [...before, now], why: undefined, ...made });
  },
  undo: () => {
    const { source, before } = get();
    const last = before.at(-1);
    if (source && last) set({ recipe: last, before: before.slice(0, -1), why: undefined, ...listOf(source, last) });
  },
  follow: (source) => {
    const { source: own } = get();
    if (own !== source && sameDrawings(own, source)) set({ source });
  },
  close: () => set(NOTHING),
}));

/** The label of the frame that shows what is exposed at a label; undefined where drawings stand as they were handed in. */
export function exposedLabel(source: FrameSource, label: number): number | undefined {
  const { source: own, shown } = useDrawings.getState();
  if (own !== source || shown.length === 0) return undefined;
  const at = Math.min(shown.length - 1, Math.max(0, label - source.first));
  return source.exposed![shown[at]!]!.from;
}
