import { jointPath, samplePath } from '../measure/spacing/point-path.ts';
import { sampleAt } from '../motion/prepared-shot.ts';
import { frames } from '../say/words.ts';
import { farthestFromArc, smoothArc } from './arc-curve.ts';
import { isWithin, placedJoint } from './place.ts';
import type { MarkTool } from './payload.ts';

/** A path within this of the arc that is wanted is on it, %L. */
const NEAR = 1.5;
const LONGEST = 240;

/** The curve a point goes along, and the one it should. */
export const ARC_MARK: MarkTool<'arc'> = {
  kind: 'arc',
  measure(shot, place) {
    const joint = placedJoint(shot, place);
    if (joint === undefined || !isWithin(shot, place) || place.to === place.from) return null;
    if (place.to - place.from > LONGEST) return null;
    const path = jointPath(shot, joint);
    const at = new Float64Array(3);
    const points: number[] = [];
    for (let label = place.from; label <= place.to; label++) {
      samplePath(path, sampleAt(shot, label), at);
      points.push(...at);
    }
    return { points };
  },
  propose: ({ points }) => ({ through: smoothArc(points) }),
  say: (measured, wanted) => ({
    now: measured ? `its path over ${frames(measured.points.length / 3 - 1)}` : '',
    wanted: wanted ? 'the arc that is drawn' : '',
  }),
  distance: ({ points }, { through }, shot) => ({
    distance: (100 * farthestFromArc(points, through)) / shot.scale.legLength - NEAR,
    unit: '% of a leg',
  }),
};
