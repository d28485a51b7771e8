import { useMemo, useState } from 'react';
import { bandsOf } from '@ypsigraph/contract/gauges-of';
import type { Gauge, ReadingValues } from '@ypsigraph/contract/briefs';
import type { Kind } from '@ypsigraph/core/motion/kinds';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { MEASURES, type ReadingId, readingKind, readingName, TOPICS } from '@ypsigraph/core/measure/registry';
import { BODY_TOPICS, type BodyTopic } from '@ypsigraph/core/trade/body-topics';
import { Button } from '../../kit/button.tsx';
import { Select } from '../../kit/select.tsx';
import { list } from '@ypsigraph/core/say/words';
import { WhereOnBody } from '../../kit/where-on-body.tsx';
import { INPUT } from '../../kit/field.tsx';
import { gaugeTopic, isNamed } from './gauge-topic.ts';
import { GaugeRow } from './gauge-row.tsx';
import { Section } from './sections.tsx';
import type { Editing } from './what-section.tsx';

interface Props extends Editing {
  readonly values: ReadingValues | undefined;
  readonly exemplar: readonly Reading[];
}

/** So few gauges are all seen at once. */
const FEW = 8;

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

/** The gauges of a brief, in the order in which a teacher goes through a body: its own, or, as long as nobody has touched them, the usual ones of its kind. */
export function GaugesSection({ draft, set, errorAt, values, exemplar }: Props) {
  const gauges = bandsOf(draft) as readonly Gauge[];
  const [sought, setSought] = useState('');
  const [open, setOpen] = useState<ReadonlySet<BodyTopic>>(new Set());
  const remember = (topic: BodyTopic, isOpen: boolean): void =>
    setOpen((now) => {
      if (now.has(topic) === isOpen) return now;
      const next = new Set(now);
      if (isOpen) next.add(topic);
      else next.delete(topic);
      return next;
    });
  const change = (next: readonly Gauge[]): void => set({ gauges: [...next] });
  const kinds = JSON.stringify([draft.kind, ...draft.alsoKinds]);
  const free = useMemo(() => {
    const all = JSON.parse(kinds) as Kind[];
    return TOPICS.flatMap((topic) =>
      MEASURES.filter((measure) => measure.topic === topic).flatMap(({ readings }) =>
        readings
          .filter((own) => own.kinds.length === 0 || all[0] === 'any' || own.kinds.some((kind) => all.includes(kind)))
          .map(({ id, name }) => ({ value: id, text: `${topic}: ${name}` })),
      ),
    );
  }, [kinds]);
  return (
    <Section
      title="Gauges"
      aside={
        <>
          <p className="text-sm text-graphite" data-testid="whose-gauges">
            {draft.gauges === null
              ? gauges.length > 0
                ? `The usual ones of a ${list([draft.kind, ...draft.alsoKinds])}, at ${draft.fps} frames a second. Move one, and they are this brief’s own.`
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
      {gauges.length > FEW && (
        <input
          type="search"
          aria-label="Find a gauge"
          placeholder="Find a gauge …"
          className={`${INPUT} mb-2 !w-80`}
          value={sought}
          onChange={(event) => setSought(event.target.value)}
        />
      )}
      {BODY_TOPICS.map((topic) => {
        const own = [...gauges.entries()].filter(([, gauge]) => gaugeTopic(gauge) === topic && isNamed(gauge, sought));
        if (own.length === 0) return null;
        const wrong = own.some(([k]) => errorAt(`gauges.${k}`) !== undefined);
        const isOpen = gauges.length <= FEW || sought !== '' || wrong || open.has(topic);
        return (
          <details
            key={topic}
            open={isOpen}
            className="border-t border-edge-strong"
            onToggle={({ currentTarget }) => remember(topic, currentTarget.open)}
          >
            <summary className="flex cursor-pointer items-center gap-2 py-1 hover:bg-wash">
              <WhereOnBody topic={topic} />
              <span className="shrink-0 font-semibold whitespace-nowrap">{topic}</span>
              <span className="truncate text-xs text-graphite">
                {list([...new Set(own.map(([, { reading }]) => readingName(reading)))])}
              </span>
              <span className="frame-number ml-auto text-xs text-graphite">{own.length}</span>
            </summary>
            {isOpen && (
              <ul className="mb-3">
                {own.map(([k, gauge]) => (
                  <GaugeRow
                    key={k}
                    gauge={gauge}
                    values={values}
                    exemplar={exemplar}
                    error={errorAt(`gauges.${k}`)}
                    onChange={(next) => change(gauges.with(k, next))}
                    onDrop={() => change(gauges.toSpliced(k, 1))}
                  />
                ))}
              </ul>
            )}
          </details>
        );
      })}
      <Select
        label="Add a gauge"
        value={undefined}
        placeholder="Add a gauge …"
        className="w-80"
        onChange={(reading) => {
          const made = newGauge(reading as ReadingId, exemplar, values);
          remember(gaugeTopic(made), true);
          change([...gauges, made]);
        }}
        options={free}
      />
    </Section>
  );
}
