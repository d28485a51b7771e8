import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { ROUTES } from '@ypsigraph/contract/routes';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { again, useCohorts, useShownExemplars } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { Select } from '../../kit/select.tsx';
import type { Faults } from './faulty-exemplar.ts';

interface Props {
  readonly name: string;
  readonly faults: Faults;
  /** Its dials stand where they usually do. */
  readonly asUsual: boolean;
}

/** Shows a cohort an exemplar with one fault, beside one way to do it, with words of one's own. */
export function ShowExemplar({ name, faults, asUsual }: Props) {
  const { data: cohorts } = useCohorts();
  const { data: shown } = useShownExemplars();
  const [params] = useSearchParams();
  const [chosen, choose] = useState(params.get('cohort'));
  const [words, setWords] = useState('');
  const [fault, ...others] = Object.entries(faults);
  if (!cohorts || cohorts.length === 0 || !fault) return null;
  const cohort = cohorts.find(({ id }) => id === chosen) ?? cohorts[0]!;
  const already = shown?.find(
    (own) => own.cohort.id === cohort.id && own.exemplar === name && own.fault === fault[0] && own.size === fault[1],
  );
  const refresh = (): Promise<unknown> => again(ROUTES.shownExemplars);
  const show = (): Promise<boolean> =>
    attempt(async () => {
      await call(ROUTES.showExemplar, { id: cohort.id }, { exemplar: name, fault: fault[0], size: fault[1], words });
      setWords('');
      await refresh();
    });
  const takeBack = (id: string): Promise<boolean> =>
    attempt(async () => {
      await call(ROUTES.takeExemplarBack, { id: cohort.id, shown: id });
      await refresh();
    });
  if (!asUsual || others.length > 0)
    return (
      <p className="mb-3 text-sm text-graphite">
        A cohort is shown one fault at a time, on the motion as it usually is.
      </p>
    );
  return (
    <section aria-label="Show it to a cohort" className="mb-3 flex flex-wrap items-center gap-2 text-sm">
      <Select
        label="Cohort"
        value={cohort.id}
        onChange={choose}
        options={cohorts.map(({ id, name: text }) => ({ value: id, text }))}
      />
      {already ? (
        <>
          <span role="status">
            It is{' '}
            <Link to={`/shown/exemplar/${already.id}`} className="underline underline-offset-2">
              shown
            </Link>{' '}
            to {cohort.name}.
          </span>
          <Button look="quiet" onClick={() => void takeBack(already.id)}>
            Show it no more
          </Button>
        </>
      ) : (
        <>
          <input
            aria-label="What they should look at"
            placeholder="What they should look at"
            className={`${INPUT} !w-80`}
            maxLength={1000}
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
          <Button onClick={() => void show()}>Show it to {cohort.name}</Button>
        </>
      )}
    </section>
  );
}
