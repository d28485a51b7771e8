import { scaleLinear } from 'd3-scale';
import type { VerdictCounts } from '@ypsigraph/contract/folios';

interface Props {
  readonly verdicts: VerdictCounts;
  readonly width?: number;
}

const HEIGHT = 12;

/** How much was found on a revision, by the shapes of verdicts: a ring and how many lie outside, a half dot and how many are near; a dot where all is inside. */
export function VerdictShapes({ verdicts: { inside, near, outside } }: Pick<Props, 'verdicts'>) {
  if (inside + near + outside === 0) return <span className="text-xs text-graphite">nothing judged</span>;
  const said = [outside > 0 && `${outside} outside`, near > 0 && `${near} near`].filter(Boolean).join(', ');
  return (
    <span className="frame-number whitespace-nowrap" title={said || `all ${inside} inside`}>
      <span aria-hidden>
        {outside > 0 && `○ ${outside}`}
        {near > 0 && `${outside > 0 ? '  ' : ''}◐ ${near}`}
        {!said && '●'}
      </span>
      <span className="sr-only">{said || 'all inside'}</span>
    </span>
  );
}

/** Verdicts of one revision: what is inside is full, what is near half full, what is outside an empty frame with its number. */
export function VerdictBar({ verdicts: { inside, near, outside }, width = 120 }: Props) {
  const all = inside + near + outside;
  if (all === 0) return <span className="text-xs text-graphite">nothing judged</span>;
  const x = scaleLinear([0, all], [0, width - 1]);
  const said = `${inside} inside, ${near} near, ${outside} outside`;
  return (
    <svg role="img" aria-label={said} width={width} height={HEIGHT + 1} className="block overflow-visible">
      <title>{said}</title>
      <rect x={0.5} y={0.5} width={x(inside)} height={HEIGHT} fill="var(--ink)" opacity={0.75} />
      <rect x={0.5 + x(inside)} y={0.5} width={x(near)} height={HEIGHT} fill="none" stroke="var(--ink)" />
      <rect x={0.5 + x(inside)} y={HEIGHT / 2} width={x(near)} height={HEIGHT / 2} fill="var(--ink)" opacity={0.75} />
      <rect x={0.5 + x(inside + near)} y={0.5} width={x(outside)} height={HEIGHT} fill="none" stroke="var(--ink)" />
      {outside > 0 && x(outside) > 14 && (
        <text
          x={x(inside + near) + x(outside) / 2}
          y={HEIGHT - 2}
          textAnchor="middle"
          className="frame-number fill-ink text-[10px]"
        >
          {outside}
        </text>
      )}
    </svg>
  );
}
