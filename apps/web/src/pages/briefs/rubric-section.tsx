import { Plus, X } from 'lucide-react';
import type { BriefContent, RubricLine } from '@ypsigraph/contract/briefs';
import { Stage } from '@ypsigraph/contract/vocabulary';
import { speaksOf } from '@ypsigraph/core/grade/propose';
import { CATALOGUE, TOPICS } from '@ypsigraph/core/measure/catalogue';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { Select } from '../../kit/select.tsx';
import { NumberInput, Section } from './sections.tsx';
import type { Editing } from './what-section.tsx';

/** Beginnings of the ids of a topic's readings: `gait`, `contact` … */
const families = (topic: string): string[] => [
  ...new Set(CATALOGUE.filter((entry) => entry.topic === topic).map(({ id }) => id.split('.')[0]!)),
];

const isTopic = (topic: string, { readings }: RubricLine): boolean =>
  families(topic).toSorted().join() === readings.toSorted().join();

/** Names of the readings that speak of a line. */
const speakers = ({ readings }: RubricLine): string =>
  CATALOGUE.filter(({ id }) => speaksOf(readings, id))
    .map(({ name }) => name)
    .join(', ');

const nextId = (rubric: BriefContent['rubric']): string => {
  for (let k = 1; ; k++) if (!rubric.some(({ id }) => id === `line-${k}`)) return `line-${k}`;
};

/** What is graded: points are proposed from the gauges and marks that speak of a line, and decided on the desk. */
export function RubricSection({ draft, set, errorAt }: Editing) {
  const change = (k: number, part: Partial<RubricLine>): void =>
    set({ rubric: draft.rubric.with(k, { ...draft.rubric[k]!, ...part }) });
  return (
    <Section
      title="Rubric"
      aside={<p className="text-sm text-graphite">Points are proposed from what is measured and marked. You decide.</p>}
    >
      {draft.rubric.length > 0 && (
        <table className="w-full border-collapse text-sm">
          <thead className="text-left text-xs text-graphite">
            <tr>
              <th className="pr-2 font-semibold">What is graded</th>
              <th className="w-32 pr-2 font-semibold">From stage</th>
              <th className="w-20 pr-2 font-semibold">Points</th>
              <th className="w-56 pr-2 font-semibold">Readings that speak of it</th>
              <th className="w-8" />
            </tr>
          </thead>
          <tbody>
            {draft.rubric.map((line, k) => (
              <tr key={line.id} className="align-top">
                <td className="py-1 pr-2">
                  <input
                    aria-label="What is graded"
                    className={INPUT}
                    value={line.title}
                    maxLength={120}
                    onChange={(e) => change(k, { title: e.target.value })}
                  />
                  {errorAt(`rubric.${k}.title`) && (
                    <p role="alert" className="text-xs font-semibold">
                      {errorAt(`rubric.${k}.title`)}
                    </p>
                  )}
                </td>
                <td className="py-1 pr-2">
                  <Select
                    label="From stage"
                    className="w-full"
                    value={line.stage}
                    onChange={(stage) => change(k, { stage: Stage.parse(stage) })}
                    options={Stage.options.map((value) => ({ value, text: value }))}
                  />
                </td>
                <td className="py-1 pr-2">
                  <NumberInput
                    label="Points"
                    value={line.points}
                    onChange={(points) => points !== null && change(k, { points })}
                  />
                </td>
                <td className="py-1 pr-2">
                  <Select
                    label="Readings that speak of it"
                    className="w-full"
                    value={TOPICS.find((topic) => isTopic(topic, line)) ?? (line.readings.length === 0 ? 'all' : 'own')}
                    onChange={(topic) =>
                      topic !== 'own' && change(k, { readings: topic === 'all' ? [] : families(topic) })
                    }
                    options={[
                      { value: 'all', text: 'every one' },
                      ...(line.readings.length > 0 && !TOPICS.some((topic) => isTopic(topic, line))
                        ? [{ value: 'own', text: speakers(line) }]
                        : []),
                      ...TOPICS.map((value) => ({ value, text: value })),
                    ]}
                  />
                </td>
                <td className="py-1">
                  <Button
                    look="quiet"
                    aria-label={`Leave “${line.title}” out`}
                    onClick={() => set({ rubric: draft.rubric.toSpliced(k, 1) })}
                  >
                    <X size={14} />
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Button
        look="quiet"
        className="mt-1"
        onClick={() =>
          set({
            rubric: [
              ...draft.rubric,
              { id: nextId(draft.rubric), stage: 'polish', title: '', points: 10, readings: [] },
            ],
          })
        }
      >
        <Plus size={14} /> A line
      </Button>
    </Section>
  );
}
