import fc from 'fast-check';
import type { ReadingId } from '@ypsigraph/core/measure/registry';
import { type BriefContent, EMPTY_BRIEF, type Gauge } from '../src/briefs.ts';
import { BRIEF_FIELDS, mergeBriefs, sameContent } from '../src/merge-briefs.ts';

const gauge = (reading: ReadingId, high = 5): Gauge => ({
  reading,
  from: 'polish',
  band: [0, high],
  weight: 1,
  why: 'Because.',
});
const NIGHT: BriefContent = {
  ...EMPTY_BRIEF,
  title: 'Night round',
  kind: 'walk',
  frames: 24,
  gauges: [gauge('gait.bob'), gauge('gait.slide')],
  stages: [{ stage: 'blocking', shows: 'The contacts.' }],
};

test('every field of a brief is laid together, and has a name', () => {
  expect(new Set(Object.keys(BRIEF_FIELDS))).toEqual(new Set(Object.keys(NIGHT)));
});

test('what comes from a database in another order of keys is the same', () => {
  expect(sameContent({ a: 1, b: [{ c: 2, d: 3 }] }, { b: [{ d: 3, c: 2 }], a: 1 })).toBe(true);
  expect(sameContent({ a: 1 }, { a: 1, b: undefined })).toBe(true);
  expect(sameContent([1, 2], [2, 1])).toBe(false);
  expect(sameContent([], {})).toBe(false);
  expect(sameContent(null, {})).toBe(false);
});

test('what only one has changed stands, whoever it is', () => {
  const { content, conflicts } = mergeBriefs(NIGHT, { ...NIGHT, frames: 20 }, { ...NIGHT, text: 'In the rain.' });
  expect(content).toEqual({ ...NIGHT, frames: 20, text: 'In the rain.' });
  expect(conflicts).toEqual([]);
});

test('where both have changed the same mine stands, and it is said', () => {
  const { content, conflicts } = mergeBriefs(NIGHT, { ...NIGHT, frames: 20 }, { ...NIGHT, frames: 32 });
  expect(content.frames).toBe(20);
  expect(conflicts).toEqual([{ field: 'frames', name: 'length' }]);
});

test('gauges are laid together one by one: added, taken away, changed by either', () => {
  const mine = { ...NIGHT, gauges: [gauge('gait.bob', 7), gauge('gait.slide'), gauge('arc.off')] };
  const theirs = { ...NIGHT, gauges: [gauge('gait.bob'), gauge('gait.knee')] };
  const { content, conflicts } = mergeBriefs(NIGHT, mine, theirs);
  expect(content.gauges).toEqual([gauge('gait.bob', 7), gauge('gait.knee'), gauge('arc.off')]);
  expect(conflicts).toEqual([]);
  const both = mergeBriefs(NIGHT, mine, { ...NIGHT, gauges: [gauge('gait.bob', 9), gauge('gait.slide')] });
  expect(both.content.gauges![0]).toEqual(gauge('gait.bob', 7));
  expect(both.conflicts).toEqual([{ field: 'gauges', name: 'the gauge on up and down of the hips' }]);
});

test('one has changed a gauge that the other has taken away: mine stands, also where mine is to have none', () => {
  const changed = { ...NIGHT, gauges: [gauge('gait.bob', 9), gauge('gait.slide')] };
  const dropped = { ...NIGHT, gauges: [gauge('gait.slide')] };
  const kept = mergeBriefs(NIGHT, changed, dropped);
  expect(kept.conflicts).toEqual([{ field: 'gauges', name: 'the gauge on up and down of the hips' }]);
  expect(new Set(kept.content.gauges)).toEqual(new Set(changed.gauges));
  expect(mergeBriefs(NIGHT, dropped, changed)).toMatchObject({ content: dropped, conflicts: [{ field: 'gauges' }] });
});

/** A brief that differs from the first in some of its fields. */
const briefs = fc
  .record(
    {
      title: fc.constantFrom('Night round', 'Fog watch'),
      frames: fc.constantFrom(20, 24, 32, null),
      watch: fc.array(fc.constantFrom('hips', 'feet'), { maxLength: 2 }),
      gauges: fc.option(
        fc.subarray<ReadingId>(['gait.bob', 'gait.slide', 'arc.off']).map((ids) => ids.map((id) => gauge(id))),
      ),
      exemplar: fc.constantFrom(null, { name: 'walk', set: { bob: 3 } }),
    },
    { requiredKeys: [] },
  )
  .map((changes): BriefContent => ({ ...NIGHT, ...changes }));

test('laying together: with what began it nothing changes; both the same is that; whose it is matters only where it is said', () => {
  fc.assert(
    fc.property(briefs, briefs, (mine, theirs) => {
      expect(mergeBriefs(NIGHT, mine, NIGHT).content).toEqual(mine);
      expect(mergeBriefs(NIGHT, NIGHT, theirs).content).toEqual(theirs);
      expect(mergeBriefs(NIGHT, mine, mine)).toEqual({ content: mine, conflicts: [] });
      const [one, other] = [mergeBriefs(NIGHT, mine, theirs), mergeBriefs(NIGHT, theirs, mine)];
      expect(new Set(one.conflicts.map(({ field }) => field))).toEqual(
        new Set(other.conflicts.map(({ field }) => field)),
      );
      const sorted = ({ gauges, ...rest }: BriefContent) => ({
        ...rest,
        gauges: gauges?.toSorted((a, b) => a.reading.localeCompare(b.reading)) ?? null,
      });
      if (one.conflicts.length === 0) expect(sorted(one.content)).toEqual(sorted(other.content));
    }),
  );
});
