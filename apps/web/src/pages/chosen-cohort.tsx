import { useNavigate, useParams } from 'react-router';
import type { Cohort } from '@ypsigraph/contract/courses';
import { useCohorts } from '../api/data.ts';
import type { RequestError } from '../api/client.ts';
import { Select } from '../kit/select.tsx';

interface ChosenCohort {
  readonly cohorts: readonly Cohort[] | undefined;
  /** The one in the page's address, or the first there is. */
  readonly id: string | undefined;
  readonly error: RequestError | undefined;
}

/** The cohort that a page of those who teach is about. */
export function useChosenCohort(): ChosenCohort {
  const { cohort } = useParams();
  const { data: cohorts, error } = useCohorts();
  return { cohorts, id: cohort ?? cohorts?.[0]?.id, error };
}

interface Props {
  /** The page's own address, without the cohort. */
  readonly page: '/ledger' | '/tally' | '/cohort';
  readonly cohorts: readonly Cohort[];
  readonly value: string;
}

/** Chooses the cohort that a page is about. */
export function CohortChoice({ page, cohorts, value }: Props) {
  const navigate = useNavigate();
  return (
    <Select
      label="Cohort"
      value={value}
      onChange={(id) => void navigate(`${page}/${id}`)}
      options={cohorts.map(({ id, name }) => ({ value: id, text: name }))}
    />
  );
}
