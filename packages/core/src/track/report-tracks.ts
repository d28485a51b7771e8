import { partOf } from '../measure/characters.ts';
import { type Measured, type Reading, together } from '../measure/reading.ts';
import { readingKind } from '../measure/registry.ts';
import { type Asked, type Report, reportShot } from '../measure/report.ts';
import { percent } from '../say/words.ts';
import { measurePair, measureShape, measureSureness, SURE_ENOUGH } from '../measure/pictures/pairs-and-shapes.ts';
import { figureOfPoints, type PointOptions } from './figure-of-points.ts';
import { groupOf, groupsOf, measureGroups } from './point-groups.ts';
import type { PointTracks } from '../motion/point-tracks.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';

/** What is asked for of points besides what their kind of exercise asks. */
export interface AskedOfPoints extends Asked {
  /** Pairs of points whose distance is wanted. */
  readonly pairs?: readonly (readonly [string, string])[];
  /** Shapes, each by its top, bottom, left and right. */
  readonly shapes?: readonly (readonly [string, string, string, string])[];
}

/** A report with what pairs and shapes of a puppet's own points do: its layers' anchors. */
export function withPairsAndShapes(
  report: Report,
  shot: PreparedShot,
  { pairs = [], shapes = [] }: Pick<AskedOfPoints, 'pairs' | 'shapes'>,
): Report {
  const { motion, world } = shot.played;
  const n = motion.joints.length;
  const tracks: PointTracks = {
    fps: motion.fps,
    firstFrame: shot.firstFrame,
    frames: motion.frames,
    points: motion.joints.map(({ name }, j) => ({
      name,
      places: Float64Array.from(
        { length: 2 * motion.frames },
        (_, k) => world.positions[3 * ((k >> 1) * n + j) + (k & 1)]!,
      ),
      confidence: new Float64Array(motion.frames).fill(1),
    })),
  };
  const more = pairsAndShapes(tracks, shot.scale.legLength, pairs, shapes);
  return {
    ...report,
    readings: [...report.readings, ...more.readings],
    unmade: [...report.unmade, ...more.unmade],
  };
}

const pairsAndShapes = (
  tracks: PointTracks,
  legLength: number,
  pairs: NonNullable<AskedOfPoints['pairs']>,
  shapes: NonNullable<AskedOfPoints['shapes']>,
): Measured =>
  together(
    ...pairs.map((pair) => measurePair(tracks, legLength, pair)),
    ...shapes.map((shape) => measureShape(tracks, shape)),
  );

/**
 * Measures points that were followed on pictures: what a figure of them shows by the same functions as a motion, what pairs and shapes do, and
 * how surely each point is known. What needs depth is unmade and says so; what is told of a point known at less than 80 % of the frames
 * says so too. Of two characters (`keeper: hips`, `pilot: hips`) each is a figure of its own; what is read of the second says whose it is in its part.
 *
 * @param options as of a motion; `level` lays the points over a ground that somebody has drawn, which is then at height 0; `still` names points on things that stand still, by which the camera's movement is taken out first
 */
export function reportTracks(
  seen: PointTracks,
  options: PointOptions,
  source: { file: string; format: string; warnings: readonly string[] },
  asked: AskedOfPoints = {},
): Report {
  const report = reportFirst(seen, options, source, asked);
  const [, ...others] = groupsOf(seen.points.map(({ name }) => name));
  return others.reduce((all, character) => withCharacter(all, character, seen, options, source), report);
}

/** A report with what is measured of one more character: by the same functions, of a figure of its own. */
function withCharacter(
  report: Report,
  character: string,
  seen: PointTracks,
  options: PointOptions,
  source: { file: string; format: string; warnings: readonly string[] },
): Report {
  const { still = [] } = options;
  const own = {
    ...seen,
    points: seen.points.filter(({ name }) => groupOf(name) === character || still.includes(name)),
  };
  const theirs = reportFirst(own, options, { ...source, warnings: [] }, {});
  const named = <T extends { readonly id: string; readonly part?: string }>(all: readonly T[]): T[] =>
    all.filter(({ id }) => !readingKind(id)?.ofShot).map((one) => ({ ...one, part: partOf(character, one.part) }));
  return {
    ...report,
    roles: {
      ...report.roles,
      ...Object.fromEntries(Object.entries(theirs.roles).map(([role, joint]) => [partOf(character, role), joint])),
    },
    readings: [...report.readings, ...named(theirs.readings)],
    unmade: [...report.unmade, ...named(theirs.unmade)],
    // How surely each point is known was said of all of them.
    warnings: [
      ...report.warnings,
      ...theirs.warnings
        .filter((warning) => !report.warnings.includes(warning))
        .map((text) => `“${character}”: ${text}`),
    ],
  };
}

function reportFirst(
  seen: PointTracks,
  options: PointOptions,
  source: { file: string; format: string; warnings: readonly string[] },
  { pairs = [], shapes = [], ...asked }: AskedOfPoints,
): Report {
  const { shot, tracks } = figureOfPoints(seen, {
    ...options,
    chains: [...(options.chains ?? []), ...(asked.chains ?? [])],
  });
  const report = reportShot(shot, source, asked);
  const known = measureSureness(tracks);
  const { legLength } = shot.scale;
  const groups = measureGroups(tracks);
  const more = together(groups, pairsAndShapes(tracks, legLength, pairs, shapes));
  const unsure = new Map(
    known.flatMap(({ part, value }): [string, number][] =>
      Number(value) < SURE_ENOUGH ? [[part!, Number(value)]] : [],
    ),
  );
  const pointOf = (part: string | undefined): string | undefined =>
    part === undefined ? undefined : (report.roles[part] ?? part);
  const readings = [...report.readings, ...more.readings].map((reading): Reading => {
    const parts = reading.part?.split(', ').map(pointOf) ?? [];
    const worst = Math.min(...parts.flatMap((part) => (part === undefined ? [] : (unsure.get(part) ?? []))));
    return Number.isFinite(worst) ? { ...reading, note: `known at ${percent(worst)} of the frames only` } : reading;
  });
  return {
    ...report,
    readings: [...readings, ...known],
    unmade: [
      // Of two groups of points it is told by them, and not by the one figure.
      ...report.unmade.filter(
        ({ id }) => id !== 'attention.clash' || groups.readings.length + groups.unmade.length === 0,
      ),
      ...more.unmade,
    ],
    warnings: [
      ...report.warnings,
      ...[...unsure].map(
        ([name, share]) => `“${name}” is known at ${percent(share)} of the frames: what is told of it is less sure`,
      ),
    ],
  };
}
