import type { PlannedPose } from '../trade/planned-pose.ts';
import type { Gauge } from './gauge.ts';

/** A pose this many frames beyond its tolerance is near it. */
const NEAR = 1;

/** Gauges of a plan: each pose within its tolerance, and none missing. Of poses of one name the widest tolerance counts. */
export function planGauges(plan: readonly PlannedPose[]): Gauge[] {
  if (plan.length === 0) return [];
  const tolerance = new Map<string, number>();
  for (const { name, tolerance: own } of plan) tolerance.set(name, Math.max(own, tolerance.get(name) ?? 0));
  return [
    ...[...tolerance].map(([part, own]): Gauge => ({
      reading: 'plan.frame',
      part,
      from: 'blocking',
      band: [-own, own],
      near: NEAR,
      weight: 40,
      why: 'The exercise plans its poses: the eye counts them.',
    })),
    {
      reading: 'plan.missing',
      from: 'blocking',
      allowed: ['none'],
      weight: 60,
      why: 'What is planned and not there can’t be timed.',
    },
  ];
}
