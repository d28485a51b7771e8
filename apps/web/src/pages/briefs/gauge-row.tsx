import { Trash2 } from 'lucide-react';
import { useMemo } from 'react';
import type { Gauge, ReadingValues } from '@ypsigraph/contract/briefs';
import { Stage } from '@ypsigraph/contract/vocabulary';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { judgedNumber } from '@ypsigraph/core/gauge/gauge';
import { readingKind, readingName } from '@ypsigraph/core/measure/registry';
import { partName } from '@ypsigraph/core/say/part-names';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { Select } from '../../kit/select.tsx';
import { countShots, countsText, exemplarValues } from './gauge-counts.ts';
import { GaugeLine } from './gauge-line.tsx';
import { NumberInput } from './sections.tsx';
import { WhatIsJudged } from './what-is-judged.tsx';

interface Props {
  readonly gauge: Gauge;
  readonly values: ReadingValues | undefined;
  readonly exemplar: readonly Reading[];
  readonly error: string | undefined;
  readonly onChange: (gauge: Gauge) => void;
  readonly onDrop: () => void;
}

const UNITS: Readonly<Record<string, string>> = { '%L': '% of a leg', '°': 'degrees', '°/frame': 'degrees a frame' };

/** What a gauge's numbers are in, in words. */
export const unitOf = (gauge: Gauge): string => {
  if (gauge.per !== undefined) return `% of a ${gauge.per}`;
  const { unit, sign } = judgedNumber(gauge) ?? readingKind(gauge.reading)!;
  return [UNITS[unit] ?? unit, sign && `+ ${sign}`].filter(Boolean).join(', ');
};

/** What is not a plain band on the reading's own value, in words. */
function besides(gauge: Gauge): string {
  const { over, except, part, link, reading } = gauge;
  const { flags = {} } = readingKind(reading)!;
  return [
    part === 'none' ? 'of the whole body' : part === 'chain:*' ? 'of every chain' : part && `of ${partName(part)}`,
    judgedNumber(gauge)?.name,
    link !== undefined && `link ${link} of the chain`,
    over === 'spread' && 'the difference of the largest and the smallest',
    except && `not where it is ${flags[except]}`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** One gauge: its band on the number line, from which stage it counts, how much, and why. */
export function GaugeRow({ gauge, values, exemplar, error, onChange, onDrop }: Props) {
  const counts = useMemo(() => countShots(gauge, values ?? { shots: [] }), [gauge, values]);
  const shown = useMemo(() => exemplarValues(gauge, exemplar), [gauge, exemplar]);
  const name = readingName(gauge.reading);
  const near = typeof gauge.near === 'number' ? gauge.near : (gauge.near?.[0] ?? 0);
  return (
    <li
      className="grid grid-cols-[1fr_22rem] gap-x-5 gap-y-1 border-t border-edge py-2"
      data-testid={`gauge ${gauge.reading}`}
    >
      <div>
        <p className="flex flex-wrap items-baseline gap-x-2">
          <span className="font-semibold">{name}</span>
          <span className="text-xs text-graphite">{[unitOf(gauge), besides(gauge)].filter(Boolean).join('; ')}</span>
          <Button look="quiet" className="ml-auto !min-h-6" aria-label={`Delete the gauge on ${name}`} onClick={onDrop}>
            <Trash2 size={13} />
          </Button>
        </p>
        <WhatIsJudged gauge={gauge} exemplar={exemplar} values={values} onChange={onChange} />
        <textarea
          aria-label={`Why: ${name}`}
          rows={2}
          className={`${INPUT} mt-1`}
          maxLength={1000}
          value={gauge.why}
          onChange={(e) => onChange({ ...gauge, why: e.target.value })}
        />
        {error && (
          <p role="alert" className="text-xs font-semibold">
            {error}
          </p>
        )}
      </div>
      <div>
        {gauge.band ? (
          <>
            <GaugeLine
              band={gauge.band}
              near={gauge.near}
              counts={counts}
              exemplar={shown}
              label={name}
              onChange={(band) => onChange({ ...gauge, band })}
            />
          </>
        ) : (
          <Allowed gauge={gauge} onChange={onChange} />
        )}
        <p className="text-xs text-graphite" data-testid="counts">
          {values ? countsText(counts) : 'Loading the shots …'}
        </p>
        <div className="mt-1 flex items-center gap-2 text-xs text-graphite">
          from
          <Select
            label={`From which stage ${name} counts`}
            className="text-xs"
            value={gauge.from}
            onChange={(from) => onChange({ ...gauge, from: Stage.parse(from) })}
            options={Stage.options.map((value) => ({ value, text: value }))}
          />
          weight
          <span className="w-16">
            <NumberInput
              label={`Weight of ${name}`}
              step={0.5}
              value={gauge.weight}
              onChange={(weight) => weight !== null && onChange({ ...gauge, weight })}
            />
          </span>
          {gauge.band && (
            <>
              <span className="whitespace-nowrap">near within</span>
              <span className="w-24">
                <NumberInput
                  label={`Near within, ${name}`}
                  step={0.1}
                  value={near}
                  onChange={(value) => value !== null && value >= 0 && onChange({ ...gauge, near: value })}
                />
              </span>
            </>
          )}
        </div>
      </div>
    </li>
  );
}

/** Values a reading may have that is no number: yes or no, or words. */
function Allowed({ gauge, onChange }: Pick<Props, 'gauge' | 'onChange'>) {
  const { allowed = [] } = gauge;
  const name = readingName(gauge.reading);
  if (typeof allowed[0] === 'boolean')
    return (
      <Select
        label={`What ${name} must be`}
        value={allowed[0] ? 'yes' : 'no'}
        onChange={(value) => onChange({ ...gauge, allowed: [value === 'yes'] })}
        options={[
          { value: 'yes', text: 'must be so' },
          { value: 'no', text: 'must not be so' },
        ]}
      />
    );
  return (
    <input
      aria-label={`What ${name} may be`}
      className={INPUT}
      value={allowed.join(', ')}
      onChange={(e) => onChange({ ...gauge, allowed: e.target.value.split(',').map((word) => word.trimStart()) })}
    />
  );
}
