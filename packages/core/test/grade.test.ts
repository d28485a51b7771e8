import fc from 'fast-check';
import { type GradedMark, type GradedVerdict, proposePoints } from '../src/grade/propose.ts';

const line = { points: 10, readings: ['contact', 'gait.bob'] };
const verdict = (reading: string, judgement: GradedVerdict['judgement'], weight = 1): GradedVerdict => ({
  reading,
  judgement,
  weight,
});
const mark = (
  state: GradedMark['state'],
  weight: GradedMark['weight'] = 'should',
  reading: string | null = 'contact.slide',
): GradedMark => ({
  state,
  weight,
  reading,
});

describe('points proposed for a line of a rubric', () => {
  test('are the share of its gauges that lie inside, as heavy as the gauges are; near counts half', () => {
    const told = [verdict('contact.slide', 'inside', 3), verdict('gait.bob', 'outside', 1)];
    expect(proposePoints(line, told, [])).toEqual({ points: 7.5, why: '1 of 2 readings inside' });
    expect(proposePoints(line, [verdict('contact.slide', 'near')], [])?.points).toBe(5);
  });

  test('only what speaks of the line counts: an id, or all that begin with it', () => {
    const told = [
      verdict('contact.slide', 'inside'),
      verdict('contacts', 'outside'),
      verdict('gait.bobbing', 'outside'),
    ];
    expect(proposePoints(line, told, [])?.points).toBe(10);
    expect(proposePoints({ points: 10, readings: [] }, told, [])?.points).toBe(3.5);
  });

  test('a mark that stands costs; one cleared or waived does not; what would be nice costs nothing', () => {
    const told = [verdict('contact.slide', 'inside')];
    expect(proposePoints(line, told, [mark('open', 'must')])).toEqual({
      points: 7.5,
      why: '1 of 1 reading inside, 1 mark still stands',
    });
    expect(
      proposePoints(line, told, [mark('cleared', 'must'), mark('waived', 'must'), mark('open', 'nice')])?.points,
    ).toBe(10);
    expect(proposePoints(line, told, [mark('answered', 'should')])?.points).toBe(9);
  });

  test('nothing is proposed where nothing was judged', () => {
    expect(proposePoints(line, [verdict('contact.slide', 'unmade'), verdict('arc.pop', 'inside')], [])).toBeUndefined();
  });

  test('they are never below 0 or above the line’s, whatever is there, and never less for something better', () => {
    const judgement = fc.constantFrom('inside', 'near', 'outside', 'unmade' as const);
    const verdictOf = fc.record({
      reading: fc.constantFrom('contact.slide', 'gait.bob', 'arc.pop'),
      judgement,
      weight: fc.double({ min: 0.1, max: 20, noNaN: true }),
    });
    const markOf = fc.record({
      reading: fc.constantFrom('contact.slide', null),
      state: fc.constantFrom('open', 'answered', 'cleared', 'waived' as const),
      weight: fc.constantFrom('must', 'should', 'nice' as const),
    });
    fc.assert(
      fc.property(fc.array(verdictOf, { maxLength: 20 }), fc.array(markOf, { maxLength: 12 }), (told, marks) => {
        const proposed = proposePoints(line, told, marks);
        if (!proposed) return;
        expect(proposed.points).toBeGreaterThanOrEqual(0);
        expect(proposed.points).toBeLessThanOrEqual(line.points);
        const better = told.map((own) => ({ ...own, judgement: own.judgement === 'unmade' ? 'unmade' : 'inside' }));
        expect(proposePoints(line, better as GradedVerdict[], marks as GradedMark[])!.points).toBeGreaterThanOrEqual(
          proposed.points,
        );
      }),
    );
  });
});
