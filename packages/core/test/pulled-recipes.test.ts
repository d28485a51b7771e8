// A cure is pulled by hand: so many times as much of it. At 0 it does nothing, at 1 it is as it was; between the two it lies between.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import type { Kind } from '../src/motion/kinds.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { pulledRecipe } from '../src/remedy/pulled-recipe.ts';
import { makeRecipe } from '../src/remedy/recipe.ts';
import type { Step } from '../src/remedy/remedy.ts';
import { remedyOf } from '../src/remedy/remedies.ts';

const walk = prepareShot(walkExemplar(), { kind: 'walk' });
const turn = prepareShot(EXEMPLARS.turn!.make({}, {}), { kind: 'turn' });
const lean = prepareShot(EXEMPLARS.lean!.make({}, {}), { kind: 'overlap' });

/** How much a recipe changes in all: the sum over joints and frames of what differs. */
function change(shot: typeof walk, kind: Kind, recipe: readonly Step[]): number {
  const { rotations, translations } = makeRecipe(shot, { kind }, recipe).shot.played.motion;
  const was = shot.played.motion;
  const off = (now: Float64Array, then: Float64Array): number =>
    now.reduce((sum, value, k) => sum + Math.abs(value - then[k]!), 0);
  return off(rotations, was.rotations) + off(translations, was.translations);
}

describe.each<[string, typeof walk, Kind, Step]>([
  ['so much more', walk, 'walk', { remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by: -20 } }],
  [
    'so many times as much',
    walk,
    'walk',
    { remedy: 'amount', parameters: { quantity: 'swing', of: 'upperArm.L', factor: 0.4 } },
  ],
  ['up to a value', walk, 'walk', { remedy: 'amount', parameters: { quantity: 'lean', of: 'trunk', to: 12, at: 7 } }],
  ['an arc', walk, 'walk', { remedy: 'arc', parameters: { joint: 'hand.R', from: 3, to: 11, rise: 40 } }],
  ['a breakdown', turn, 'turn', { remedy: 'favour', parameters: { a: 9, at: 13, b: 18, percent: 85 } }],
  ['a delay', walk, 'walk', { remedy: 'delay', parameters: { parts: 'hand.L', frames: 2 } }],
  ['a steadier head', walk, 'walk', { remedy: 'steady', parameters: { joint: 'head', share: 0.8 } }],
  ['a smoother one', walk, 'walk', { remedy: 'smooth', parameters: { joint: 'head', strength: 1 } }],
  ['an overshoot', lean, 'overlap', { remedy: 'overshoot', parameters: { joint: 'chest', depth: 20 } }],
  ['an anticipation', lean, 'overlap', { remedy: 'anticipate', parameters: { joint: 'chest', depth: 20 } }],
])('%s', (_, shot, kind, step) => {
  const all = change(shot, kind, [step]);
  const at = (factor: number): number => change(shot, kind, pulledRecipe(shot, [step], factor)!);

  test('at nothing it changes hardly anything, at one it is the same, half of it lies between', () => {
    expect(all).toBeGreaterThan(0);
    expect(at(0)).toBeLessThan(all / 20);
    expect(Math.abs(at(1) / all - 1)).toBeLessThan(0.01);
    expect(at(0.5)).toBeGreaterThan(0.3 * all);
    expect(at(0.5)).toBeLessThan(0.75 * all);
  });

  test('it stays within what it may be, however far it is pulled', () => {
    for (const factor of [-1000, 1000]) {
      const [pulled] = pulledRecipe(shot, [step], factor)!;
      const remedy = remedyOf(step.remedy)!;
      for (const [name, value] of Object.entries(pulled!.parameters)) {
        const kind = remedy.parameters[name]!;
        if (kind.is === 'number') expect(Number(value)).toBeGreaterThanOrEqual(kind.range[0]);
        if (kind.is === 'number') expect(Number(value)).toBeLessThanOrEqual(kind.range[1]);
      }
    }
  });
});

test('steps that have no more or less stay, those that are off too; of a recipe of such alone nothing can be pulled', () => {
  const plant: Step = { remedy: 'plant', parameters: { foot: 'L' } };
  const lower: Step = { remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by: -20 } };
  expect(pulledRecipe(walk, [plant, lower, { ...lower, off: true }], 0.5)).toEqual([
    plant,
    { remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by: -10 } },
    { ...lower, off: true },
  ]);
  expect(pulledRecipe(walk, [plant], 0.5)).toBeUndefined();
  expect(pulledRecipe(walk, [{ remedy: 'smooth', parameters: { joint: 'head', at: 9 } }], 0.5)).toBeUndefined();
  expect(
    pulledRecipe(walk, [{ remedy: 'amount', parameters: { quantity: 'lean', of: 'tail', to: 4 } }], 2),
  ).toBeUndefined();
  expect(
    pulledRecipe(walk, [{ remedy: 'arc', parameters: { joint: 'nobody', from: 1, to: 9, rise: 4 } }], 2),
  ).toBeUndefined();
  expect(pulledRecipe(walk, [{ remedy: 'juggle', parameters: {} }], 2)).toBeUndefined();
});
