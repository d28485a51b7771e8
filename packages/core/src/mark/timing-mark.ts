import { stretchesOf } from '../measure/moves/stretches.ts';
import { keyPoses } from '../measure/keys/key-poses.ts';
import { labelOf, type PreparedShot } from '../motion/prepared-shot.ts';
import { frames } from '../say/words.ts';
import { isWithin, nearestSpan, overlap, placedSignal } from './place.ts';
import { LABEL } from './number-shape.ts';
import type { Labels, MarkTool } from './mark-tool.ts';
import { sideOf } from './side.ts';

/** When something happens: its labels, and, of one pose, what the pose is called. */
export interface MeasuredTiming extends Labels {
  readonly pose?: string;
}

/** A pose within this of a frame is the one that is meant, frames at 24 fps. */
const MEANT = 3;

const lasts = ({ from, to }: Labels): boolean => to > from;

/** The move or hold that a span is about: most of either lies in the other; undefined where none is. */
function stretchAt(shot: PreparedShot, place: Labels & { point: string | null }): Labels | undefined {
  const spans = stretchesOf(placedSignal(shot, place), shot.fps).map(({ from, to }) => ({
    from: Math.round(labelOf(shot, from)),
    to: Math.round(labelOf(shot, to)),
  }));
  const near = nearestSpan(spans, place);
  if (!near) return undefined;
  const shared = 2 * overlap(near, place);
  return shared > place.to - place.from + 1 && shared > near.to - near.from + 1 ? near : undefined;
}

/** When something happens: a pose at a frame, or a move or hold from one frame to another. */
export const TIMING_MARK: MarkTool<'timing', MeasuredTiming, Labels> = {
  kind: 'timing',
  numbers: {
    measured: { from: LABEL, to: LABEL, pose: { is: 'word', optional: true } },
    wanted: { from: LABEL, to: LABEL },
  },
  measure(shot, place) {
    if (!isWithin(shot, place)) return null;
    if (lasts(place)) return stretchAt(shot, place) ?? { from: place.from, to: place.to };
    const reach = MEANT * (shot.fps / 24);
    const near = keyPoses(shot)
      .filter(({ label }) => Math.abs(label - place.from) <= reach)
      .sort((a, b) => Math.abs(a.label - place.from) - Math.abs(b.label - place.from))[0];
    const label = near?.label ?? place.from;
    return { from: label, to: label, ...(near && near.name !== 'pose' && { pose: near.name }) };
  },
  propose: ({ from, to }) => ({ from, to }),
  say(measured, wanted) {
    const told = (span: Labels | null): string =>
      span === null
        ? ''
        : lasts(span)
          ? `${frames(span.to - span.from)}, from ${span.from} to ${span.to}`
          : measured?.pose
            ? `${measured.pose}, at ${span.from}`
            : `at frame ${span.from}`;
    return { now: told(measured), wanted: told(wanted) };
  },
  /** Events are right to a frame: what is a frame off is met. */
  distance: (measured, wanted) => ({
    distance: Math.max(Math.abs(measured.from - wanted.from), Math.abs(measured.to - wanted.to)) - 1,
    unit: 'frames',
    // Later than wanted, or earlier: by the end that is further off.
    side: sideOf(
      Math.abs(measured.to - wanted.to) >= Math.abs(measured.from - wanted.from)
        ? measured.to - wanted.to
        : measured.from - wanted.from,
    ),
  }),
};
