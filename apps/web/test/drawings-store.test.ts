import type { FrameSource } from '../src/desk/frames/frame-source.ts';
import { sameDrawings, useDrawings } from '../src/desk/cures/drawings-store.ts';

const clip = {};
const source = (pictures: object, lengths = [1, 1, 1], first = 1): FrameSource =>
  ({ pictures, first, exposed: lengths.map((length, k) => ({ from: first + k, length })) }) as unknown as FrameSource;
const ON_TWOS = [{ remedy: 'trim', parameters: { exposure: 2 } }] as const;

test('drawings that were put otherwise stay so when the clip is measured anew', () => {
  const [own, anew] = [source(clip), source(clip)];
  useDrawings.getState().open(own);
  useDrawings.getState().change([...ON_TWOS]);
  const { shown, recipe } = useDrawings.getState();
  useDrawings.getState().follow(anew);
  expect(useDrawings.getState()).toMatchObject({ source: anew, shown, recipe });
  expect(recipe).toEqual(ON_TWOS);
});

test('those of another clip, of other exposures, or of other labels are others', () => {
  const own = source(clip);
  useDrawings.getState().open(own);
  for (const other of [source({}), source(clip, [2, 1]), source(clip, [1, 1, 1], 0)]) {
    expect(sameDrawings(own, other)).toBe(false);
    useDrawings.getState().follow(other);
    expect(useDrawings.getState().source).toBe(own);
  }
  expect(sameDrawings(undefined, own)).toBe(false);
  useDrawings.getState().close();
  useDrawings.getState().follow(own);
  expect(useDrawings.getState().source).toBeUndefined();
});
