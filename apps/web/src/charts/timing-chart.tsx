import { scaleLinear } from 'd3-scale';
import { useRef } from 'react';

const WIDTH = 268;
const HEIGHT = 52;
const INSET = 8;

interface Props {
  /** How far each frame is on the way, from the first pose to the second. */
  readonly measured: readonly number[];
  readonly wanted: readonly number[] | null;
  /** Where each frame was on the revision it was marked on. */
  readonly then?: readonly number[] | undefined;
  /** Label of the first pose. */
  readonly first: number;
  /** Left out where nothing can be changed. */
  readonly onChange?: (fractions: number[]) => void;
}

/**
 * A timing chart: the line between two poses with a tick for each frame. Above the line what is there, with rings where
 * it was when it was marked; under it what is wanted, whose ticks can
 * be dragged, or moved with the arrow keys.
 */
export function TimingChart({ measured, wanted, then, first, onChange }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const x = scaleLinear([0, 1], [INSET, WIDTH - INSET]).clamp(true);
  const last = measured.length - 1;
  const move = (k: number, fraction: number): void => {
    if (!wanted || !onChange || k === 0 || k === wanted.length - 1) return;
    // A frame stays between those beside it.
    const between = Math.min(wanted[k + 1]!, Math.max(wanted[k - 1]!, fraction));
    onChange(wanted.map((own, j) => (j === k ? Math.round(between * 1000) / 1000 : own)));
  };
  const few = last <= 26;
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="frame-number w-full touch-none"
      role="group"
      aria-label="Timing chart: above the line what is there, under it what is wanted"
      data-testid="timing-chart"
    >
      <line x1={x(0)} x2={x(1)} y1={26} y2={26} stroke="var(--ink)" strokeWidth={1.5} />
      {then?.slice(1, -1).map((fraction, k) => (
        <circle key={`then ${k}`} cx={x(fraction)} cy={13} r={2} fill="none" stroke="var(--graphite)">
          <title>then</title>
        </circle>
      ))}
      {measured.map((fraction, k) => (
        <g key={k}>
          <line
            x1={x(fraction)}
            x2={x(fraction)}
            y1={k === 0 || k === last ? 10 : 16}
            y2={26}
            stroke="var(--ink)"
            strokeWidth={1.25}
          />
          {(k === 0 || k === last) && (
            <text x={x(fraction)} y={8} fontSize={9} textAnchor={k === 0 ? 'start' : 'end'} fill="var(--graphite)">
              {first + k}
            </text>
          )}
        </g>
      ))}
      {wanted?.map((fraction, k) => (
        <line
          key={k}
          x1={x(fraction)}
          x2={x(fraction)}
          y1={26}
          y2={k === 0 || k === last ? 42 : 36}
          stroke="var(--instructor-line)"
          strokeWidth={k === 0 || k === last ? 1.5 : 2.25}
        />
      ))}
      {onChange &&
        few &&
        wanted?.slice(1, -1).map((fraction, j) => {
          const k = j + 1;
          return (
            <circle
              key={k}
              cx={x(fraction)}
              cy={40}
              r={5}
              fill="var(--sheet)"
              stroke="var(--instructor-line)"
              strokeWidth={1.5}
              className="cursor-ew-resize"
              role="slider"
              tabIndex={0}
              aria-label={`Frame ${first + k}, wanted`}
              aria-valuenow={Math.round(100 * fraction)}
              aria-valuemin={0}
              aria-valuemax={100}
              aria-valuetext={`${Math.round(100 * fraction)} % of the way`}
              onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
              onPointerMove={(event) => {
                if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
                const box = svg.current!.getBoundingClientRect();
                move(k, x.invert(((event.clientX - box.left) / box.width) * WIDTH));
              }}
              onKeyDown={(event) => {
                const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
                if (step === 0) return;
                event.preventDefault();
                event.stopPropagation();
                move(k, fraction + step * (event.shiftKey ? 0.1 : 0.02));
              }}
            />
          );
        })}
    </svg>
  );
}
