import type { BriefContent } from '@ypsigraph/contract/briefs';
import { Stage } from '@ypsigraph/contract/vocabulary';
import { Field, INPUT } from '../../kit/field.tsx';
import { Section } from './sections.tsx';
import type { Editing } from './what-section.tsx';

/** What each stage must show; an empty one asks for nothing of its own. */
export function StagesSection({ draft, set }: Editing) {
  const change = (stage: BriefContent['stages'][number]['stage'], shows: string): void => {
    const others = draft.stages.filter((own) => own.stage !== stage);
    const all = shows === '' ? others : [...others, { stage, shows }];
    set({ stages: all.toSorted((a, b) => Stage.options.indexOf(a.stage) - Stage.options.indexOf(b.stage)) });
  };
  return (
    <Section
      title="Stages"
      aside={
        <p className="text-sm text-graphite">What each must show. Which gauges count from which stage is set below.</p>
      }
    >
      <div className="space-y-2">
        {Stage.options.map((stage) => (
          <Field key={stage} label={stage}>
            {(id) => (
              <textarea
                id={id}
                rows={1}
                className={INPUT}
                maxLength={1000}
                value={draft.stages.find((own) => own.stage === stage)?.shows ?? ''}
                onChange={(e) => change(stage, e.target.value)}
              />
            )}
          </Field>
        ))}
      </div>
    </Section>
  );
}
