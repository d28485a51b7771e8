import { useMemo } from 'react';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { Gauge, ReadingValues } from '@ypsigraph/contract/briefs';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { MEASURES, type ReadingId, readingKind, TOPICS } from '@ypsigraph/core/measure/registry';
import { BODY_GROUPS } from '@ypsigraph/core/motion/regions';
import { Button } from '../../kit/button.tsx';
import { Select } from '../../kit/select.tsx';
import { gaugeGroup } from './gauge-group.ts';
import { GaugeRow } from './gauge-row.tsx';
import { Section } from './sections.tsx';
import type { Editing } from './what-section.tsx';

interface Props extends Editing {
  readonly values: ReadingValues | undefined;
  readonly exemplar: readonly Reading[];
}

/** A gauge to begin with: the band around what the exemplar has, or around what there is. */
function newGauge(reading: ReadingId, exemplar: readonly Reading[], values: ReadingValues | undefined): Gauge {
  const own =
    exemplar.find(({ id }) => id === reading)?.value ??
    values?.shots.flatMap(({ readings }) => readings).find(({ id }) => id === reading)?.value;
  const plain = { reading, from: 'polish', weight: 5, why: 'Because …' } as const;
  const { values: words, yesOrNo } = readingKind(reading)!;
  if (typeof own === 'boolean' || yesOrNo) return { ...plain, allowed: [own === true] };
  if (typeof own === 'string' || words) return { ...plain, allowed: [typeof own === 'string' ? own : words![0]!] };
  const room = Math.max(Math.abs(own ?? 1) * 0.25, 0.5);
  const tidy = (value: number): number => Number(value.toPrecision(3));
  return { ...plain, band: [tidy((own ?? 0) - room), tidy((own ?? 1) + room)] };
}

/** The gauges of a brief, by part: its own, or, as long as nobody has touched them, the usual ones of its kind. */
export function GaugesSection({ draft, set, errorAt, values, exemplar }: Props) {
  const gauges = gaugesOf(draft) as readonly Gauge[];
  const change = (next: readonly Gauge[]): void => set({ gauges: [...next] });
  const free = useMemo(
    () =>
      TOPICS.flatMap((topic) =>
        MEASURES.filter((measure) => measure.topic === topic).flatMap(({ readings }) =>
          readings
            .filter(({ kinds }) => kinds.length === 0 || draft.kind === 'any' || kinds.includes(draft.kind))
            .map(({ id, name }) => ({ value: id, text: `${topic}: ${name}` })),
        ),
      ),
    [draft.kind],
  );
  return (
    <Section
      title="Gauges"
      aside={
        <>
          <p className="text-sm text-graphite" data-testid="whose-gauges">
            {draft.gauges === null
              ? gauges.length > 0
                ? `The usual ones of a ${draft.kind}, at ${draft.fps} frames a second. Move one, and they are this brief’s own.`
                : 'Nothing in particular is expected of this kind.'
              : `${gauges.length} of its own.`}
          </p>
          {draft.gauges !== null && (
            <Button look="quiet" className="!min-h-6 text-xs" onClick={() => set({ gauges: null })}>
              Back to the usual gauges
            </Button>
          )}
        </>
      }
    >
      {BODY_GROUPS.map((group) => {
        const own = [...gauges.entries()].filter(([, gauge]) => gaugeGroup(gauge) === group);
        if (own.length === 0) return null;
        return (
          <div key={group} className="mb-3">
            <h3 className="text-sm font-semibold">{group}</h3>
            <ul>
              {own.map(([k, gauge]) => (
                <GaugeRow
                  key={`${gauge.reading} ${gauge.part} ${gauge.of} ${k}`}
                  gauge={gauge}
                  values={values}
                  exemplar={exemplar}
                  error={errorAt(`gauges.${k}`)}
                  onChange={(next) => change(gauges.with(k, next))}
                  onDrop={() => change(gauges.toSpliced(k, 1))}
                />
              ))}
            </ul>
          </div>
        );
      })}
      <Select
        label="Add a gauge"
        value={undefined}
        placeholder="Add a gauge …"
        className="w-80"
        onChange={(reading) => change([...gauges, newGauge(reading as ReadingId, exemplar, values)])}
        options={free}
      />
    </Section>
  );
}
