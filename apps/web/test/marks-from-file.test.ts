import type { Mark } from '@ypsigraph/contract/marks';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { writeWebAnnotations } from '@ypsigraph/core/formats/marks/web-annotations';
import type { FrameMark } from '@ypsigraph/core/formats/marks/frame-mark';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { MotionSource } from '../src/desk/frames/motion-source.ts';
import { measured } from '../src/desk/margin/draft.ts';
import { marksFromFile } from '../src/desk/margin/marks-from-file.ts';

// The browser gives pages this; the page it stands in for here does not.
globalThis.crypto.randomUUID ??= () => '00000000-0000-4000-8000-000000000000';

const walk = new MotionSource(prepareShot(EXEMPLARS.walk!.make({}, {}), { kind: 'walk' }));
const SHOT = { name: 'Night round, revision 1', file: 'walk.bvh', fps: 24, first: 1, frames: 25 };
const own = (changes: Partial<FrameMark>): FrameMark => ({
  ...{ id: '1b671a64-40d5-491e-99b0-da01ff1f3341', kind: 'timing', from: 4, to: 9, point: 'hand.L', words: 'Later.' },
  ...{ now: '', wanted: '', weight: 'must', state: 'open', author: 'Ottoline Farrow', at: '2026-11-30T18:00:00.000Z' },
  ...changes,
});
const brought = (marks: readonly FrameMark[], there: readonly Mark[] = [], me = 'Ottoline Farrow') =>
  marksFromFile(writeWebAnnotations(marks, SHOT), walk, there, me);

test('marks of another installation lie on the same frames, with their words, and are measured anew', async () => {
  const { drafts, leftOut } = brought([
    own({}),
    own({ kind: 'arc', from: 7, to: 7, now: 'off by 4 %', weight: 'nice' }),
  ]);
  expect(leftOut).toEqual([]);
  expect(drafts).toMatchObject([
    { kind: 'timing', from: 4, to: 9, point: 'hand.L', words: 'Later.', weight: 'must' },
    { kind: 'arc', from: 7, to: 7, words: 'Later.\nnow: off by 4 %', weight: 'nice' },
  ]);
  const made = await measured(drafts[0]!, walk);
  expect(made).toMatchObject({ from: 4, to: 9, payload: { kind: 'timing', measured: { from: 4, to: 9 } } });
});

test('who said it is named where it is somebody else; kinds, weights and points that are not known here are none', () => {
  const [draft] = brought([
    own({ kind: 'volume', weight: 'sometime', point: 'antenna', author: 'Bram Hoekstra' }),
  ]).drafts;
  expect(draft).toMatchObject({ kind: 'note', weight: 'should', point: null, words: 'Later.\n(Bram Hoekstra)' });
});

test('what can’t be a mark here is left out, and said; what is here already is not made twice', () => {
  const { drafts, leftOut } = brought([own({ from: 40, to: 44 }), own({ words: ' ' }), own({ from: 20, to: 30 })]);
  // What goes over the end of the shot ends there.
  expect(drafts).toMatchObject([{ from: 20, to: 25 }]);
  expect(leftOut).toEqual([
    '“Later.”, 40 to 44: the shot has no such frames',
    expect.stringMatching(/4 to 9: it says nothing$/),
  ]);
  const there = [{ kind: 'timing', from: 4, to: 9, words: 'Later.' }] as unknown as Mark[];
  expect(brought([own({})], there)).toEqual({ drafts: [], leftOut: ['“Later.”, 4 to 9: it is here already'] });
});
