import type { MarkKind } from '../trade/mark-kinds.ts';
import type { Reading } from '../measure/reading.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';

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

/** How far each frame from the first label to the last is on the way, 0 to 1. */
export interface Spacing {
  readonly fractions: readonly number[];
}

/** A path in the shot's own coordinates, flat x, y, z: one point a frame. */
export interface MeasuredArc {
  readonly points: readonly number[];
  /** A leg's length in the same units: distances are told as a share of it. */
  readonly leg: number;
}
/** The arc that is wanted, by three to five points it goes through, flat x, y, z. */
export interface WantedArc {
  readonly through: readonly number[];
}

export interface MeasuredBreakdown {
  /** Label of the breakdown; the two poses are the mark's own ends. */
  readonly at: number;
  /** How much it is the first pose, percent, and what the straight way does not explain. */
  readonly favour: number;
  readonly departure: number;
}
export interface WantedBreakdown {
  readonly favour: number;
}

export interface MeasuredOvershoot extends Labels {
  /** How far past its end, percent of the move. */
  readonly depth: number;
  readonly frames: number;
  readonly swings: number;
  /** How far the other way first, percent of the move. */
  readonly anticipation: number;
}
export interface WantedOvershoot {
  readonly depth: number;
  readonly frames: number;
  readonly anticipation: number;
}

export interface MeasuredHold extends Labels {
  /** Percent of the move before it; null where no move comes before, or it turns round without a hold. */
  readonly drift: number | null;
  readonly kind: 'dead' | 'moving' | 'creeping';
}
export interface WantedHold extends Labels {
  readonly drift: number;
}

/** What is there, null where nothing could be measured; and what is wanted in its place, null where words say it. Nothing is wanted of what is not measured. */
type Pair<M, W> =
  { readonly measured: M; readonly wanted: W | null } | { readonly measured: null; readonly wanted: null };

type Numbers<K extends string, M, W> = Pair<M, W> & {
  readonly kind: K;
  /** Version of the core that measured. */
  readonly core: string;
  readonly quote?: Quote;
};

/** When something happens: its labels, and, of one pose, what the pose is called. */
export interface MeasuredTiming extends Labels {
  readonly pose?: string;
}

/** The numbers of a mark, by its kind; frames are labels, places in the shot's own coordinates. */
export type Payload =
  | Numbers<'timing', MeasuredTiming, Labels>
  | Numbers<'spacing', Spacing, Spacing>
  | Numbers<'arc', MeasuredArc, WantedArc>
  | Numbers<'breakdown', MeasuredBreakdown, WantedBreakdown>
  | Numbers<'overshoot', MeasuredOvershoot, WantedOvershoot>
  | Numbers<'moving hold', MeasuredHold, WantedHold>
  | Numbers<'note', null, null>;

/** Every kind of mark has numbers of its own, and no other kind has any. */
export type PayloadKind = MarkKind;
export type PayloadOf<K extends PayloadKind> = Extract<Payload, { readonly kind: K }>;

/** The same numbers with something else wanted; as they are where nothing is measured. */
export function asking<K extends PayloadKind>(
  payload: PayloadOf<K>,
  wanted: NonNullable<PayloadOf<K>['wanted']>,
): PayloadOf<K> {
  return payload.measured === null ? payload : { ...payload, wanted };
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

/** One kind of mark: what it measures where it is put, what it proposes, and how a shot is held against it. */
export interface MarkTool<K extends PayloadKind> {
  readonly kind: K;
  /** Which frames a mark is about that was put on one of them: that one where it is left out. */
  readonly spans?: Span;
  /** A label of its own between its first and its last. */
  inner?(measured: NonNullable<PayloadOf<K>['measured']>): number;
  /** Null where the place shows nothing of the kind. */
  measure(shot: PreparedShot, place: MarkPlace): PayloadOf<K>['measured'];
  /** What to ask for until somebody says otherwise. */
  propose(measured: NonNullable<PayloadOf<K>['measured']>, place: MarkPlace): NonNullable<PayloadOf<K>['wanted']>;
  say(
    measured: NonNullable<PayloadOf<K>['measured']> | null,
    wanted: NonNullable<PayloadOf<K>['wanted']> | null,
    place: MarkPlace,
  ): MarkWords;
  /** How far what is measured is from what is wanted, in `unit`, less what is near enough: met from 0 down. */
  distance(
    measured: NonNullable<PayloadOf<K>['measured']>,
    wanted: NonNullable<PayloadOf<K>['wanted']>,
    shot: PreparedShot,
  ): { readonly distance: number; readonly unit: string; readonly side?: -1 | 0 | 1 };
}
