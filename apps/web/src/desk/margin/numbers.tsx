import { CHART_PRESETS, presetFractions } from '@ypsigraph/core/chart/presets';
import type { Payload } from '@ypsigraph/contract/marks';
import { INPUT } from '../../kit/field.tsx';
import { Button } from '../../kit/button.tsx';
import { TimingChart } from '../../charts/timing-chart.tsx';
import type { Draft } from './draft.ts';

interface Props {
  readonly draft: Draft;
  readonly setDraft: (draft: Draft) => void;
}

/** What is wanted in numbers, by the kind of mark. Where a finding was taken its band says what is wanted. */
export function Numbers({ draft, setDraft }: Props) {
  const { payload } = draft;
  if (!payload || payload.kind === 'note' || payload.quote || payload.measured === null) return null;
  const want = (wanted: Payload['wanted']): void => setDraft({ ...draft, payload: { ...payload, wanted } as Payload });
  switch (payload.kind) {
    case 'timing': {
      const wanted = payload.wanted!;
      const event = draft.from === draft.to;
      return (
        <Fields>
          <NumberField
            label={event ? 'wanted at' : 'wanted from'}
            value={wanted.from}
            onChange={(from) => want(event ? { from, to: from } : { from, to: Math.max(from, wanted.to) })}
          />
          {!event && (
            <NumberField
              label="to"
              value={wanted.to}
              onChange={(to) => want({ from: Math.min(wanted.from, to), to })}
            />
          )}
        </Fields>
      );
    }
    case 'spacing':
      return (
        <div>
          <TimingChart
            measured={payload.measured.fractions}
            wanted={payload.wanted!.fractions}
            first={draft.from}
            onChange={(fractions) => want({ fractions })}
          />
          <div className="mt-1 flex flex-wrap gap-0.5" role="group" aria-label="Spacing that is wanted">
            {CHART_PRESETS.map((preset) => (
              <Button
                key={preset}
                look="quiet"
                className="!min-h-6 px-1 text-2xs"
                onClick={() => want({ fractions: presetFractions(preset, payload.measured!.fractions.length - 1) })}
              >
                {preset}
              </Button>
            ))}
          </div>
        </div>
      );
    case 'arc':
      return (
        <p className="text-xs text-graphite">
          Pull the round points on the paper to the arc you want; with a point in focus the arrow keys do it.
        </p>
      );
    case 'breakdown':
      return (
        <Fields>
          <NumberField
            label="breakdown at"
            value={payload.measured.at}
            onChange={(at) => setDraft({ ...draft, breakdown: at, moved: true })}
          />
          <NumberField
            label={`favour ${draft.from} by, %`}
            value={payload.wanted!.favour}
            onChange={(favour) => want({ favour })}
          />
        </Fields>
      );
    case 'overshoot': {
      const wanted = payload.wanted!;
      return (
        <Fields>
          <NumberField label="past its end, %" value={wanted.depth} onChange={(depth) => want({ ...wanted, depth })} />
          <NumberField
            label="for frames"
            value={wanted.frames}
            least={0}
            onChange={(frames) => want({ ...wanted, frames })}
          />
          <NumberField
            label="the other way first, %"
            value={wanted.anticipation}
            onChange={(anticipation) => want({ ...wanted, anticipation })}
          />
        </Fields>
      );
    }
    case 'moving hold': {
      const wanted = payload.wanted!;
      return (
        <Fields>
          <NumberField
            label="hold from"
            value={wanted.from}
            onChange={(from) => want({ ...wanted, from, to: Math.max(from, wanted.to) })}
          />
          <NumberField
            label="to"
            value={wanted.to}
            onChange={(to) => want({ ...wanted, to, from: Math.min(to, wanted.from) })}
          />
          <NumberField
            label="drift, % of the move"
            value={wanted.drift}
            onChange={(drift) => want({ ...wanted, drift })}
          />
        </Fields>
      );
    }
  }
}

const Fields = ({ children }: { children: React.ReactNode }) => (
  <div className="flex flex-wrap items-center gap-x-2 gap-y-1" role="group" aria-label="What is wanted">
    {children}
  </div>
);

interface FieldProps {
  readonly label: string;
  readonly value: number;
  readonly least?: number;
  readonly onChange: (value: number) => void;
}

function NumberField({ label, value, least, onChange }: FieldProps) {
  return (
    <label className="text-xs text-graphite">
      {label}{' '}
      <input
        type="number"
        className={`frame-number ${INPUT} !min-h-6 !w-14 !px-1`}
        value={value}
        {...(least !== undefined && { min: least })}
        onChange={(event) => {
          const next = Math.round(Number(event.target.value));
          if (event.target.value !== '' && Number.isFinite(next)) onChange(Math.max(least ?? -10_000, next));
        }}
      />
    </label>
  );
}
