/** A mark as other programs take it: where it lies, and what it says. */
export interface FrameMark {
  readonly id: string;
  readonly kind: string;
  /** Labels of its first and its last frame. */
  readonly from: number;
  readonly to: number;
  readonly point: string | null;
  readonly words: string;
  /** What was there and what is wanted, as sentences; empty where nothing is. */
  readonly now: string;
  readonly wanted: string;
  readonly weight: string;
  readonly state: string;
  readonly author: string;
  /** ISO 8601. */
  readonly at: string;
}

/** The shot that marks lie on. */
export interface MarkedShot {
  /** What it is called, and the file that shows it. */
  readonly name: string;
  readonly file: string;
  readonly fps: number;
  /** Label of its first frame. */
  readonly first: number;
  readonly frames: number;
}

/** Seconds from the shot's first frame at which a mark begins, and at which its last frame ends. */
export const secondsOf = (
  { from, to }: Pick<FrameMark, 'from' | 'to'>,
  { fps, first }: Pick<MarkedShot, 'fps' | 'first'>,
): readonly [begins: number, ends: number] => [(from - first) / fps, (to - first + 1) / fps];

/** What is said of a mark, a line each. */
export const linesOf = ({ kind, point, words, now, wanted }: FrameMark): string[] =>
  [
    `${kind}${point === null ? '' : `, ${point}`}: ${words}`,
    now && `now: ${now}`,
    wanted && `wanted: ${wanted}`,
  ].filter((line) => line !== '');
