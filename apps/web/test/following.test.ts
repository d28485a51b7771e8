import { alignShots } from '@ypsigraph/core/align/frame-map';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { reportShot } from '@ypsigraph/core/measure/report';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { Carried } from '@ypsigraph/contract/alignments';
import type { Mark } from '@ypsigraph/contract/marks';
import type { StoredReport } from '@ypsigraph/contract/shots';
import { changeLines, changesSince, howMuch, valueThen } from '../src/desk/margin/changes.ts';
import { hasPlace, placedMarks, placingWords } from '../src/desk/marks/placed-marks.ts';

const walk = (set: Parameters<typeof walkExemplar>[0] = {}, faults: Parameters<typeof walkExemplar>[1] = {}) =>
  prepareShot(walkExemplar(set, faults), { kind: 'walk' });

describe('marks of earlier revisions', () => {
  const revisions = [1, 2, 3].map((number) => ({ id: `r${number}`, number }));
  const [first, second, third] = revisions as [
    { id: string; number: number },
    { id: string; number: number },
    { id: string; number: number },
  ];
  const mark = (id: string, revision: string, from: number, to: number, more: object = {}): Mark =>
    ({ id, revision, from, to, kind: 'note', payload: null, state: 'open', ...more }) as unknown as Mark;
  /** Twice as fast from the first to the third; the second has lost its first ten frames. */
  const carried: Carried = {
    from: [
      {
        revision: 'r1',
        outcome: { map: Array.from({ length: 41 }, (_, k) => [1 + k, 1 + k / 2]), parts: [], notes: [] },
      },
      { revision: 'r2', outcome: { map: Array.from({ length: 10 }, (_, k) => [11 + k, 1 + k]), parts: [], notes: [] } },
    ],
    places: [],
  };
  const placed = (marks: Mark[], on = third, own: Carried | null = carried) =>
    placedMarks(marks, revisions, on, own ?? undefined);

  test('lie where their frames are now; a mark of this revision, or of a later one, lies by label', () => {
    const all = placed([mark('a', 'r1', 9, 17), mark('b', 'r3', 9, 17)]);
    expect(all.map(({ from, to, was, placing }) => [from, to, was, placing.by])).toEqual([
      [5, 9, { from: 9, to: 17 }, 'found'],
      [9, 17, { from: 9, to: 17 }, 'label'],
    ]);
    expect(placed([mark('c', 'r3', 9, 17)], second)[0]!.placing.by).toBe('label');
    expect(placed([mark('a', 'r1', 9, 17)], first)[0]!.placing.by).toBe('label');
  });

  test('of a breakdown its own frame goes along', () => {
    const payload = {
      kind: 'breakdown',
      core: '0',
      measured: { at: 13, favour: 80, departure: 0 },
      wanted: { favour: 50 },
    };
    expect(placed([mark('a', 'r1', 9, 17, { kind: 'breakdown', payload })])[0]).toMatchObject({
      from: 5,
      to: 9,
      inner: 7,
    });
  });

  test('say that their place is gone, that it is being found out, or who has put them there', () => {
    const [gone] = placed([mark('a', 'r2', 2, 6)]);
    expect([hasPlace(gone!), placingWords(gone!)]).toEqual([false, 'was 2–6: these frames are not in this revision']);
    const [waiting] = placed([mark('a', 'r1', 9, 17)], third, null);
    expect([waiting!.from, placingWords(waiting!)]).toEqual([9, 'finding these frames in this revision …']);
    const [unknown] = placed([mark('a', 'r1', 9, 17)], third, {
      from: [{ revision: 'r1', outcome: { why: 'nothing in common' } }],
      places: [],
    });
    expect([unknown!.from, placingWords(unknown!)]).toEqual([9, 'by label: nothing in common']);
    const [hand] = placed([mark('a', 'r1', 9, 17)], third, {
      ...carried,
      places: [{ mark: 'a', from: 6, to: 8, author: 'Baraka Lundqvist' }],
    });
    expect([hand!.from, hand!.to, placingWords(hand!)]).toEqual([6, 8, 'was 9–17: put here by Baraka Lundqvist']);
    const [same] = placed([mark('a', 'r2', 12, 12)]);
    expect(placingWords(same!)).toBe('was 12: moved with its frames');
    expect(placingWords({ ...same!, from: 12, to: 12 })).toBe('');
  });
});

describe('what became of an earlier revision', () => {
  const reportOf = (shot: ReturnType<typeof walk>): StoredReport =>
    reportShot(shot, { file: 'walk.bvh', format: 'bvh', warnings: [] }) as StoredReport;
  const since = (before: ReturnType<typeof walk>, after: ReturnType<typeof walk>) => {
    const found = alignShots(before, after);
    const map = typeof found === 'string' ? [] : found.map;
    return changesSince(reportOf(before), reportOf(after), map, defaultGauges('walk', 24), 'polish');
  };

  test('feet that slid and slide no more are mended; feet that sink now are what got worse, and said first', () => {
    const { regressions, mended } = since(walk({}, { slide: 8 }), walk({}, { depth: 6 }));
    expect(mended.map(({ id }) => id)).toContain('gait.slide');
    expect(regressions.map(({ change }) => change.id)).toContain('gait.depth');
    expect(regressions.find(({ change }) => change.id === 'gait.depth')!.say).toMatch(/% of a leg/);
    expect(mended.map(({ id }) => id)).not.toContain('gait.depth');
  });

  test('left and right are one line where they are alike; a fault that was nowhere is none', () => {
    const { mended, regressions } = since(walk({}, { slide: 8 }), walk({}, { depth: 6 }));
    const slides = changeLines(mended).filter(({ id }) => id === 'gait.slide');
    expect(slides.flatMap(({ parts }) => parts).sort()).toEqual(['leg.L', 'leg.R']);
    for (const { before, after } of slides) expect([before, after].join()).toMatch(/% of a leg,/);
    expect(regressions.map(({ change }) => valueThen(change)).join()).not.toContain('frames');
    const change = { id: 'gait.knee', unit: 'frames', before: 0, after: 1, framesBefore: [], framesAfter: [11] };
    expect(changeLines([change])[0]).toMatchObject({ before: 'none', after: '1 frame', at: 11 });
    const piece = { id: 'lag.together', part: 'arm.L', unit: 'yes/no', before: true, after: false };
    expect(changeLines([piece])[0]!.after).toMatch(/a little later/);
  });

  test('what is a share of the step, and what a gauge reads of a detail, can get worse and be mended as well', () => {
    const early = since(walk(), walk({ bobDelay: -1 }));
    expect(early.regressions.find(({ change }) => change.id === 'gait.lowAfter')!.say).toMatch(/before the contact/);
    expect(since(walk({ bobDelay: -1 }), walk()).mended.map(({ id }) => id)).toContain('gait.lowAfter');
    const step = { id: 'gait.step', of: 'unevenness', unit: '%', before: 3, after: 48 };
    expect(changeLines([step])[0]).toMatchObject({ of: 'unevenness', before: '3 %', after: '48 %' });
  });

  test('the same once more has nothing that is worse, mended, or other', () => {
    expect(since(walk(), walk())).toEqual({ regressions: [], mended: [], others: [] });
  });

  test('what differs most stands first, and by how much is told as a share', () => {
    const { others } = since(walk(), walk({ arm: 34 }));
    const shares = others.map(howMuch);
    expect(shares).toEqual([...shares].sort((a, b) => b - a));
    expect(howMuch({ before: 4, after: 2 })).toBe(0.5);
    expect(howMuch({ before: null, after: 2 })).toBe(0);
    expect(howMuch({ before: 'dead', after: 'moving' })).toBe(0);
    expect(howMuch({ before: 0, after: 0 })).toBe(0);
  });
});
