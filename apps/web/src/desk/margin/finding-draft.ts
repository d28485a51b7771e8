import type { Finding } from '@ypsigraph/core/gauge/findings';
import { READING_KINDS } from '@ypsigraph/core/measure/registry';
import type { StoredReport } from '@ypsigraph/contract/shots';
import type { Draft } from './draft.ts';

/** The joint that shows a part best: its tip. */
const TIP_ROLES: Readonly<Record<string, string>> = {
  'leg.L': 'foot.L',
  'leg.R': 'foot.R',
  'arm.L': 'hand.L',
  'arm.R': 'hand.R',
  spine: 'chest',
};

/** The joint a reading is about, by name; null where it is the whole body's. */
export function findingJoint({ reading }: Finding, report: StoredReport): string | null {
  const named = (reading.detail as { joint?: string } | undefined)?.joint;
  if (named !== undefined) return named;
  const role =
    reading.part === undefined ? READING_KINDS.get(reading.id)?.shows : (TIP_ROLES[reading.part] ?? reading.part);
  return role === undefined ? null : (report.roles[role] ?? null);
}

/** A finding as a mark to be written: its kind, frames and joint filled in, its numbers and the reason in words. */
export function findingDraft(finding: Finding, report: StoredReport): Omit<Draft, 'key'> {
  const last = report.firstFrame + report.frames - 1;
  const frames = finding.reading.frames?.length ? finding.reading.frames : [report.firstFrame, last];
  const within = (label: number): number => Math.min(last, Math.max(report.firstFrame, Math.round(label)));
  const { say } = finding;
  return {
    kind: READING_KINDS.get(finding.reading.id)?.mark ?? 'note',
    from: within(Math.min(...frames)),
    to: within(Math.max(...frames)),
    joint: findingJoint(finding, report),
    words: `${say[0]!.toUpperCase()}${say.slice(1)}. ${finding.gauge.why}`,
  };
}
