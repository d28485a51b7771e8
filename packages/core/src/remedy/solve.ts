import { judgedValue } from '../gauge/gauge.ts';
import type { Finding } from '../gauge/findings.ts';
import type { Reading } from '../measure/reading.ts';
import { measureReading } from '../measure/registry.ts';
import type { PreparedShot, ShotOptions } from '../motion/prepared-shot.ts';
import { nearestSpan } from '../mark/place.ts';
import { spanOf } from './proposals.ts';
import { makeRecipe, type Treated } from './recipe.ts';
import { type Proposal, type Recipe, RemedyError, SOUGHT } from './remedy.ts';

/** So many values are tried between the two ends that are sought between … */
const TRIES = 8;
/** … and then halved so many times. */
const HALVINGS = 12;
/** A value this near to the one that is wanted, as a share of the way there, is it. */
const NEAR = 1e-4;

/**
 * The value that is wanted of a reading that is not inside its band: a quarter of the band's width inside the nearest end, the middle of a band that is one value;
 * a tenth of the end inside where the other has none. Undefined of a reading that is no number.
 */
export function targetOf({
  reading,
  gauge,
  distance,
}: Pick<Finding, 'reading' | 'gauge' | 'distance'>): number | undefined {
  if (typeof judgedValue(gauge, reading) !== 'number' || !gauge.band) return undefined;
  const [low, high] = gauge.band;
  const width = high - low;
  if (Number.isFinite(width)) return distance < 0 ? low + width / 4 : high - width / 4;
  return distance < 0 ? low + Math.abs(low) / 10 : high - Math.abs(high) / 10;
}

/** What stands where a finding's reading stood, in a shot that a recipe was made on; undefined where it is not made any more. */
export function readingNow(
  { reading }: Pick<Finding, 'reading'>,
  before: PreparedShot,
  { shot, map }: Treated,
): Reading | undefined {
  const same = measureReading(shot, reading.id).filter(({ part }) => part === reading.part);
  if (same.length < 2) return same[0];
  const place = spanOf(reading);
  if (!place) return same[0];
  const now = { from: labelNow(before, shot, map, place.from), to: labelNow(before, shot, map, place.to) };
  const spans = same.map((own) => ({ own, ...(spanOf(own) ?? now) }));
  return nearestSpan(spans, now)?.own;
}

/**
 * The label that a frame of the first shot has in what was made of it.
 *
 * @param last of several frames that show it the last is meant, not the first
 */
export function labelNow(
  before: PreparedShot,
  after: PreparedShot,
  map: readonly number[] | undefined,
  label: number,
  last = false,
): number {
  if (!map) return after.firstFrame + (label - before.firstFrame);
  const wanted = label - before.firstFrame;
  let best = 0;
  map.forEach((from, f) => {
    const nearer = Math.abs(map[best]! - wanted) - Math.abs(from - wanted);
    if (nearer > 0 || (last && nearer === 0)) best = f;
  });
  return after.firstFrame + best;
}

/** How many readings like a finding's are none that its gauge allows: of several holds each is made to live. */
function wrongOf({ gauge, reading }: Finding, shot: PreparedShot): number {
  return measureReading(shot, reading.id).filter((own) => {
    const value = own.part === reading.part ? judgedValue(gauge, own) : undefined;
    return value !== undefined && !gauge.allowed?.includes(value as string | boolean);
  }).length;
}

/** A proposal whose parameter was found: the recipe, and what came of it. */
export interface Solved {
  readonly recipe: Recipe;
  readonly treated: Treated;
}

/** A proposal's steps with a value in the place of the one that is sought. */
export const withSought = (steps: Recipe, value: number): Recipe =>
  steps.map((step) => ({
    ...step,
    parameters: Object.fromEntries(
      Object.entries(step.parameters).map(([name, own]) => [name, own === SOUGHT ? value : own]),
    ),
  }));

/** Parameters are found to six digits: what a person reads, types and keys. */
const told = (value: number): number => Number(value.toPrecision(6));

/**
 * Finds the parameter that a proposal leaves open, by bisection on the finding's own reading; of the values that bring it there the one that changes least.
 *
 * @returns the recipe and what came of it, as near as it gets; undefined where it can't be made on this shot at all
 */
export function solve(
  shot: PreparedShot,
  options: ShotOptions,
  finding: Finding,
  { steps, seek }: Proposal,
  wanted = targetOf(finding),
): Solved | undefined {
  const make = (value: number): Solved | undefined => {
    const recipe = withSought(steps, value);
    try {
      return { recipe, treated: makeRecipe(shot, options, recipe) };
    } catch (error) {
      if (error instanceof RemedyError) return undefined;
      throw error;
    }
  };
  if (!seek) return make(0);
  const { gauge } = finding;
  // How far the reading is from what is wanted: its sign says on which side. Of words, whether they are allowed.
  const off = (solved: Solved | undefined): number | undefined => {
    if (!solved) return undefined;
    const reading = readingNow(finding, shot, solved.treated);
    const value = reading && judgedValue(gauge, reading);
    if (value === undefined) return undefined;
    if (typeof value === 'number' && wanted !== undefined) return value - wanted;
    return wrongOf(finding, solved.treated.shot);
  };
  const start =
    typeof finding.reading.value === 'number' && wanted !== undefined
      ? Math.abs((judgedValue(gauge, finding.reading) as number) - wanted)
      : 1;
  const at = (share: number): number => {
    const value = seek.from + share * (seek.to - seek.from);
    return seek.whole ? Math.round(value) : told(value);
  };
  const tries = seek.whole ? Math.min(48, Math.max(1, Math.abs(seek.to - seek.from))) : TRIES;
  let best: { solved: Solved; off: number } | undefined;
  let last: { share: number; off: number } | undefined;
  const tried = (share: number): number | undefined => {
    const solved = make(at(share));
    const own = off(solved);
    if (solved && own !== undefined && (!best || Math.abs(own) < Math.abs(best.off) - NEAR * start))
      best = { solved, off: own };
    return own;
  };
  for (let k = 0; k <= tries; k++) {
    const share = k / tries;
    const own = tried(share);
    if (own === undefined) continue;
    if (Math.abs(own) <= NEAR * start) break;
    if (last && Math.sign(last.off) !== Math.sign(own) && wanted !== undefined) {
      let [low, high] = [last, { share, off: own }];
      for (let round = 0; round < HALVINGS && !seek.whole; round++) {
        const middle = (low.share + high.share) / 2;
        const value = tried(middle);
        if (value === undefined || Math.abs(value) <= NEAR * start) break;
        if (Math.sign(value) === Math.sign(low.off)) low = { share: middle, off: value };
        else high = { share: middle, off: value };
      }
      break;
    }
    last = { share, off: own };
  }
  return best?.solved;
}
