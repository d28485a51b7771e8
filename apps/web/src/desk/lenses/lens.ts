import type { LucideIcon } from 'lucide-react';
import type { FrameSource } from '../frames/frame-source.ts';
import type { PaperScene } from '../paper/paper-scene.ts';
import type { Choice } from '../choice.ts';
import type { useDesk } from '../desk-store.ts';

/** Colours a lens draws with, read from the page when its theme changes and not at each frame. */
export interface LensInks {
  readonly ink: string;
  readonly graphite: string;
  readonly sheet: string;
  readonly left: string;
  readonly right: string;
  readonly instructor: string;
  readonly student: string;
  readonly wash: string;
}

/** What a lens draws with at a frame. */
export interface LensFrame {
  readonly context: CanvasRenderingContext2D;
  readonly scene: PaperScene;
  readonly source: FrameSource;
  /** Sample that is shown. */
  readonly sample: number;
  /** Labels of the frames that are played again and again; null where all are. */
  readonly range: readonly [from: number, to: number] | null;
  /** The chosen point, or the one the exercise is about. */
  readonly point: number;
  readonly inks: LensInks;
  readonly desk: ReturnType<typeof useDesk.getState>;
  /** Parts that are not drawn. */
  readonly unseen: ReadonlySet<string>;
}

/** One entry of a legend: what a sign means, and how often it is there. */
export interface LegendEntry {
  readonly text: string;
  /** SVG path of the sign, 14 by 14. */
  readonly sign?: string;
  readonly dashed?: boolean;
}

/**
 * Something laid over the paper. Bar, keys, help and stored choices go through the registry: a lens is this file and a line there.
 *
 * @typeParam P what is worked out once for a shot
 */
export interface Lens<P = unknown> {
  readonly id: string;
  readonly name: string;
  readonly key: string;
  readonly icon: LucideIcon;
  /** `figure`: it needs a figure's parts; `paths`: points are enough; `frames`: it needs neither. */
  readonly needs: 'figure' | 'paths' | 'frames';
  /** Ways to show it, offered beside its legend while it is on. */
  readonly choices?: readonly Choice[];
  /** Worked out once a shot; undefined where the shot shows nothing of the kind. */
  prepare(source: FrameSource): P | undefined;
  /** Beneath the figure, and not over it. */
  readonly under?: true;
  /** Draws what stays the same from frame to frame as long as view, point and stretch do: over the figure, beneath what `draw` draws. */
  drawStill?(frame: LensFrame, prepared: P): void;
  /** Draws on the paper at a frame; gives its legend where that depends on what was drawn. */
  draw(frame: LensFrame, prepared: P): readonly LegendEntry[] | void;
  /** What it shows, in words, for the legend. */
  legend(source: FrameSource, prepared: P): readonly LegendEntry[];
}

/** A lens of any preparation, as lists hold it. */
// What `prepare` gives goes to `draw` of the same lens and nowhere else.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyLens = Lens<any>;

/** Whether a source has what a lens or a lane needs. */
export const hasWhat = ({ figure, pointNames }: FrameSource, needs: Lens['needs']): boolean =>
  needs === 'frames' || (needs === 'figure' ? figure !== undefined : pointNames.length > 0);
