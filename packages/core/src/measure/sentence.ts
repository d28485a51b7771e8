import type { Reading } from './reading.ts';

/** How each reading is said to a person. */
const SAY: Readonly<Record<string, (reading: Reading, part: string) => string>> = {
  'spacing.steps': ({ value }, part) => `${part} moves ${value} units a frame on average`,
  'spacing.off': (r, part) =>
    r.value === 0 ? `${part} is evenly led: no frame is off the spacing` : `${part} is off its spacing ${at(r)}`,
  'arc.off': (r, part) => (r.value === 0 ? `${part} keeps to its arc` : `${part} leaves its arc ${at(r)}`),
  'arc.pop': (r, part) => (r.value === 0 ? `${part} has no single frame out of place` : `${part} pops ${at(r)}`),
  'arc.rise': ({ value }, part) => `${part} bows ${value} % from the straight line`,
  'cycle.length': ({ value }) => `the cycle lasts ${value} frames`,
  'cycle.seam': ({ value, note }) =>
    `over the seam the pose steps ${value} times as far as beside it${note ? `: ${note}` : ''}`,
  'cycle.jerk': ({ value }) => `at the seam the roughest joint is ${value} times as rough as elsewhere`,
  'cycle.cadence': ({ value }) => `${value} steps a minute`,
  'mirror.off': ({ value }, part) => `the second half differs from the first one's mirror by ${value}° (${part})`,
  'mirror.height': (r) =>
    `the hips' height differs between the halves by ${r.value} %L${r.value === 0 ? '' : ` ${at(r)}`}`,
  'exposure.pattern': ({ value }) => `poses are exposed on ${value}`,
};

const at = ({ frames = [] }: Reading): string => {
  const shown = frames.slice(0, 8);
  return `at frame${shown.length === 1 ? '' : 's'} ${shown.join(', ')}${frames.length > 8 ? ` and ${frames.length - 8} more` : ''}`;
};

const PARTS: Readonly<Record<string, string>> = {
  'hand.L': 'the left hand',
  'hand.R': 'the right hand',
  hips: 'the hips',
  head: 'the head',
};

/** A reading as a sentence without a full stop, such as “the left hand pops at frame 9”. */
export function sayReading(reading: Reading): string {
  const part = reading.part === undefined ? 'whole body' : (PARTS[reading.part] ?? reading.part.replace(/^chain:/, ''));
  const value = typeof reading.value === 'number' ? Number(reading.value.toFixed(2)) : reading.value;
  return SAY[reading.id]?.({ ...reading, value }, part) ?? `${reading.id}: ${String(reading.value)} ${reading.unit}`;
}
