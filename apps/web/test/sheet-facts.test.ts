import type { Mark } from '@ypsigraph/contract/marks';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { marksOnSheet, sheetOf } from '../src/pages/sheet/sheet-facts.ts';

const revision = (number: number, more: Partial<Revision> = {}): Revision =>
  ({
    id: `r${number}`,
    number,
    stage: 'smoothing',
    state: 'sent back',
    words: 'Nearly.',
    asked: 'Feet that stay.',
    askedBy: null,
    answeredAt: '2026-11-19T18:00:00.000Z',
    ...more,
  }) as Revision;
const mark = (id: string, on: number, more: Partial<Mark> = {}): Mark =>
  ({
    id,
    revision: `r${on}`,
    kind: 'note',
    from: 4,
    to: 7,
    point: 'foot.L',
    weight: 'should',
    stage: 'smoothing',
    payload: null,
    words: id,
    state: 'open',
    replies: [],
    ...more,
  }) as unknown as Mark;
const shot = (marks: Mark[]): Shot =>
  ({
    brief: { title: 'Night round' },
    student: { name: 'Amara Oyelaran' },
    cohort: { name: 'Monday loft' },
    revisions: [1, 2, 3].map((number) => revision(number)),
    marks,
  }) as unknown as Shot;
const plain = (iso: string): string => iso.slice(0, 10);

describe('what stands on a return sheet', () => {
  test('its own marks, and earlier ones that are not done with, in the order of frames; nothing of what came later', () => {
    const marks = [
      mark('own, late', 2, { from: 20, to: 22 }),
      mark('own, cleared since', 2, { from: 9, to: 9, state: 'cleared' }),
      mark('earlier, open', 1, { from: 2, to: 3 }),
      mark('earlier, answered', 1, { from: 12, to: 12, state: 'answered' }),
      mark('earlier, waived', 1, { state: 'waived' }),
      mark('later', 3),
    ];
    expect(marksOnSheet(shot(marks), revision(2)).map(({ id }) => id)).toEqual([
      'earlier, open',
      'own, cleared since',
      'earlier, answered',
      'own, late',
    ]);
  });

  test('its head says which revision, and by when what is asked for', () => {
    const own = revision(2, { askedBy: '2026-11-26T18:00:00.000Z' });
    expect(sheetOf(shot([]), own, () => ({}), plain)).toEqual({
      title: 'Night round',
      student: 'Amara Oyelaran',
      about: 'Revision 2, smoothing, sent back, 2026-11-19',
      words: 'Nearly.',
      asked: 'Feet that stay. (by 2026-11-26)',
      from: 'Monday loft',
      marks: [],
    });
    const waiting = revision(3, { state: 'handed in', asked: null, words: null, answeredAt: null });
    expect(sheetOf(shot([]), waiting, () => ({}), plain)).toMatchObject({
      about: 'Revision 3, smoothing, handed in',
      asked: null,
    });
  });

  test('a mark brings what is there, what is wanted, its chart and its answers; words alone bring none', () => {
    const payload = {
      kind: 'spacing',
      core: 'x',
      measured: { fractions: [0, 0.2, 1] },
      wanted: { fractions: [0, 0.5, 1] },
      quote: { reading: 'gait.slide', part: 'leg.L', value: 6.2, unit: '%L', band: [0, 2] },
    } as unknown as Mark['payload'];
    const replies = [{ author: { name: 'Amara Oyelaran' }, words: 'It is linear now.' }] as unknown as Mark['replies'];
    const marks = [mark('a', 2, { kind: 'spacing', payload, replies }), mark('b', 2, { from: 9, to: 9, point: null })];
    const [spacing, note] = sheetOf(shot(marks), revision(2), () => ({ picture: 'data:' }), plain).marks;
    expect(spacing).toMatchObject({
      frames: '4–7',
      about: 'foot.L, should, smoothing',
      now: '6.2 % of a leg',
      wanted: '2 % of a leg or less',
      chart: { measured: [0, 0.2, 1], wanted: [0, 0.5, 1], first: 4 },
      replies: ['Amara Oyelaran: It is linear now.'],
      picture: 'data:',
    });
    expect(note).toMatchObject({
      frames: '9',
      about: 'should, smoothing',
      now: '',
      wanted: '',
      chart: null,
      replies: [],
    });
  });
});
