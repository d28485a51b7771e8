import { DocketQuery } from '@ypsigraph/contract/courses';

/** Orders of the docket, in words. */
export const ORDERS: Readonly<Record<DocketQuery['order'], string>> = {
  late: 'late ones first, then the longest-waiting',
  waiting: 'the longest-waiting first',
  due: 'what was due first',
  student: 'by student',
  exercise: 'by exercise',
};

const ASKED = ['order', 'cohort', 'exercise', 'stage', 'only'] as const;

/** Order and filters out of an address, as the server is asked for them. What is no order and no filter is left out. */
export function docketSearch(search: URLSearchParams): string {
  const asked = new URLSearchParams();
  for (const name of ASKED) {
    const value = search.get(name);
    if (value && DocketQuery.shape[name].safeParse(value).success) asked.set(name, value);
  }
  return asked.toString();
}
