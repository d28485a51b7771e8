import { extent } from 'd3-array';
import { scaleLinear, scaleTime } from 'd3-scale';
import { line } from 'd3-shape';
import { format } from 'date-fns';
import { Takeable } from './takeable.tsx';

export interface TimedValue {
  readonly at: Date;
  readonly value: number;
  readonly say: string;
}

interface Props {
  readonly values: readonly TimedValue[];
  /** What it shows, for those who hear it. */
  readonly label: string;
  /** A value as it is written at the axis. */
  readonly tick: (value: number) => string;
  readonly width?: number;
  readonly height?: number;
}

/** Values over the term as a line through dots. */
export function OverTime({ values, label, tick, width = 420, height = 120 }: Props) {
  if (values.length === 0) return <p className="text-sm text-graphite">Nothing yet.</p>;
  const [first, last] = extent(values, ({ at }) => at) as [Date, Date];
  const room = Math.max((last.getTime() - first.getTime()) * 0.03, 3_600_000 * 6);
  const x = scaleTime([new Date(first.getTime() - room), new Date(last.getTime() + room)], [44, width - 8]);
  const y = scaleLinear([0, Math.max(...values.map(({ value }) => value), 1)], [height - 20, 8]).nice(3);
  const path = line<TimedValue>(
    ({ at }) => x(at),
    ({ value }) => y(value),
  );
  return (
    <Takeable name={label.toLowerCase().replaceAll(' ', '-')}>
      <svg role="img" aria-label={label} width={width} height={height} className="block max-w-full">
        {y.ticks(3).map((value) => (
          <g key={value} transform={`translate(0,${y(value)})`}>
            <line x1={40} x2={width - 8} stroke="var(--edge)" />
            <text x={36} dy={3} textAnchor="end" className="frame-number fill-graphite text-[10px]">
              {tick(value)}
            </text>
          </g>
        ))}
        {x.ticks(4).map((at) => (
          <text
            key={at.getTime()}
            x={x(at)}
            y={height - 5}
            textAnchor={x(at) > width - 24 ? 'end' : 'middle'}
            className="fill-graphite text-[10px]"
          >
            {format(at, 'd MMM')}
          </text>
        ))}
        <path d={path(values) ?? ''} fill="none" stroke="var(--graphite)" />
        {values.map((own) => (
          <circle key={`${own.at.getTime()} ${own.say}`} cx={x(own.at)} cy={y(own.value)} r={3.5} fill="var(--ink)">
            <title>{own.say}</title>
          </circle>
        ))}
      </svg>
    </Takeable>
  );
}
