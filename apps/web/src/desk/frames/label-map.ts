import type { FrameSource } from './frame-source.ts';

/** The label of another shot's own that belongs to one of the desk's axis. Between frames it has a fraction. */
export type LabelMap = (label: number) => number;

/** By label: frame 12 belongs to frame 12. */
export const IDENTITY: LabelMap = (label) => label;

/** Another shot beside the one on the desk, on its axis. */
export interface OnAxis {
  readonly source: FrameSource;
  readonly labelMap: LabelMap;
}
