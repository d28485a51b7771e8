import type { z } from 'zod';
import { DocketQuery } from '@ypsigraph/contract/courses';

/** Orders of the docket, in words. */
export const ORDERS: Readonly<Record<DocketQuery['order'], string>> = {
  late: 'late ones first, then the longest-waiting',
  waiting: 'the longest-waiting first',
  due: 'what was due first',
  student: 'by student',
  exercise: 'by exercise',
};

/** Order and filters of the docket. */
export type DocketSearch = z.input<typeof DocketQuery>;

const ASKED = ['order', 'cohort', 'exercise', 'stage', 'only'] as const;

/** Order and filters out of an address, as the server is asked for them. What is no order and no filter is left out. */
export const docketSearch = (search: URLSearchParams): DocketSearch =>
  Object.fromEntries(
    ASKED.flatMap((name) => {
      const value = search.get(name);
      return value && DocketQuery.shape[name].safeParse(value).success ? [[name, value]] : [];
    }),
  );
