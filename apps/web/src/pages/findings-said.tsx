import type { ReactNode } from 'react';
import type { Finding } from '@ypsigraph/core/gauge/findings';

interface Props {
  readonly findings: readonly Finding[];
  /** So many of the heaviest are told. */
  readonly most: number;
  /** What stands behind each. */
  readonly behind?: (finding: Finding) => ReactNode;
}

/** Findings as sentences, each with the brief's reason for looking. */
export function FindingsSaid({ findings, most, behind }: Props) {
  return (
    <>
      <ul className="mt-1 space-y-1">
        {findings.slice(0, most).map((finding) => (
          <li key={`${finding.reading.id} ${finding.reading.part}`} className="flex gap-2">
            <span aria-label={finding.judgement} role="img">
              {finding.judgement === 'near' ? '◐' : '○'}
            </span>
            <span>
              {finding.say}. <span className="text-graphite">{finding.gauge.why}</span> {behind?.(finding)}
            </span>
          </li>
        ))}
      </ul>
      {findings.length > most && <p className="mt-1 text-graphite">… and {findings.length - most} more.</p>}
    </>
  );
}
