import type { Finding } from '@ypsigraph/core/gauge/findings';
import { takeFinding } from '@ypsigraph/core/mark/mark';
import { readingKind } from '@ypsigraph/core/measure/registry';
import { shownJoint } from '@ypsigraph/core/measure/shown-joint';
import type { StoredReport } from '@ypsigraph/contract/shots';
import { type Draft, newDraft } from './draft.ts';

/** One name for a finding, the same each time the shot is judged. */
export const findingKey = ({ reading }: Finding): string => `${reading.id} ${reading.part ?? ''}`;

/** The joint a reading is about, by name; null where it is the whole body’s. */
export const findingPoint = ({ reading }: Finding, { roles }: StoredReport): string | null =>
  shownJoint(reading, roles) ?? null;

/** The labels a finding's mark stands at: those of its worst reading, or the whole shot. */
export function findingSpan({ reading }: Finding, report: StoredReport): { from: number; to: number } {
  const last = report.firstFrame + report.frames - 1;
  const detail = reading.detail as { from?: number; to?: number } | undefined;
  const lasting = detail?.from !== undefined && detail.to !== undefined ? [detail.from, detail.to] : [];
  const frames = lasting.length > 0 ? lasting : reading.frames?.length ? reading.frames : [report.firstFrame, last];
  const within = (label: number): number => Math.min(last, Math.max(report.firstFrame, Math.round(label)));
  return { from: within(Math.min(...frames)), to: within(Math.max(...frames)) };
}

/** A finding as a mark of its kind to be written: frames, point and part, its reading, and the reason in words. Its own numbers are measured next. */
export function findingDraft(finding: Finding, report: StoredReport): Draft {
  const { from, to } = findingSpan(finding, report);
  const kind = readingKind(finding.reading.id)?.mark ?? 'note';
  const point = findingPoint(finding, report);
  const { say } = finding;
  return {
    ...newDraft(kind, from, to, point),
    part: finding.reading.part ?? null,
    payload: takeFinding(finding),
    words: `${say[0]!.toUpperCase()}${say.slice(1)}. ${finding.gauge.why}`,
  };
}
