export const RULER = 22;

interface Props {
  readonly labels: readonly number[];
  readonly from: number;
  readonly to: number;
  readonly x: (label: number) => number;
  readonly perFrame: number;
  readonly width: number;
}

/** Frame labels. One near an end is written from that end, so that none is cut. */
export function Ruler({ labels, from, to, x, perFrame, width }: Props) {
  const first = Math.ceil(from);
  const ticks = perFrame >= 4 ? Array.from({ length: Math.floor(to) - first + 1 }, (_, k) => first + k) : [];
  return (
    <svg width={width} height={RULER} className="frame-number pointer-events-none absolute top-0 left-0" aria-hidden>
      <line x2={width} y1={RULER - 0.5} y2={RULER - 0.5} stroke="var(--edge-strong)" />
      {ticks.map((label) => (
        <line key={label} x1={x(label)} x2={x(label)} y1={RULER - 4} y2={RULER} stroke="var(--edge-strong)" />
      ))}
      {labels.map((label) => {
        const at = x(label);
        const half = 3.4 * String(label).length;
        const anchor = at < half ? 'start' : at > width - half ? 'end' : 'middle';
        return (
          <text
            key={label}
            x={anchor === 'start' ? 1 : anchor === 'end' ? width - 1 : at}
            y={RULER - 8}
            textAnchor={anchor}
            fontSize={10.5}
            fill="var(--graphite)"
          >
            {label}
          </text>
        );
      })}
    </svg>
  );
}
