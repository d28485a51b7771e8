import type { Reading } from '../measure/reading.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { ShapeOf } from './number-shape.ts';
import type { MarkKind } from '../trade/mark-kinds.ts';

/** A reading a mark was made from, with what its brief allows: what is measured again when a later revision is held against the mark. */
export interface Quote {
  readonly reading: string;
  readonly part?: string;
  /** A number in the reading's detail that is meant in place of its value. */
  readonly of?: string;
  readonly value: Reading['value'];
  readonly unit: string;
  /** Lowest and highest value wanted; null where there is no limit on that side. */
  readonly band?: readonly [low: number | null, high: number | null];
  readonly allowed?: readonly (string | boolean)[];
}

/** From one label to another; one label where both are the same. */
export interface Labels {
  readonly from: number;
  readonly to: number;
}

/** Where a mark stands: its labels, and the point and part it is about. */
export interface MarkPlace extends Labels {
  /** A label of its own between the two, of a kind that has one (a breakdown's); the middle where it is not given. */
  readonly inner?: number;
  /** A joint's name; null for the whole body. */
  readonly point: string | null;
  readonly part?: string | null;
}

/** A shot held against what a mark wants. */
export interface Met {
  /** In words, such as “2.1 % of a leg”. */
  readonly now: string;
  /** How far from what is wanted, in `unit`; 0 or less where it is reached. */
  readonly distance: number;
  readonly unit: string;
  /** On which side of what is wanted it lies: under it, over it; 0 where that says nothing. */
  readonly side: -1 | 0 | 1;
  /** The same in times what is near enough, of a kind that tells now one unit and now another. */
  readonly times?: number;
  readonly met: boolean;
}

/** What is there and what is wanted, in words. */
export interface MarkWords {
  readonly now: string;
  readonly wanted: string;
}

/**
 * Frames a mark is about that was put on one: from the key pose there to the next, between the key poses about it, or the whole of the move or hold
 * that was measured there (whose numbers then are `Labels`).
 */
export type Span = 'to the next pose' | 'between poses' | 'as measured';

/**
 * One kind of mark: what it measures where it is put, what it proposes, and how a shot is held against it.
 *
 * @typeParam M what is measured: labels, and places in the shot's own coordinates
 * @typeParam W what is wanted in its place
 */
export interface MarkTool<K extends MarkKind, M, W> {
  readonly kind: K;
  /** What its numbers hold, field by field; null of one that is words alone. */
  readonly numbers: { readonly measured: ShapeOf<M>; readonly wanted: ShapeOf<W> } | null;
  /** Which frames a mark is about that was put on one of them: that one where it is left out. */
  readonly spans?: Span;
  /** A label of its own between its first and its last. */
  inner?(measured: M): number;
  /**
   * Null where the place shows nothing of the kind.
   * @param like numbers whose own choice, of a quantity, of a pair of events, is measured again
   */
  measure(shot: PreparedShot, place: MarkPlace, like?: M): M | null;
  /** What to ask for until somebody says otherwise. */
  propose(measured: M, place: MarkPlace): W;
  say(measured: M | null, wanted: W | null, place: MarkPlace): MarkWords;
  /**
   * How far what is measured is from what is wanted, in `unit`, less what is near enough: met from 0 down. Undefined where nothing is asked for yet.
   * @param then what was measured when the mark was made, where what lies past the wanted can only be told from there
   */
  distance(measured: M, wanted: W, then?: M): Distance | undefined;
}

/** How far from what is wanted, in `unit`, and on which side of it. */
export interface Distance {
  readonly distance: number;
  readonly unit: string;
  readonly side?: -1 | 0 | 1;
  /** The same in times what is near enough, of a kind that tells now one unit and now another. */
  readonly times?: number;
}
