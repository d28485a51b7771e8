import type { ExemplarChoice } from '@ypsigraph/contract/briefs';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { Button } from '../../kit/button.tsx';
import { Select } from '../../kit/select.tsx';
import { FigureMoving } from '../figure-moving.tsx';
import { ExemplarDials } from './exemplar-dials.tsx';
import type { MadeExemplar } from './use-exemplar.ts';

interface Props {
  readonly choice: ExemplarChoice | null;
  readonly made: MadeExemplar | string | undefined;
  readonly onChange: (choice: ExemplarChoice | null) => void;
}

/** The exemplar: a figure that shows the exercise done, and dials for how. */
export function ExemplarSection({ choice, made, onChange }: Props) {
  return (
    <section aria-label="Exemplar">
      <div className="mb-2 flex items-baseline gap-3">
        <h2 className="text-lg">Exemplar</h2>
        <Select
          label="Exemplar"
          value={choice?.name ?? 'none'}
          onChange={(name) => onChange(name === 'none' ? null : { name, set: {} })}
          options={[
            { value: 'none', text: 'none' },
            ...Object.keys(EXEMPLARS).map((value) => ({ value, text: value })),
          ]}
        />
        {choice && Object.keys(choice.set).length > 0 && (
          <Button look="quiet" className="!min-h-6 text-xs" onClick={() => onChange({ name: choice.name, set: {} })}>
            As usual
          </Button>
        )}
      </div>
      {made !== undefined && typeof made !== 'string' && <FigureMoving shot={made.shot} />}
      {typeof made === 'string' && (
        <p role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
          It can’t be made so: {made}.
        </p>
      )}
      {!choice && (
        <p className="text-sm text-graphite">
          Choose a motion, and set it by its dials. Students play it beside their own shot.
        </p>
      )}
      {choice && <ExemplarDials choice={choice} onChange={onChange} />}
    </section>
  );
}
