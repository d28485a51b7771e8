import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { useMemo, useRef, useState } from 'react';
import type { GaugeCounts } from './gauge-counts.ts';

interface Props {
  readonly band: readonly [number, number];
  readonly near: number | readonly [number, number] | undefined;
  readonly counts: GaugeCounts;
  readonly exemplar: readonly number[];
  /** What it measures, for those who hear it. */
  readonly label: string;
  readonly onChange: (band: [number, number]) => void;
}

const [WIDTH, HEIGHT, LINE] = [360, 46, 26];

const rounded = (value: number, step: number): number => Number((Math.round(value / step) * step).toPrecision(8));

/** A band on a number line: both ends are pulled, or moved by the arrow keys; shots stand on it as they are, the exemplar above. */
export function GaugeLine({ band, near = 0, counts, exemplar, label, onChange }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<{ end: 0 | 1; domain: readonly [number, number] }>();
  const [under, over] = typeof near === 'number' ? [near, near] : near;
  const natural = useMemo(() => {
    const [low = 0, high = 1] = extent([...band, ...exemplar, ...counts.shots.flatMap(({ value }) => value ?? [])]);
    const room = Math.max((high - low) * 0.12, (band[1] - band[0]) * 0.25, 0.01);
    return [low - room, high + room] as const;
  }, [band, exemplar, counts.shots]);
  // While an end is pulled the line stays as it is under the hand.
  const x = scaleLinear([...(held?.domain ?? natural)], [8, WIDTH - 8]);
  const [from, to] = x.domain() as [number, number];
  const step = 10 ** Math.floor(Math.log10(Math.max(to - from, 1e-6) / 60));
  const move = (end: 0 | 1, value: number): void => {
    const next: [number, number] = [...band];
    next[end] = end === 0 ? Math.min(rounded(value, step), band[1]) : Math.max(rounded(value, step), band[0]);
    onChange(next);
  };
  const valueAt = (clientX: number): number => {
    const box = svg.current!.getBoundingClientRect();
    return x.invert(((clientX - box.left) / box.width) * WIDTH);
  };
  const grip = (end: 0 | 1) => (
    <g
      key={end}
      role="slider"
      tabIndex={0}
      aria-label={`${label}, ${end === 0 ? 'lowest' : 'highest'}`}
      aria-valuenow={band[end]}
      aria-valuemin={end === 0 ? from : band[0]}
      aria-valuemax={end === 0 ? band[1] : to}
      className="cursor-ew-resize outline-none [&:focus-visible>rect]:stroke-ink"
      transform={`translate(${x(band[end])},${LINE})`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setHeld({ end, domain: natural });
      }}
      onPointerMove={(event) => held?.end === end && move(end, valueAt(event.clientX))}
      onPointerUp={() => setHeld(undefined)}
      onPointerCancel={() => setHeld(undefined)}
      onKeyDown={(event) => {
        const direction = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
        if (direction === undefined) return;
        event.preventDefault();
        move(end, band[end] + direction * step * (event.shiftKey ? 10 : 1));
      }}
    >
      <rect x={-12} y={-14} width={24} height={28} rx={4} fill="transparent" stroke="transparent" strokeWidth={1.5} />
      <path d={end === 0 ? 'M4,-9 H0 V9 H4' : 'M-4,-9 H0 V9 H-4'} fill="none" stroke="var(--ink)" strokeWidth={2} />
    </g>
  );
  const shown = (value: number): string => String(Number(value.toPrecision(4)));
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full touch-none select-none"
      data-testid="gauge-line"
    >
      <rect
        x={x(band[0] - under)}
        y={LINE - 5}
        width={Math.max(0, x(band[1] + over) - x(band[0] - under))}
        height={10}
        fill="var(--wash)"
      />
      <rect
        x={x(band[0])}
        y={LINE - 5}
        width={Math.max(1, x(band[1]) - x(band[0]))}
        height={10}
        fill="var(--edge-strong)"
        opacity={0.55}
      />
      <line x1={2} x2={WIDTH - 2} y1={LINE} y2={LINE} stroke="var(--edge-strong)" />
      {counts.shots.flatMap(({ shot, student, value, judgement }) =>
        value === undefined ? (
          []
        ) : (
          <g key={shot} transform={`translate(${x(value)},${LINE})`}>
            <title>{`${student}: ${shown(value)}, ${judgement}`}</title>
            <circle r={3} fill={judgement === 'inside' ? 'var(--ink)' : 'var(--sheet)'} stroke="var(--ink)" />
            {judgement === 'near' && <path d="M0,-3 A3,3 0 0 0 0,3 Z" fill="var(--ink)" />}
          </g>
        ),
      )}
      {exemplar.map((value, k) => (
        <path
          key={k}
          d="M0,0 l-4,-7 h8 Z"
          transform={`translate(${x(value)},${LINE - 6})`}
          fill="none"
          stroke="var(--ink)"
        >
          <title>{`the exemplar: ${shown(value)}`}</title>
        </path>
      ))}
      {([0, 1] as const).map(grip)}
      {([0, 1] as const).map((end) => (
        <text
          key={end}
          x={x(band[end])}
          y={HEIGHT - 1}
          textAnchor={end === 0 ? 'end' : 'start'}
          dx={end === 0 ? 4 : -4}
          className="frame-number fill-graphite text-[10px]"
        >
          {shown(band[end])}
        </text>
      ))}
    </svg>
  );
}
