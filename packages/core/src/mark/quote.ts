import type { Finding } from '../gauge/findings.ts';
import { judgedUnit, judgedValue } from '../gauge/gauge.ts';
import type { Reading } from '../measure/reading.ts';
import { PLANNED_FRAME } from '../measure/plan/plan.ts';
import { measureShot, readingKind } from '../measure/registry.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { degrees, figures, ofLeg, partFrames, percent } from '../say/words.ts';
import { nearestSpan } from './place.ts';
import type { Labels, MarkWords, Met, Quote } from './mark-tool.ts';

const limit = (value: number): number | null => (Number.isFinite(value) ? value : null);

/** A finding's reading as a mark quotes it: its value, and what its gauge allows. */
export function quoteOf({ reading, gauge }: Finding): Quote {
  const part = reading.part !== undefined && { part: reading.part };
  const frame = plannedFrame({ reading, gauge });
  if (frame) return { reading: reading.id, ...part, ...frame };
  return {
    reading: reading.id,
    ...part,
    ...(gauge.of !== undefined && { of: gauge.of }),
    value: judgedValue(gauge, reading) ?? reading.value,
    unit: judgedUnit(gauge, reading),
    ...(gauge.band && { band: [limit(gauge.band[0]), limit(gauge.band[1])] as const }),
    ...(gauge.allowed && { allowed: gauge.allowed }),
  };
}

/** Of what comes before or after a frame that was planned the mark wants that frame: where it stands, and where it may. */
function plannedFrame({ reading, gauge: { band } }: Pick<Finding, 'reading' | 'gauge'>): Omit<Quote, 'reading'> | null {
  const [own] = PLANNED_FRAME.among([reading]);
  if (!own || !band) return null;
  const { found, planned } = own.detail;
  return { of: 'found', value: found, unit: FRAME, band: [limit(planned + band[0]), limit(planned + band[1])] };
}

/** The unit of a value that is a frame's label. */
const FRAME = 'frame';

const WORDS: Readonly<Record<string, (value: number) => string>> = {
  '%L': ofLeg,
  '°': degrees,
  '%': percent,
  frames: partFrames,
};

/** A value with its unit, as people say it. */
export function sayValue(value: Quote['value'], unit: string): string {
  if (typeof value === 'boolean') return value ? 'it does' : 'it does not';
  if (typeof value === 'string') return value;
  if (unit === FRAME) return `frame ${Number(value.toFixed(1))}`;
  // Time that is negative lies the other way round.
  if (unit === 'frames' && value < 0) return `${partFrames(-value)} earlier`;
  const told = WORDS[unit]?.(value) ?? `${figures(value)}${/^[a-z0-9/–…]+$/.test(unit) ? '' : ` ${unit}`}`;
  return told.replace(/^-/, '−');
}

/** The value of a reading with its unit, as people say it: when something happens is a frame, not a number of them. */
export const sayReadingValue = (id: string, value: Quote['value'], unit: string): string =>
  sayValue(value, typeof value === 'number' && readingKind(id)?.isLabel ? FRAME : unit);

/** What is there and what is wanted, in words: “6.2 % of a leg” and “1.5 % of a leg or less”. */
export function sayQuote({ reading, value, unit, band, allowed }: Quote): MarkWords {
  if (typeof value === 'boolean') {
    const told = readingKind(reading)?.yesOrNo ?? ['it does', 'it does not'];
    const say = (own: boolean): string => told[own ? 0 : 1];
    return { now: say(value), wanted: allowed?.includes(!value) ? say(!value) : '' };
  }
  // A list says what is on it; that nothing should be goes without saying.
  if (unit === 'list') return { now: `${readingKind(reading)?.name ?? reading}: ${value}`, wanted: '' };
  const told = (number: number): string => sayReadingValue(reading, number, unit);
  const [low, high] = band ?? [null, null];
  const wanted =
    low !== null && high !== null
      ? low === high
        ? told(low)
        : low === 0 && unit !== '–1…1'
          ? `${told(high)} or less`
          : low === -high
            ? `within ${told(high)}`
            : `${told(low)} to ${told(high)}`
      : high !== null
        ? `${told(high)} or less`
        : low !== null
          ? `${told(low)} or more`
          : (allowed ?? []).map((one) => sayValue(one, unit)).join(' or ');
  return { now: sayReadingValue(reading, value, unit), wanted };
}

const known = new WeakMap<PreparedShot, readonly Reading[]>();

/** Every reading of a shot, made once. */
function readingsOf(shot: PreparedShot): readonly Reading[] {
  const readings = known.get(shot) ?? measureShot(shot).readings;
  known.set(shot, readings);
  return readings;
}

/** The same reading of a shot, at the place nearest to the mark's; undefined where it can't be made. */
export function readAgain(shot: PreparedShot, { reading, part }: Quote, place: Labels): Reading | undefined {
  const same = readingsOf(shot).filter((own) => own.id === reading && own.part === part);
  const spans = same.map((own) => {
    const detail = own.detail as Partial<Labels> | undefined;
    const labels = own.frames ?? [];
    const from = detail?.from ?? (labels.length > 0 ? Math.min(...labels) : place.from);
    const to = detail?.to ?? (labels.length > 0 ? Math.max(...labels) : place.to);
    return { own, from, to };
  });
  return nearestSpan(spans, place)?.own;
}

/** Holds a shot against a quoted reading; undefined where the shot does not show it any more. */
export function metQuote(quote: Quote, shot: PreparedShot, place: Labels): Met | undefined {
  const reading = readAgain(shot, quote, place);
  if (!reading) return undefined;
  const value = quote.of === undefined ? reading.value : (reading.detail as Record<string, Quote['value']>)[quote.of];
  if (value === undefined) return undefined;
  const away = quoteDistance(quote, value);
  return { now: sayReadingValue(quote.reading, value, quote.unit), ...away, met: away.distance <= 0 };
}

/** How far a value is from what a quoted reading's gauge allows, and on which side of it. */
export function quoteDistance(
  { band, allowed, unit }: Quote,
  value: Quote['value'],
): { readonly distance: number; readonly unit: string; readonly side: -1 | 0 | 1 } {
  if (band && typeof value === 'number') {
    const [under, over] = [(band[0] ?? -Infinity) - value, value - (band[1] ?? Infinity)];
    return { distance: Math.max(under, over), unit, side: under > 0 ? -1 : over > 0 ? 1 : 0 };
  }
  return { distance: (allowed?.includes(value as string | boolean) ?? true) ? 0 : 1, unit, side: 0 };
}
