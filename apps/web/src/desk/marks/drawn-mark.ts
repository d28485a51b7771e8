import type { Payload, PencilLine } from '@ypsigraph/contract/marks';
import type { MarkKind } from '@ypsigraph/contract/vocabulary';
import type { LensFrame } from '../lenses/lens.ts';
import type { PaperPoint } from '../paper/paper-scene.ts';

/** As much of a mark as is drawn: one that stands, or one that is being written. */
export interface DrawnMark {
  readonly kind: MarkKind;
  readonly from: number;
  readonly to: number;
  readonly point: string | null;
  readonly payload: Payload | null;
  readonly lines: readonly PencilLine[];
  /** Drawn in full; otherwise only its place is shown. */
  readonly full: boolean;
  /** Of an earlier revision that is seen as well: the path its point took there, flat x, y, z. */
  readonly then?: readonly number[] | undefined;
}

/** The label that is shown, and its sample, held within a mark's frames. */
const samplesOf = ({ source }: LensFrame, { from, to }: DrawnMark): number[] =>
  Array.from({ length: Math.max(1, Math.min(400, to - from + 1)) }, (_, k) => source.sampleAt(from + k));

export const blank = (): PaperPoint => ({ x: 0, y: 0, depth: 0 });

/** Where a point is on the paper at each of a mark's frames. */
export const pathOnPaper = (frame: LensFrame, mark: DrawnMark, joint: number): PaperPoint[] =>
  samplesOf(frame, mark).map((sample) => frame.scene.project(sample, joint, blank()));
