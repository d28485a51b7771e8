import { csvFormatRows } from 'd3-dsv';
import type { Exposure } from '../../track/held-pictures.ts';

/**
 * Writes exposures as a table, a row a drawing: its number, the labels of its first and last frame, and how many frames it stands.
 *
 * @param exposures in samples from 0; @param firstFrame label of sample 0
 */
export const writeExposures = (exposures: readonly Exposure[], firstFrame: number): string =>
  `${csvFormatRows([
    ['drawing', 'from', 'to', 'frames'],
    ...exposures.map(({ from, to }, k) => [k + 1, firstFrame + from, firstFrame + to, to - from + 1].map(String)),
  ])}\n`;
