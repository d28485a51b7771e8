// What lies on the desk of a cure: only the last that was asked for is shown, each change is taken back by itself; drawings are shown as they are exposed.
import type { Recipe } from '@ypsigraph/core/remedy/remedy';
import { useCures } from '../src/desk/cures/cure-store.ts';
import { standings } from '../src/desk/cures/drawing-boxes.tsx';
import { openSpacing, wantsSpacing } from '../src/desk/cures/open-spacing.ts';
import { exposedLabel, useDrawings } from '../src/desk/cures/drawings-store.ts';
import { shownLabel } from '../src/desk/frames/exposing.ts';
import type { FrameSource } from '../src/desk/frames/frame-source.ts';
import { cureHeight, movedFrame, spansOf } from '../src/desk/strip/cure-spans.tsx';
import type { Shown } from '../src/workers/cure.worker.ts';

const lean = (by: number): Recipe => [{ remedy: 'amount', parameters: { quantity: 'lean', of: 'trunk', by } }];
const made = (recipe: Recipe): Shown => ({ recipe }) as unknown as Shown;
const on = { revision: 'r1', about: 'The trunk leans 40° forward' };

describe('the cure on the desk', () => {
  const cures = useCures.getState;
  beforeEach(() => cures().close());

  test('is what was found for what lies there now, not for what lay there before', () => {
    const before = { ...on, about: 'something else' };
    cures().begin(before);
    cures().begin(on);
    cures().found(before, { recipe: lean(-3) });
    expect(cures().recipe).toBeUndefined();
    cures().found(on, { recipe: lean(-5) });
    expect(cures().recipe).toEqual(lean(-5));
    cures().found(on, { why: 'No remedy makes this right by itself.' });
    expect(cures().why).toMatch(/No remedy/);
  });

  test('of several changes in a row only the last one’s figure is shown; each is taken back by itself', () => {
    cures().begin(on, lean(-5));
    const [first, second] = [lean(-6), lean(-7)];
    cures().change(first);
    cures().change(second);
    cures().show(first, made(first));
    expect(cures().shown).toBeUndefined();
    cures().show(second, made(second));
    expect(cures().shown?.recipe).toBe(second);
    cures().undo();
    expect(cures().recipe).toBe(first);
    cures().undo();
    cures().undo();
    expect(cures().recipe).toEqual(lean(-5));
    cures().close();
    expect([cures().on, cures().recipe, cures().shown]).toEqual([undefined, undefined, undefined]);
  });

  test('a hand that goes on dragging makes one change, taken back as one', () => {
    cures().begin(on, lean(-5));
    cures().change(lean(-6));
    cures().change(lean(-7), true);
    cures().change(lean(-8), true);
    expect(cures().recipe).toEqual(lean(-8));
    cures().undo();
    expect(cures().recipe).toEqual(lean(-5));
  });

  test('why it can’t be made is told, and what was shown before stays', () => {
    const recipe = lean(-5);
    cures().begin(on, recipe);
    cures().show(recipe, made(recipe));
    const wrong = lean(999);
    cures().change(wrong);
    cures().show(wrong, { why: 'amount: by lies between -180 and 180, not 999' });
    expect(cures().why).toMatch(/between/);
    expect(cures().shown?.recipe).toBe(recipe);
  });
});

describe('the cure on the strip', () => {
  const recipe: Recipe = [
    { remedy: 'favour', parameters: { b: 18, a: 9, at: 13, percent: 75 } },
    { remedy: 'amount', parameters: { quantity: 'lean', of: 'trunk', by: -5 } },
    { remedy: 'hold', parameters: { at: 12, frames: 4 } },
    { remedy: 'arc', parameters: { joint: 'hand.L', from: 3, to: 11, rise: 20 }, off: true },
    { remedy: 'juggle', parameters: { at: 3 } },
  ];
  const spans = spansOf(recipe);

  test('each step that is on and lies on frames has its span, by the names of its parameters', () => {
    expect(spans).toEqual([
      {
        k: 0,
        name: 'Favour',
        frames: [
          ['a', 9],
          ['at', 13],
          ['b', 18],
        ],
      },
      { k: 2, name: 'Hold', frames: [['at', 12]] },
    ]);
    expect([cureHeight([]), cureHeight(spans) > cureHeight(spans.slice(1))]).toEqual([0, true]);
  });

  test('a frame is moved as far as those beside it, and the shot, let it', () => {
    const moved = (at: number, label: number) => movedFrame(recipe[0]!, spans[0]!, at, label, [1, 24]).parameters;
    expect(moved(1, 15.4)).toEqual({ a: 9, at: 15, b: 18, percent: 75 });
    expect(moved(1, 40).at).toBe(17);
    expect(moved(0, -3).a).toBe(1);
    expect(moved(2, 99).b).toBe(24);
    expect(moved(2, 2).b).toBe(14);
  });
});

describe('drawings exposed otherwise', () => {
  const drawings = useDrawings.getState;
  // Four drawings on twos, from frame 101.
  const source = {
    first: 101,
    frames: 8,
    exposed: [0, 1, 2, 3].map((k) => ({ from: 101 + 2 * k, length: 2 })),
  } as unknown as FrameSource;
  beforeEach(() => drawings().close());

  test('stand as they were handed in until something is done; then every frame shows the drawing it is given', () => {
    drawings().open(source);
    expect(drawings().shown).toEqual([0, 0, 1, 1, 2, 2, 3, 3]);
    drawings().change([{ remedy: 'hold', parameters: { at: 103, frames: 2 } }]);
    expect(drawings().shown).toEqual([0, 0, 1, 1, 1, 1, 2, 2, 3, 3]);
    expect([101, 104, 106, 107, 108].map((label) => shownLabel(source, label))).toEqual([101, 103, 103, 105, 105]);
    // Another clip beside it is shown as it is.
    expect(exposedLabel({ ...source }, 106)).toBeUndefined();
    drawings().undo();
    expect(drawings().shown).toEqual([0, 0, 1, 1, 2, 2, 3, 3]);
  });

  test('what can’t be done is told and changes nothing; closed they stand as they were', () => {
    drawings().open(source, { recipe: [{ remedy: 'reverse', parameters: {} }] });
    expect(drawings().shown).toEqual([3, 3, 2, 2, 1, 1, 0, 0]);
    drawings().change([{ remedy: 'drop', parameters: { at: 140 } }]);
    expect(drawings().why).toMatch(/frame 140 is not in the clip/);
    expect(drawings().shown).toEqual([3, 3, 2, 2, 1, 1, 0, 0]);
    drawings().close();
    expect(exposedLabel(source, 101)).toBeUndefined();
  });

  test('boxes of a row: a drawing that stands twice has two', () => {
    expect(standings([0, 0, 1, 0, 0, 0], 101)).toEqual([
      { drawing: 0, from: 101, frames: 2 },
      { drawing: 1, from: 103, frames: 1 },
      { drawing: 0, from: 104, frames: 3 },
    ]);
    expect(standings([], 1)).toEqual([]);
  });

  test('a spacing that is wanted opens them as near to it as they come, and says where one is missing', () => {
    const spacing = (wanted: number[]): Parameters<typeof openSpacing>[1] => ({
      id: 'a mark',
      from: 101,
      payload: {
        kind: 'spacing',
        core: '0',
        measured: { fractions: [0, 0, 1 / 3, 1 / 3, 2 / 3, 2 / 3, 1, 1] },
        wanted: { fractions: wanted },
      },
    });
    openSpacing(source, spacing([0, 0, 0, 0, 1 / 3, 2 / 3, 1, 1]));
    expect(drawings()).toMatchObject({ shown: [0, 0, 0, 0, 1, 2, 3, 3], missing: [], mark: 'a mark' });
    openSpacing(source, spacing([0, 0, 1 / 6, 1 / 3, 2 / 3, 2 / 3, 1, 1]));
    expect(drawings().missing).toEqual([{ label: 103, between: [102, 103], share: expect.closeTo(0.5, 9) as number }]);
    expect(drawings().shown).toEqual([0, 0, 0, 1, 2, 2, 3, 3]);
    // Of a mark that wants none nothing is opened.
    drawings().close();
    const nothing = { id: 'a mark', from: 101, payload: null } as const;
    expect(wantsSpacing(nothing)).toBe(false);
    openSpacing(source, nothing);
    expect(drawings().source).toBeUndefined();
  });
});
