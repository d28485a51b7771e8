import type { FrameSource } from '../frames/frame-source.ts';
import { pointIndex } from '../frames/frame-source.ts';
import { transferTo } from '../paper/figure-behind.ts';
import type { PlacedMark } from './placed-marks.ts';

/**
 * The way a mark's point went on the revision it was made on, laid on the revision on the desk: the hips of its first frame where they are on the first
 * frame it lies on now.
 *
 * @param then the revision it was made on
 * @returns flat x, y, z in the desk's own axes and units; undefined where it has no such point, or one of them is no motion
 */
export function thenPath(
  own: FrameSource,
  then: FrameSource,
  { from, was, point }: Pick<PlacedMark, 'from' | 'was' | 'point'>,
): number[] | undefined {
  const joint = pointIndex(then, point);
  const [mine, theirs] = [own.figure?.shown, then.figure?.shown];
  if (joint < 0 || !mine || !theirs) return undefined;
  const n = theirs.motion.joints.length;
  const transfer = transferTo(
    { shot: mine, sample: own.sampleAt(from) },
    { shot: theirs, sample: then.sampleAt(was.from) },
  );
  const out: number[] = [];
  for (let label = was.from; label <= Math.min(was.to, was.from + 400); label++) {
    const k = 3 * (then.sampleAt(label) * n + joint);
    const { positions } = theirs.world;
    out.push(...transfer(positions[k]!, positions[k + 1]!, positions[k + 2]!));
  }
  return out;
}
