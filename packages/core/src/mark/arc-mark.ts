import { jointPath, samplePath } from '../measure/spacing/point-path.ts';
import { sampleAt } from '../motion/prepared-shot.ts';
import { frames, ofLeg } from '../say/words.ts';
import { farthestFromArc, smoothArc } from './arc-curve.ts';
import { isWithin, placedJoint } from './place.ts';
import type { MarkTool } from './mark-tool.ts';

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

/** A path within this of the arc that is wanted is on it, %L. */
const NEAR = 1.5;
const LONGEST = 240;

/** The curve a point goes along, and the one it should. */
export const ARC_MARK: MarkTool<'arc', MeasuredArc, WantedArc> = {
  kind: 'arc',
  numbers: {
    measured: { points: { is: 'places', least: 2, most: 241 }, leg: { is: 'size' } },
    wanted: { through: { is: 'places', least: 3, most: 5 } },
  },
  spans: 'to the next pose',
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
    return { points, leg: shot.scale.legLength };
  },
  propose: ({ points }) => ({ through: smoothArc(points) }),
  say(measured, wanted) {
    const told = measured && wanted ? `${ofLeg(offBy(measured, wanted))} off that arc, at most` : undefined;
    return {
      now: measured ? (told ?? `its path over ${frames(measured.points.length / 3 - 1)}`) : '',
      wanted: wanted ? 'the arc that is drawn' : '',
    };
  },
  distance: (measured, wanted) => ({ distance: offBy(measured, wanted) - NEAR, unit: '% of a leg' }),
};

/** The path's largest distance from the arc, %L. */
const offBy = ({ points, leg }: MeasuredArc, { through }: WantedArc): number =>
  (100 * farthestFromArc(points, through)) / leg;
