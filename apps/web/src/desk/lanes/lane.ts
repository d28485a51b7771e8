import type { Finding } from '@ypsigraph/core/gauge/findings';
import type { ShotEvent } from '@ypsigraph/core/measure/keys/shot-events';
import type { PlacedMark } from '../marks/placed-marks.ts';
import type { StoredReport } from '@ypsigraph/contract/shots';
import type { Choice } from '../choice.ts';
import type { useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { OnAxis } from '../frames/label-map.ts';
import type { LensInks } from '../lenses/lens.ts';

/** What a lane is made from. */
export interface LaneSubject {
  readonly source: FrameSource;
  /** What was measured; undefined until it has come. */
  readonly report: StoredReport | undefined;
  readonly findings: readonly Finding[];
  /** The revision beside it. */
  readonly beside: OnAxis | undefined;
  /** Marks where they lie on it: what is wanted is drawn with what is there. */
  readonly marks: readonly PlacedMark[];
  /** As much of the mark that is being written as lies on the strip. */
  readonly writes?: WrittenMark | undefined;
}

/** A mark that is being written: its kind and its numbers, where it lies. */
export type WrittenMark = Pick<PlacedMark, 'kind' | 'payload' | 'from' | 'to'>;

type Desk = ReturnType<typeof useDesk.getState>;

/** What a lane draws with. Labels within `from` to `to` are seen. */
export interface LaneDrawing {
  readonly context: CanvasRenderingContext2D;
  readonly x: (label: number) => number;
  readonly perFrame: number;
  readonly from: number;
  readonly to: number;
  readonly width: number;
  readonly height: number;
  readonly inks: LensInks;
  readonly desk: Desk;
}

/** Something of a lane that a pointer can be on. */
export interface LaneSpot {
  readonly text: string;
  readonly from: number;
  readonly to: number;
  /** The part it belongs to: a click looks at that alone. */
  readonly part?: string;
  /** Something that happens: a delay can be told from it, or to it. */
  readonly event?: ShotEvent;
}

/**
 * A row of the strip. It is drawn when what it shows changes, and not at each frame.
 *
 * @typeParam P what is worked out once for a shot
 */
export interface Lane<P = unknown> {
  readonly id: string;
  /** Written beside it. */
  readonly name: string;
  /** What it shows, in words. */
  readonly legend: string;
  /** `figure`: a figure's parts; `paths`: points; `frames`: nothing but frames. */
  readonly needs: 'figure' | 'paths' | 'frames';
  /** It stays while points are put on pictures. The others would come and go with them, and move the paper under the hand. */
  readonly whilePlacing?: true;
  /** Ways to show it, offered in the menu of lanes … */
  readonly choices?: readonly Choice[];
  /** … or where its name would stand: those name it. */
  readonly namedBy?: readonly Choice[];
  /** Names of its rows, in place of its own, and how high a row is. */
  rows?(prepared: P): { readonly names: readonly string[]; readonly height: number };
  /** Undefined where the shot shows nothing of the kind: then there is no such row. */
  prepare(subject: LaneSubject, desk: Desk): P | undefined;
  /** Height in pixels. */
  height(prepared: P): number;
  draw(drawing: LaneDrawing, prepared: P): void;
  /** What lies at a label and a height within the lane. */
  spot?(prepared: P, label: number, y: number): LaneSpot | undefined;
}

// What `prepare` gives goes to the same lane's other functions and nowhere else.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyLane = Lane<any>;

/** Spans laid into as few rows as keep them apart, the first in the first. */
export function stacked<T extends { readonly from: number; readonly to: number }>(
  spans: readonly T[],
): { readonly span: T; readonly row: number }[] {
  const ends: number[] = [];
  return [...spans]
    .sort((a, b) => a.from - b.from || b.to - a.to)
    .map((span) => {
      const free = ends.findIndex((end) => end < span.from);
      const row = free < 0 ? ends.length : free;
      ends[row] = span.to;
      return { span, row };
    });
}

export const LANE_NUMBERS = `500 9.5px 'Spline Sans Mono', monospace`;
export const LANE_WORDS = `400 10.5px 'Atkinson Hyperlegible Next Variable', sans-serif`;
