// A school begins with these: each can be carried out as it stands.
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { READING_KINDS } from '@ypsigraph/core/measure/registry';
import { BriefContent } from '../src/briefs.ts';
import { faultsOf } from '../src/check-brief.ts';
import { SHELF } from '../src/shelf.ts';

test('there is one for each exercise of a first course', () => {
  expect(SHELF).toHaveLength(12);
  expect(new Set(SHELF.map(({ title }) => title)).size).toBe(12);
  expect(new Set(SHELF.map(({ kind }) => kind))).toEqual(
    new Set(['walk', 'run', 'jump', 'take', 'turn', 'overlap', 'idle', 'any']),
  );
});

test.each(SHELF.map((brief) => [brief.title, brief] as const))('%s can be carried out as it stands', (_, brief) => {
  expect(BriefContent.parse(brief)).toEqual(brief);
  expect(faultsOf(brief)).toEqual([]);
  expect(brief.text.length).toBeGreaterThan(80);
  expect(brief.watch.length).toBeGreaterThanOrEqual(3);
  expect(brief.stages.map(({ stage }) => stage)).toEqual(['blocking', 'breakdowns', 'smoothing', 'polish']);
  expect(EXEMPLARS[brief.exemplar!.name]).toBeDefined();
  // What is graded is spoken of by readings that there are.
  const known = [...READING_KINDS.keys()];
  for (const { readings } of brief.rubric)
    for (const beginning of readings)
      expect([beginning, known.some((id) => id.startsWith(beginning))]).toEqual([beginning, true]);
});
