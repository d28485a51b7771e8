import { comparableBy as byWhat } from '@ypsigraph/core/align/comparable';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { FrameSource } from '../src/desk/frames/frame-source.ts';
import { MotionSource } from '../src/desk/frames/motion-source.ts';
import { asComparable } from '../src/desk/frames/use-alignment.ts';

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
