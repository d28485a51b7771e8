import type { Gauge } from '@ypsigraph/contract/briefs';
import { READING_KINDS } from '@ypsigraph/core/measure/registry';

/** Parts that gauges are grouped by, in the order one works: the body first, then the legs, then what hangs on them. */
export const GAUGE_PARTS = [
  'the whole figure',
  'body',
  'legs and feet',
  'arms and hands',
  'head',
  'what drags',
] as const;
export type GaugePart = (typeof GAUGE_PARTS)[number];

const BY_WORD: readonly (readonly [RegExp, GaugePart])[] = [
  [/^(leg|foot|toe|thigh|shin)/, 'legs and feet'],
  [/^(arm|hand|upperArm|foreArm|clavicle)/, 'arms and hands'],
  [/^(head|neck|eye)/, 'head'],
  [/^(hips|spine|chest|body|master)/, 'body'],
  [/^chain/, 'what drags'],
];
/** Readings that are about one part, whatever joint shows them: by their id, or by its beginning. */
const BY_READING: Readonly<Record<string, GaugePart>> = {
  'gait.slide': 'legs and feet',
  'gait.even': 'legs and feet',
  'gait.knee': 'legs and feet',
  'gait.depth': 'legs and feet',
  'gait.float': 'legs and feet',
  'gait.step': 'legs and feet',
  'gait.flight': 'legs and feet',
  'gait.opposition': 'arms and hands',
  look: 'head',
  lag: 'what drags',
  twin: 'arms and hands',
  breath: 'body',
};

const wordOf = (word: string | undefined): GaugePart | undefined =>
  word === undefined ? undefined : BY_WORD.find(([pattern]) => pattern.test(word))?.[1];

/** The part a gauge is about: what it names itself; else what its reading is about; else the joint that shows it. */
export const gaugePart = ({ reading, part }: Pick<Gauge, 'reading' | 'part'>): GaugePart =>
  wordOf(part) ??
  BY_READING[reading] ??
  BY_READING[reading.split('.')[0]!] ??
  wordOf(READING_KINDS.get(reading)?.shows) ??
  'the whole figure';
