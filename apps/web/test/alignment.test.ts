import { choice, choose } from '../src/desk/choice.ts';
import { useDesk } from '../src/desk/desk-store.ts';
import { comparableBy as byWhat } from '@ypsigraph/core/align/comparable';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { FrameSource } from '../src/desk/frames/frame-source.ts';
import { MotionSource } from '../src/desk/frames/motion-source.ts';
import { asComparable, laid } from '../src/desk/frames/use-alignment.ts';

const motion = new MotionSource(prepareShot(walkExemplar(), { kind: 'walk' }));
/** As if it were pictures on which so many roles have points. */
const pictures = (roles: number): FrameSource => {
  const { measured } = motion.figure;
  const own = Object.fromEntries(Object.entries(measured.roles).slice(0, roles));
  const flat = { flat: true, pictures: {} } as Partial<FrameSource>;
  const figure = roles > 0 ? { figure: { ...motion.figure, measured: { ...measured, roles: own } } } : {};
  return { ...flat, ...figure } as FrameSource;
};

const comparableBy = (a: FrameSource, b: FrameSource) => byWhat(asComparable(a), asComparable(b));

describe('by what two revisions are laid on one axis', () => {
  test('two motions by their poses; pictures by their points where those make a body, else by what they look like', () => {
    expect(comparableBy(motion, motion)).toBe('poses');
    expect(comparableBy(pictures(8), pictures(6))).toBe('points');
    expect(comparableBy(pictures(8), pictures(1))).toBe('pictures');
    expect(comparableBy(pictures(0), pictures(0))).toBe('pictures');
  });

  test('a motion and pictures by their points, and without those by nothing', () => {
    expect(comparableBy(motion, pictures(8))).toBe('points');
    expect(comparableBy(motion, pictures(2))).toBeUndefined();
    expect(comparableBy(pictures(0), motion)).toBeUndefined();
  });
});

describe('the stored alignment on the desk', () => {
  // A walk of 20 frames that was retimed to 40: each frame of the earlier one lies twice as far from the first.
  const outcome = {
    map: Array.from({ length: 20 }, (_, k) => [1 + k, 1 + 2 * k] as const),
    parts: [],
    notes: [{ what: 'cut at the end', from: 18, to: 20 } as const],
  };

  test('leads from the one on the desk to an earlier one as well: there and back is where it began', () => {
    const there = laid('poses', outcome, false);
    const back = laid('poses', outcome, true);
    for (const label of [1, 4, 11, 20]) {
      expect(there.labelMap(label)).toBeCloseTo(2 * label - 1, 9);
      expect(back.labelMap(there.labelMap(label))).toBeCloseTo(label, 9);
    }
  });

  test('says by what, and calls each by where it lies', () => {
    expect(laid('poses', outcome, false).says).toBe(
      'aligned by its poses; frames 18 to 20 of the one on the desk have no counterpart: this one was cut at the end',
    );
    expect(laid('poses', outcome, true).says).toBe(
      'aligned by its poses; frames 18 to 20 of this one have no counterpart: the one on the desk was cut at the end',
    );
  });

  test('until it is made, and where none can be, frames of one label belong together', () => {
    expect(laid('points', undefined, true)).toMatchObject({ says: 'aligning …' });
    const none = laid('points', { why: 'it needs 2 frames or more of each' }, true);
    expect([none.says, none.labelMap(7)]).toEqual(['by label: it needs 2 frames or more of each', 7]);
  });
});

test('what was chosen of lenses and lanes is kept under its own id, with all that is kept', () => {
  const by = choice({ id: 'trial by', label: 'By', first: 'night', options: { night: 'by night', day: 'by day' } });
  expect(by.of(useDesk.getState())).toBe('night');
  choose(by, 'day');
  expect(by.of(useDesk.getState())).toBe('day');
  // What is no more is as if it had not been chosen.
  choose(by, 'noon');
  expect(by.of(useDesk.getState())).toBe('night');
  useDesk.getState().set({ alignedBy: 'shown' });
  const kept = useDesk.persist.getOptions().partialize!(useDesk.getState()) as object;
  expect(kept).toMatchObject({ alignedBy: 'shown', chosen: { 'trial by': 'noon' } });
  expect(kept).not.toHaveProperty('lit');
  useDesk.getState().set({ alignedBy: null, chosen: {} });
});
