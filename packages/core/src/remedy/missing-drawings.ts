import type { Exposed } from './exposure-list.ts';
import type { Recipe } from './remedy.ts';

/** A frame at which a wanted spacing has no drawing: where it would lie. */
export interface MissingDrawing {
  readonly label: number;
  /** Labels of two frames between whose drawings it lies. */
  readonly between: readonly [before: number, after: number];
  /** How far from the one to the other, 0 to 1. */
  readonly share: number;
}

/** A wanted spacing with the drawings there are. */
export interface DrawnSpacing {
  /** Each frame shows the drawing that is nearest to where it is wanted. */
  readonly recipe: Recipe;
  readonly missing: readonly MissingDrawing[];
}

/** A drawing farther than this from where a frame wants one, in mean steps of the way, is another drawing: the same share of a step that is off the spacing. */
const OFF = 0.25;

/**
 * Which drawings a wanted spacing takes, frame by frame, and where one is missing.
 *
 * @param from label of the first frame
 * @param way how far along its way the point is at each frame, 0 to 1
 * @param wanted how far it should be, one a frame; another number of frames takes as many
 * @param exposed the drawing of each frame of the clip, 0 for its first
 * @param firstFrame label of the clip's first frame
 * @example drawSpacing({ from: 1, way: [0, 0.5, 1], wanted: [0, 0.25, 1], exposed: [0, 1, 2], firstFrame: 1 }).missing // [{ label: 2, between: [1, 2], share: 0.5 }]
 */
export function drawSpacing({
  from,
  way,
  wanted,
  exposed,
  firstFrame,
}: {
  readonly from: number;
  readonly way: readonly number[];
  readonly wanted: readonly number[];
  readonly exposed: Exposed;
  readonly firstFrame: number;
}): DrawnSpacing {
  const [start, end] = [from - firstFrame, from - firstFrame + way.length - 1];
  const drawings = new Set(exposed.slice(start, end + 1)).size;
  const step = 1 / Math.max(1, drawings - 1);
  const missing: MissingDrawing[] = [];
  const nearest = wanted.map((goal, k) => {
    const away = (f: number): number => Math.abs(way[f]! - goal);
    const best = way.reduce((found, _, f) => (away(f) < away(found) ? f : found), 0);
    if (away(best) > OFF * step) {
      const after = way.findIndex((own) => own > goal);
      const before = after < 0 ? way.length - 1 : Math.max(0, after - 1);
      const next = after < 0 ? before : after;
      const gap = way[next]! - way[before]!;
      const share = gap > 0 ? (goal - way[before]!) / gap : 0;
      missing.push({ label: from + k, between: [from + before, from + next], share });
    }
    return best;
  });
  const shown = nearest.map((f) => exposed[start + f]!);
  // Frames that are not there yet come first, or those that are too many go.
  const more = wanted.length - way.length;
  const retimed =
    more === 0
      ? []
      : [{ remedy: 'retime', parameters: { from, to: from + way.length - 1, frames: wanted.length - 1 } }];
  const same = more === 0 && shown.every((own, k) => own === exposed[start + k]);
  const show = { remedy: 'show', parameters: { from, drawings: shown.map((own) => own + 1).join('+') } };
  return { recipe: same ? [] : [...retimed, show], missing };
}
