import { csvFormatRows } from 'd3-dsv';
import type { PointTracks } from '../../motion/point-tracks.ts';

/**
 * Writes followed points as a table `frame, point, x, y, sure`, frame by frame; a point that nobody placed at a frame has no row there.
 *
 * @param y which way y grows in the file; pictures count from their top
 * @param decimals of a pixel that are kept
 */
export function writePoints(
  { firstFrame, frames, points }: PointTracks,
  y: 'down' | 'up' = 'down',
  decimals = 4,
): string {
  const rows: string[][] = [['frame', 'point', 'x', 'y', 'sure']];
  const told = (value: number): string => String(Number(value.toFixed(decimals)));
  for (let f = 0; f < frames; f++)
    for (const { name, places, confidence } of points) {
      const [px, py] = [places[2 * f]!, places[2 * f + 1]!];
      if (Number.isNaN(px) || Number.isNaN(py)) continue;
      rows.push([String(firstFrame + f), name, told(px), told(y === 'down' ? -py : py), told(confidence[f]!)]);
    }
  return `${csvFormatRows(rows)}\n`;
}
