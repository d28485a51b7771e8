import type { Mark } from '@ypsigraph/contract/marks';
import type { Finding } from '@ypsigraph/core/gauge/findings';

/**
 * Findings nobody has said anything of: outside, neither taken as a mark on any revision of the shot, nor put aside. A shot may be signed off with them,
 * knowingly.
 */
export const unseenFindings = (standing: readonly Finding[], marks: readonly Mark[]): Finding[] =>
  standing.filter(
    ({ judgement, reading }) =>
      judgement === 'outside' &&
      !marks.some(({ payload }) => payload?.quote?.reading === reading.id && payload.quote.part === reading.part),
  );
