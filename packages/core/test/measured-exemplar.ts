import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import type { Measured } from '../src/measure/reading.ts';
import { measureShot } from '../src/measure/registry.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';

const made = new Map<string, { readonly shot: PreparedShot; readonly measured: Measured }>();

/**
 * An exemplar with faults of these sizes, looped as its brief says, and all that is measured of it. It is made once, however many facts are asked
 * of it: the whole of what is asked here is asked of some three hundred motions.
 */
export function measuredExemplar(
  name: string,
  faults: Record<string, number>,
): { readonly shot: PreparedShot; readonly measured: Measured } {
  const called = `${name} ${JSON.stringify(faults)}`;
  const before = made.get(called);
  if (before) return before;
  const { kind, defaults, make } = EXEMPLARS[name]!;
  const loop = defaults.loop as ShotOptions['loop'];
  const shot = prepareShot(make({}, faults), { kind, ...(loop && { loop }) });
  const now = { shot, measured: measureShot(shot) };
  made.set(called, now);
  return now;
}
