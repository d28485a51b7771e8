import type { Verdict } from '@ypsigraph/core/gauge/gauge';
import { sayReading } from '@ypsigraph/core/measure/sentence';
import type { StoredReport } from '@ypsigraph/contract/shots';
import type { MarkKind } from '@ypsigraph/contract/vocabulary';
import type { Draft } from './drafts.ts';

/** Which kind of mark a finding is taken as, by the beginning of its reading's id; the first that fits. */
const KIND_OF: readonly (readonly [prefix: string, kind: MarkKind])[] = [
  ['arc.', 'arc'],
  ['spacing.', 'spacing'],
  ['gait.slide', 'spacing'],
  ['gait.even', 'spacing'],
  ['gait.lowAfter', 'timing'],
  ['gait.opposition', 'timing'],
  ['cycle.', 'timing'],
  ['twin.', 'timing'],
  ['lag.', 'timing'],
  ['mirror.', 'breakdown'],
  ['hold.', 'moving hold'],
  ['move.', 'timing'],
  ['jump.', 'timing'],
  ['take.', 'timing'],
  ['look.', 'timing'],
  ['starts.', 'timing'],
  ['breath.', 'timing'],
  ['anticipation.', 'overshoot'],
  ['overshoot.', 'overshoot'],
  ['settle.', 'overshoot'],
];

/** The joint that shows a part best: its tip. */
const TIP_ROLES: Readonly<Record<string, string>> = {
  'leg.L': 'foot.L',
  'leg.R': 'foot.R',
  'arm.L': 'hand.L',
  'arm.R': 'hand.R',
  spine: 'chest',
};

/** Readings of the whole body that one joint shows best. */
const SHOWN_BY: readonly (readonly [prefix: string, role: string])[] = [
  ['gait.bob', 'hips'],
  ['gait.lowAfter', 'hips'],
  ['mirror.height', 'hips'],
  ['jump.', 'hips'],
  ['take.', 'head'],
  ['look.', 'head'],
  ['breath.', 'chest'],
];

/** The joint a reading is about, by name; null where it is the whole body's. */
export function findingJoint({ reading }: Verdict, report: StoredReport): string | null {
  const role = SHOWN_BY.find(([prefix]) => reading?.id.startsWith(prefix))?.[1];
  if (role !== undefined && reading?.part === undefined) return report.roles[role] ?? null;
  const part = reading?.part;
  return part === undefined ? null : (report.roles[TIP_ROLES[part] ?? part] ?? null);
}

/** A finding as a mark to be written: its kind, frames and joint filled in, its numbers and the reason in words. */
export function findingDraft(finding: Verdict, report: StoredReport): Omit<Draft, 'key'> {
  const reading = finding.reading!;
  const last = report.firstFrame + report.frames - 1;
  const frames = reading.frames?.length ? reading.frames : [report.firstFrame, last];
  const within = (label: number): number => Math.min(last, Math.max(report.firstFrame, label));
  const said = sayReading(reading);
  return {
    kind: KIND_OF.find(([prefix]) => reading.id.startsWith(prefix))?.[1] ?? 'note',
    from: within(Math.min(...frames)),
    to: within(Math.max(...frames)),
    joint: findingJoint(finding, report),
    words: `${said[0]!.toUpperCase()}${said.slice(1)}. ${finding.gauge.why}`,
  };
}
