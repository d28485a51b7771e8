import type { ReactNode } from 'react';
import type { LoosePose } from '@ypsigraph/core/posing/loose-pose';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { PayloadOf } from '@ypsigraph/core/mark/mark';
import type { Labels } from '@ypsigraph/core/mark/mark-tool';
import type { MarkKind } from '@ypsigraph/core/trade/mark-kinds';
import type { Draft } from '../../margin/draft.ts';
import type { FrameSource } from '../../frames/frame-source.ts';
import type { DrawnMark } from '../drawn-mark.ts';
import type { LensFrame } from '../../lenses/lens.ts';
import type { Line, PlaceThenAndNow, Traced } from './traced.ts';

/** Numbers of a kind that were measured. */
export type Told<K extends MarkKind> = PayloadOf<K> & { readonly measured: NonNullable<PayloadOf<K>['measured']> };
/** Numbers of a kind of which something is wanted. */
export type Asked<K extends MarkKind> = Told<K> & { readonly wanted: NonNullable<PayloadOf<K>['wanted']> };
type Wanted<K extends MarkKind> = NonNullable<PayloadOf<K>['wanted']>;

export interface FieldsProps<K extends MarkKind> {
  readonly payload: Asked<K>;
  readonly want: (wanted: Wanted<K>) => void;
  readonly draft: Draft;
  readonly setDraft: (draft: Draft) => void;
  /** The shot that the mark is written on. */
  readonly source: FrameSource | undefined;
}

/** Where a mark lies on what is shown. */
export interface Shown extends Labels {
  readonly source: FrameSource;
  readonly sample: number;
}

/** A place on the paper by which what is wanted is pulled. */
export interface Grip<W> {
  readonly id: string;
  /** What it is, as its button says. */
  readonly label: string;
  /** In the shot's own coordinates. */
  readonly place: readonly [number, number, number];
  /** It is drawn small: one of many. */
  readonly small?: true;
  /** What is wanted once it is pulled to a place; undefined where nothing comes of that. */
  pull(place: readonly [number, number, number]): W | undefined;
  /** What is wanted once an arrow key has turned it by so many steps; left out where an arrow moves it over the paper. */
  turn?(steps: number): W | undefined;
}

/** A timing chart: how far each frame is on the way. */
export interface ChartFacts {
  readonly measured: readonly number[];
  readonly wanted: readonly number[] | null;
}

/**
 * What the page has of one kind of mark: everything but what the core measures. A kind shows what it has, and leaves out the rest. Composer, cards, paper,
 * strip, trace, keys and return sheet ask the registry and know no kind by name.
 */
export interface MarkKindView<K extends MarkKind> {
  /** What it is about, as it is said where a kind is chosen. */
  readonly about: string;
  /** Its sign, drawn about its own middle, 12 by 12. */
  readonly sign: ReactNode;
  /** Fields for what is wanted, while it is written. */
  readonly Fields?: (props: FieldsProps<K>) => ReactNode;
  /** Draws what is wanted over the paper; the point's own path and its ring are drawn for every kind. */
  readonly draw?: (frame: LensFrame, mark: DrawnMark, payload: Asked<K>) => void;
  /** What is wanted of the signal that the trace shows; empty where it wants nothing of that one. */
  readonly trace?: (payload: Asked<K>, place: PlaceThenAndNow, traced: Traced) => Line;
  /** Frames that are wanted, on the strip, where they can be dragged. */
  readonly frames?: {
    read(payload: Asked<K>): Labels | undefined;
    write(labels: Labels, payload: Asked<K>): Wanted<K>;
  };
  /** Places on the paper by which it is pulled, while it is written. */
  readonly grips?: (payload: Asked<K>, shown: Shown) => readonly Grip<Wanted<K>>[];
  /** The figure that is wanted, posed. */
  readonly posed?: (payload: Asked<K>, shot: PreparedShot, sample: number) => LoosePose | undefined;
  /** The line that is wanted, flat x, y, z. */
  readonly line?: (wanted: Wanted<K>) => ArrayLike<number>;
  /** A timing chart of it, on its card and on the return sheet. */
  readonly chart?: (payload: Told<K>) => ChartFacts;
}
