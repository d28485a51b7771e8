import { Pencil, Trash2 } from 'lucide-react';
import { useState } from 'react';
import useSWRImmutable from 'swr/immutable';
import { QUANTITIES, QUANTITY_KINDS } from '@ypsigraph/core/quantity/quantities';
import type { ParameterKind, Step } from '@ypsigraph/core/remedy/remedy';
import { remedyOf } from '@ypsigraph/core/remedy/remedies';
import { asChart, chartFractions } from '@ypsigraph/core/remedy/spacing-chart';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { capital, figures } from '@ypsigraph/core/say/words';
import { TimingChart } from '../../charts/timing-chart.tsx';
import { Button } from '../../kit/button.tsx';
import { chartOf } from '../marks/kinds/registry.tsx';
import { useReview } from '../review.ts';

/** One remedy of the recipe: what it is done to, and its numbers, which are dragged. */
export function StepRow({
  step,
  onChange,
  onDrop,
  onAsk,
}: {
  step: Step;
  onChange: ((step: Step) => void) | undefined;
  onDrop: (() => void) | undefined;
  onAsk: (() => void) | undefined;
}) {
  const remedy = remedyOf(step.remedy);
  const off = step.off === true;
  const entries = Object.entries(step.parameters);
  const numbers = entries.filter(([name]) => remedy?.parameters[name]?.is === 'number' && name !== 'falloff');
  return (
    <li className={`rounded-md border border-edge bg-sheet px-1.5 py-1 ${off ? 'opacity-50' : ''}`}>
      <div className="flex items-center gap-1">
        <label className="flex min-w-0 flex-1 items-center gap-1" title={remedy && capital(remedy.does)}>
          {onChange && (
            <input
              type="checkbox"
              aria-label={`${remedy?.name ?? step.remedy} is on`}
              checked={!off}
              onChange={(event) =>
                onChange({
                  remedy: step.remedy,
                  parameters: step.parameters,
                  ...(!event.target.checked && { off: true }),
                })
              }
            />
          )}
          <span className="font-semibold">{remedy?.name ?? step.remedy}</span>
          <span className="min-w-0 flex-1 truncate">{saidOf(step)}</span>
        </label>
        {onAsk && (
          <Button
            look="quiet"
            className="!min-h-5 !px-0.5"
            aria-label={`Ask for it in a mark: ${remedy?.name ?? step.remedy}`}
            title="Ask for it in a mark, with what is there and what the cure makes of it"
            onClick={onAsk}
          >
            <Pencil size={12} />
          </Button>
        )}
        {onDrop && (
          <Button
            look="quiet"
            className="!min-h-5 !px-0.5"
            aria-label={`Without ${remedy?.name ?? step.remedy}`}
            onClick={onDrop}
          >
            <Trash2 size={12} />
          </Button>
        )}
      </div>
      {step.remedy === 'respace' && onChange && !off && <Chart step={step} onChange={onChange} />}
      {numbers.map(([name, value]) => {
        const kind = remedy!.parameters[name] as Extract<ParameterKind, { is: 'number' }>;
        return (
          <NumberRow
            key={name}
            name={name}
            kind={kind}
            unit={unitOf(step, kind)}
            value={Number(value)}
            onChange={onChange && ((next) => onChange({ ...step, parameters: { ...step.parameters, [name]: next } }))}
          />
        );
      })}
    </li>
  );
}

/** The spacing of a step as a timing chart: what is there above, what it makes of it beneath, whose ticks are dragged. */
function Chart({ step, onChange }: { step: Step; onChange: (step: Step) => void }) {
  const { source } = useReview();
  const { from, to, joint, chart } = step.parameters;
  const place = from === undefined || to === undefined ? undefined : { from: Number(from), to: Number(to) };
  const point = source?.pointNames.find((name) => name === joint) ?? null;
  const { data } = useSWRImmutable(
    source?.figure && place ? (['cure chart', source, place.from, place.to, point] as const) : null,
    async ([, own]) => chartOf(await own.figure!.measure('spacing', { ...place!, point, part: null }))?.measured,
  );
  const wanted = place && chartFractions(String(chart ?? ''), place.to - place.from);
  if (!data || !place || !wanted) return null;
  return (
    <TimingChart
      measured={data}
      wanted={wanted}
      first={place.from}
      onChange={(own) => onChange({ ...step, parameters: { ...step.parameters, chart: asChart(own) } })}
    />
  );
}

/** Everything of a step that is no number: which part, which frames, what of it. */
function saidOf({ remedy, parameters }: Step): string {
  const kinds = remedyOf(remedy)?.parameters ?? {};
  const frames = Object.entries(parameters).filter(([name]) => kinds[name]?.is === 'frame');
  const words = Object.entries(parameters).flatMap(([name, value]) => {
    const is = kinds[name]?.is;
    if (is === 'joint' || is === 'parts' || is === 'chain') return [String(value).split('+').map(partLabel).join(', ')];
    return is === 'one of' ? [String(value)] : is === 'fractions' ? [spacingOf(String(value))] : [];
  });
  const at = frames.map(([name, value]) => `${name} ${value}`).join(' ');
  return [words.join(' of '), at].filter((own) => own !== '').join(', ');
}

const spacingOf = (chart: string): string => (chart.includes('+') ? 'a chart of its own' : chart);

function NumberRow({
  name,
  kind,
  unit,
  value,
  onChange,
}: {
  name: string;
  unit: string;
  kind: Extract<ParameterKind, { is: 'number' }>;
  value: number;
  onChange: ((value: number) => void) | undefined;
}) {
  const [low, high] = kind.range;
  // The slider stays where it was while it is dragged: about as far to both sides as the value is large.
  const [around] = useState(() => Math.max(high - low <= 2 ? high - low : 4, 1.5 * Math.abs(value)));
  const [start] = useState(value);
  const whole = kind.unit === 'frames' && Number.isInteger(value);
  const step = whole ? 1 : high - low <= 12 ? 0.01 : 0.1;
  const field = { min: Math.max(low, start - around), max: Math.min(high, start + around), step };
  return (
    <div className="mt-0.5 grid grid-cols-[4rem_1fr_3.6rem] items-center gap-1" title={capital(kind.say)}>
      <span className="text-graphite">{name}</span>
      {onChange ? (
        <input
          type="range"
          aria-label={`${name}: ${kind.say}`}
          {...field}
          value={value}
          onChange={(event) => onChange(Number(event.target.value))}
        />
      ) : (
        <span />
      )}
      <span className="frame-number text-right" data-testid="cure-number">
        {figures(value)} {unit}
      </span>
    </div>
  );
}

/** The unit of a number as it is written behind it: of an amount that of its quantity. */
function unitOf({ remedy, parameters }: Step, { unit }: { unit: string }): string {
  if (remedy !== 'amount' || unit === 'times') return SHORT[unit] ?? '';
  const told = QUANTITIES.find((own) => own === parameters.quantity);
  return told && QUANTITY_KINDS[told].unit === '%L' ? '%' : '°';
}

const SHORT: Readonly<Record<string, string>> = {
  frames: 'f',
  '% of the move': '%',
  '% of the move before': '%',
  '% of the chord': '%',
  '% of a leg': '%',
  '%': '%',
  times: '×',
};
