import type { StageDate } from '@ypsigraph/contract/courses';
import { Stage } from '@ypsigraph/contract/vocabulary';
import { MomentInput } from '../kit/moment-input.tsx';

interface Props {
  readonly dates: readonly StageDate[];
  readonly onChange: (dates: StageDate[]) => void;
}

/** A date for each stage that has one. */
export function StageDates({ dates, onChange }: Props) {
  const change = (stage: StageDate['stage'], due: string | null): void => {
    const others = dates.filter((own) => own.stage !== stage);
    onChange(due === null ? others : [...others, { stage, due }]);
  };
  return (
    <fieldset>
      <legend className="mb-0.5 text-xs font-semibold text-graphite">Stages with a date of their own</legend>
      <div className="grid grid-cols-[7rem_1fr] items-center gap-x-2 gap-y-1 text-sm">
        {Stage.options.map((stage) => (
          <div key={stage} className="contents">
            <span>{stage}</span>
            <MomentInput
              label={`${stage} due`}
              value={dates.find((own) => own.stage === stage)?.due ?? null}
              onChange={(due) => change(stage, due)}
            />
          </div>
        ))}
      </div>
    </fieldset>
  );
}
