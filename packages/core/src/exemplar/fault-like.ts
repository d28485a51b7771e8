import { type Finding, judgeShot } from '../gauge/findings.ts';
import { judgedValue } from '../gauge/gauge.ts';
import { defaultGauges } from '../gauge/gauges.ts';
import { measureShot } from '../measure/registry.ts';
import type { Kind } from '../motion/kinds.ts';
import { prepareShot } from '../motion/prepare-shot.ts';
import { EXEMPLARS } from './exemplars.ts';
import { FAULT_WORDS } from './fault-words.ts';

/** An exemplar with one fault dialled in. */
export interface DialledFault {
  readonly exemplar: string;
  readonly fault: string;
  readonly size: number;
}

/** So many halvings bring the fault's size to where the exemplar shows as much of it. */
const HALVINGS = 8;
/** A fault is dialled up to so many times its usual size, the most first. */
const MOST = [2.5, 2, 1.5, 1];

/**
 * The exemplar that shows a finding: of its kind, with the fault that is found first by the same reading, as much of it as there is. What a class sees then is
 * the fault, and nobody's shot.
 *
 * @returns undefined where no fault of that kind is found so
 * @example faultLike('walk', slide) // { exemplar: 'walk', fault: 'slide', size: 5.1 }
 */
export function faultLike(
  kind: Kind,
  { reading, gauge }: Pick<Finding, 'reading' | 'gauge'>,
): DialledFault | undefined {
  const wanted = judgedValue(gauge, reading);
  for (const [exemplar, { kind: own, faults, make }] of Object.entries(EXEMPLARS)) {
    if (own !== kind) continue;
    const found = (fault: string, size: number): Finding | undefined => {
      const shot = prepareShot(make({}, { [fault]: size }), { kind });
      const { findings } = judgeShot(defaultGauges(kind, shot.fps), { ...measureShot(shot), fps: shot.fps }, 'polish');
      return findings[0]?.reading.id === reading.id ? findings[0] : undefined;
    };
    for (const fault of faults) {
      const { usual } = FAULT_WORDS[fault]!;
      const first = found(fault, usual);
      if (!first) continue;
      const as = (size: number): number | undefined => {
        const own = found(fault, size);
        const value = own && judgedValue(gauge, own.reading);
        return typeof value === 'number' ? value : undefined;
      };
      return { exemplar, fault, size: typeof wanted === 'number' ? sizeFor(wanted, usual, as) : usual };
    }
  }
  return undefined;
}

/** The size at which a fault reads as much as is wanted; its usual one where none does. */
function sizeFor(wanted: number, usual: number, as: (size: number) => number | undefined): number {
  // What is there or not has no size of its own.
  if (usual === 1) return 1;
  // Too much of it may be found as something else first.
  let high = usual * (MOST.find((times) => as(times * usual) !== undefined) ?? 1);
  let low = 0.1 * usual;
  const [most, less] = [as(high), as(0.9 * high)];
  if (most === undefined || less === undefined) return usual;
  const rises = most > less;
  if (rises ? wanted > most : wanted < most) return Number(high.toPrecision(2));
  for (let round = 0; round < HALVINGS; round++) {
    const middle = (low + high) / 2;
    const value = as(middle);
    // Too little of it is not found at all.
    if (value === undefined || (rises ? value < wanted : value > wanted)) low = middle;
    else high = middle;
  }
  return Number(high.toPrecision(2));
}
