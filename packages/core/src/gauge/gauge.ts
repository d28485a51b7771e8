import type { DetailNumber, Told } from '../measure/describe.ts';
import { splitCharacter, partOf } from '../measure/characters.ts';
import { STEP_TIME } from '../measure/gait/gait-timing.ts';
import { MOVE_FRAMES } from '../measure/moves/moves-and-holds.ts';
import type { Reading, Unmade } from '../measure/reading.ts';
import { readingKind, type ReadingId } from '../measure/registry.ts';
import { type Stage, STAGES } from '../trade/stages.ts';

/** What a brief allows of one reading. */
export interface Gauge {
  readonly reading: ReadingId;
  /** The part it is for, `chain:*` for every chain, `none` for the whole body alone; left out, every part's reading is held against it. */
  readonly part?: string;
  /** A number in the reading's detail that is judged in place of its value. */
  readonly of?: string;
  /** A link of the reading's chain that is judged in place of its value, 1 for the first. */
  readonly link?: number;
  /** A reading whose detail has this flag is not judged: a hold that the shot's ends cut. */
  readonly except?: string;
  /** `spread`: of three readings or more, the difference between the largest and the smallest is judged. */
  readonly over?: 'each' | 'spread';
  /** First stage in which it is looked at. */
  readonly from: Stage;
  /** Lowest and highest value allowed. */
  readonly band?: readonly [low: number, high: number];
  /** The band is percent of the shot's own step, of its cycle of two, or of the trunk's longest move. */
  readonly per?: 'step' | 'cycle' | 'move';
  /** Or the values allowed, of a reading that is no number. */
  readonly allowed?: readonly (string | boolean)[];
  /** Near within this of the band, in the reading's own unit, under it and over it; 0 where it is not given. */
  readonly near?: number | readonly [under: number, over: number];
  /** How much it matters beside others. */
  readonly weight: number;
  /** Why, in words for the person who is told. */
  readonly why: string;
}

export type Judgement = 'inside' | 'near' | 'outside' | 'unmade';

/** A reading held against its gauge. */
export interface Verdict {
  readonly gauge: Gauge;
  readonly judgement: Judgement;
  readonly reading?: Reading;
  /** The part that could not be judged. */
  readonly part?: string;
  /** Why it could not be made. */
  readonly why?: string;
  /** How far outside the band, in the reading's unit; negative below it. 0 inside; 1 where a value is none of those allowed. */
  readonly distance: number;
}

/**
 * Holds a value against a band.
 *
 * @param near in the value's own unit; under and over the band, or the same for both
 * @example judge(5.2, [2, 5], 0.5) // { judgement: 'near', distance: 0.2 }
 */
export function judge(
  value: number,
  [low, high]: readonly [number, number],
  near: Gauge['near'] = 0,
): { judgement: Exclude<Judgement, 'unmade'>; distance: number } {
  const distance = value < low ? value - low : value > high ? value - high : 0;
  if (distance === 0) return { judgement: 'inside', distance: 0 };
  const within = typeof near === 'number' ? near : distance < 0 ? near[0] : near[1];
  return { judgement: Math.abs(distance) <= within + 1e-9 ? 'near' : 'outside', distance };
}

/** Whether a gauge is for the readings of a part, of whichever character. */
export function isFor({ part: wanted }: Gauge, of: string | undefined): boolean {
  const { part } = splitCharacter(of);
  return (
    wanted === undefined ||
    wanted === part ||
    (wanted === 'none' && part === undefined) ||
    (wanted === 'chain:*' && part?.startsWith('chain:') === true)
  );
}

/** The number or word of a reading that a gauge judges; undefined where it has none. */
export function judgedValue({ of, link }: Gauge, reading: Reading): Reading['value'] | undefined {
  if (link !== undefined) return linkOf(link, reading)?.value;
  if (of === undefined) return reading.value;
  const value: unknown = (reading.detail as Record<string, unknown> | undefined)?.[of];
  return typeof value === 'number' ? value : undefined;
}

/** A link of a reading's chain with the number that is judged of it; undefined where the chain has no such link, or nothing was told of it. */
export function linkOf(
  link: number,
  { id, detail }: Reading,
): { readonly parent: string; readonly child: string; readonly value: number } | undefined {
  const number = readingKind(id)?.ofLink;
  const { links = [] } = (detail ?? {}) as { links?: readonly Readonly<Record<string, unknown>>[] };
  const own = links[link - 1];
  const value = number === undefined ? undefined : own?.[number];
  return typeof value === 'number' ? { parent: String(own!.parent), child: String(own!.child), value } : undefined;
}

/** The number in its reading's detail that a gauge judges; undefined where it judges the value itself. */
export const judgedNumber = ({ reading, of }: Pick<Gauge, 'reading' | 'of'>): DetailNumber | undefined =>
  of === undefined ? undefined : readingKind(reading)?.numbers?.[of];

/** The unit of what a gauge judges. */
export const judgedUnit = (gauge: Gauge, { unit }: Pick<Reading, 'unit'>): string => judgedNumber(gauge)?.unit ?? unit;

/** Holds a value against a gauge: its band, or the values it allows. */
export function judgeBy(
  { band, allowed, near }: Gauge,
  value: Reading['value'],
): { judgement: Exclude<Judgement, 'unmade'>; distance: number } {
  if (band && typeof value === 'number') return judge(value, band, near);
  const isAllowed = allowed?.includes(value as string | boolean) ?? true;
  return isAllowed ? { judgement: 'inside', distance: 0 } : { judgement: 'outside', distance: 1 };
}

/** What a verdict tells a sentence. */
export const toldBy = ({ judgement, distance, gauge }: Verdict): Told | undefined =>
  judgement === 'unmade' ? undefined : { judgement, side: gauge.band ? (Math.sign(distance) as -1 | 0 | 1) : 0 };

/** What is judged: readings, and what could not be made. */
export interface Judged {
  readonly readings: readonly Reading[];
  readonly unmade: readonly Unmade[];
  /** Of the frames that they are told in; 24 where it is left out. */
  readonly fps?: number;
}

/** Whether a gauge is looked at from this stage on. */
export const isDue = (gauge: Gauge, stage: Stage): boolean => STAGES.indexOf(gauge.from) <= STAGES.indexOf(stage);

/** The part whose move all that hangs on it follows. */
const TRUNK = 'spine';
/** Frames of a move where there is no trunk that moves: a quick one, at 24 fps. */
const USUAL_MOVE = 12;

/** How long what a band is a share of lasts, in frames; undefined where the shot has none. */
function wholeOf(per: NonNullable<Gauge['per']>, { readings, fps = 24 }: Judged): number | undefined {
  if (per !== 'move') {
    const step = STEP_TIME.among(readings)[0]?.value;
    return per === 'cycle' && step !== undefined ? 2 * step : step;
  }
  const moves = MOVE_FRAMES.among(readings).filter((move) => move.part === TRUNK);
  return Math.max(USUAL_MOVE * (fps / 24), ...moves.map(({ value }) => value));
}

/** A gauge with its band in the reading's own unit: a share of the step, the cycle or the move becomes frames. Undefined where the shot has none. */
function resolved(gauge: Gauge, measured: Judged): Gauge | undefined {
  if (gauge.per === undefined || !gauge.band) return gauge;
  const whole = wholeOf(gauge.per, measured);
  if (whole === undefined) return undefined;
  const [low, high] = gauge.band;
  const { per: _, ...plain } = gauge;
  return { ...plain, band: [(low * whole) / 100, (high * whole) / 100] };
}

/** Verdicts of every gauge of a stage on every reading it is for, and on what could not be made. */
export function verdicts(gauges: readonly Gauge[], measured: Judged, stage: Stage): Verdict[] {
  const due = gauges.filter((gauge) => isDue(gauge, stage));
  const all = byCharacter(measured);
  return due.flatMap((gauge) => all.flatMap((own) => verdictsOf(gauge, own)));
}

interface Theirs extends Judged {
  /** Undefined of the one figure, or the first of several. */
  readonly character: string | undefined;
}

/** What was measured of each character by itself: one's step is no measure for another's. */
function byCharacter({ readings, unmade, fps }: Judged): Theirs[] {
  const whose = ({ part }: { readonly part?: string }): string | undefined => splitCharacter(part).character;
  const characters = new Set([undefined, ...readings.map(whose), ...unmade.map(whose)]);
  return [...characters].map((character) => ({
    character,
    ...(fps !== undefined && { fps }),
    readings: readings.filter((reading) => whose(reading) === character),
    unmade: unmade.filter((one) => whose(one) === character),
  }));
}

function verdictsOf(gauge: Gauge, measured: Theirs): Verdict[] {
  const whole = measured.character === undefined ? {} : { part: partOf(measured.character, undefined) };
  const own = ({ id, part }: { id: string; part?: string }): boolean => id === gauge.reading && isFor(gauge, part);
  const found = measured.readings.filter((reading) => own(reading) && !isExcepted(gauge, reading));
  // What could not be made at all could not be made of any part.
  const ofAll = ({ id, part }: Unmade): boolean =>
    id === gauge.reading && splitCharacter(part).part === undefined && found.length === 0;
  const missing = measured.unmade
    .filter((unmade) => unmade.notAsked !== true && (own(unmade) || ofAll(unmade)))
    .map(({ part, why }): Verdict => ({
      gauge,
      judgement: 'unmade',
      why,
      distance: 0,
      ...(part !== undefined && { part }),
    }));
  const band = resolved(gauge, measured);
  if (!band)
    return missing.length > 0
      ? missing
      : [{ gauge, judgement: 'unmade', why: 'the shot has no step to measure it by', distance: 0, ...whole }];
  if (gauge.over === 'spread') {
    const spread = spreadOf(found);
    if (spread) return [{ gauge, reading: spread, ...judgeBy(band, spread.value) }];
    return missing.length > 0
      ? missing
      : [{ gauge, judgement: 'unmade', why: 'it needs three moves or more', distance: 0, ...whole }];
  }
  const made = found.flatMap((reading): Verdict[] => {
    const value = judgedValue(gauge, reading);
    // Who is told of it is told the band it was held against, in the reading's own unit.
    return value === undefined ? [] : [{ gauge: band, reading, ...judgeBy(band, value) }];
  });
  return [...made, ...missing];
}

const isExcepted = ({ except }: Gauge, { detail }: Reading): boolean =>
  except !== undefined && (detail as Record<string, unknown> | undefined)?.[except] === true;

/** Of three readings or more, how far the smallest and the largest are apart, as a reading of its own. */
function spreadOf(found: readonly Reading[]): Reading | undefined {
  const values = found.flatMap(({ value }) => (typeof value === 'number' ? [value] : []));
  const [first] = found;
  if (values.length < 3 || !first) return undefined;
  return {
    ...first,
    value: Math.max(...values) - Math.min(...values),
    frames: found.flatMap(({ frames }) => frames?.[0] ?? []),
    note: `all ${values.length} moves take about as long as each other`,
  };
}
