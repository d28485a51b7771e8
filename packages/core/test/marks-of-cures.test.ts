// A step of a cure is asked for as a mark: what it measures of the shot is now, what the cure makes of it is wanted. So the cured shot is as that mark
// wants, the shot itself is not, and the cure of that mark does it again.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { asking, measureMark, met, type PayloadOf } from '../src/mark/mark.ts';
import { delayBetween } from '../src/mark/delay-mark.ts';
import { shotEvents } from '../src/measure/keys/shot-events.ts';
import type { Patient } from '../src/remedy/cure.ts';
import { recipeForMark } from '../src/remedy/from-mark.ts';
import { makeRecipe } from '../src/remedy/recipe.ts';
import type { Recipe } from '../src/remedy/remedy.ts';
import { REMEDIES } from '../src/remedy/remedies.ts';
import { asChart, chartFractions } from '../src/remedy/spacing-chart.ts';
import { differsFrom, OUTCOME_JOINTS, outcomeOf, stored } from '../src/remedy/stored-recipe.ts';
import { canBeAsked, markOfStep } from '../src/remedy/to-mark.ts';
import { keeperWalk } from './other-figure.ts';
import { patientOf } from './patients.ts';

const walk = patientOf(walkExemplar(), 'walk');
const keeper = patientOf(keeperWalk(), 'walk');
const turn = patientOf(EXEMPLARS.turn!.make({}, {}), 'turn');
const lean = patientOf(EXEMPLARS.lean!.make({}, {}), 'overlap');
const shaken = patientOf(walkExemplar({}, { headShakes: 2 }), 'walk');

const step = (remedy: string, parameters: Recipe[number]['parameters']): Recipe => [{ remedy, parameters }];
const treated = ({ shot, options }: Patient, recipe: Recipe) => makeRecipe(shot, options, recipe).shot;

describe('a step of a cure becomes a mark', () => {
  test.each<[string, Patient, Recipe, string]>([
    ['a head that is lifted', walk, step('amount', { quantity: 'pitch', of: 'head', by: -12 }), 'amount'],
    [
      'a trunk that leans less at a frame',
      keeper,
      step('amount', { quantity: 'lean', of: 'trunk', to: 15, at: 8 }),
      'amount',
    ],
    [
      'arms that swing half as far',
      walk,
      step('amount', { quantity: 'swing', of: 'upperArm.L', factor: 0.5 }),
      'amount',
    ],
    ['a head that shakes no more', shaken, step('smooth', { joint: 'head', strength: 1 }), 'amount'],
    ['a hand that comes later', walk, step('delay', { parts: 'hand.L', frames: 2 }), 'delay'],
    ['an arm whose links drag', walk, step('delay', { chain: 'arm.L', frames: 1.5 }), 'delay'],
    ['a move that eases in', turn, step('respace', { from: 9, to: 18, joint: 'head', chart: 'slow-in' }), 'spacing'],
    ['an arc that rises', walk, step('arc', { joint: 'hand.R', from: 3, to: 11, rise: 40 }), 'arc'],
    [
      'a breakdown that favours its first pose',
      turn,
      step('favour', { a: 9, at: 13, b: 18, percent: 80 }),
      'breakdown',
    ],
    ['a turn in fewer frames', turn, step('retime', { from: 9, to: 18, frames: 6 }), 'timing'],
    ['a hold that is longer', turn, step('hold', { from: 20, to: 30, frames: 6 }), 'moving hold'],
    ['an overshoot', lean, step('overshoot', { joint: 'chest', depth: 20 }), 'overshoot'],
    ['an anticipation', lean, step('anticipate', { joint: 'chest', depth: 30, frames: 5 }), 'overshoot'],
  ])('%s', (_, patient, recipe, kind) => {
    const mark = markOfStep(patient, recipe, 0)!;
    expect(mark.kind).toBe(kind);
    expect(mark.payload.measured).not.toBeNull();
    expect(mark.payload.wanted).not.toBeNull();
    const before = met(mark, patient.shot)!;
    const after = met(mark, treated(patient, recipe))!;
    expect(before.distance).toBeGreaterThan(0);
    expect(after.distance).toBeLessThan(Math.max(0.001, before.distance / 3));
    // The cure of that mark comes at least three times nearer to it than the shot is.
    const again = recipeForMark(patient, mark)!;
    expect(met(mark, treated(patient, again))!.distance).toBeLessThan(Math.max(0.001, before.distance / 3));
  });

  test('of a later step what it adds is told, on the frames as the shot has them', () => {
    const recipe = [
      ...step('hold', { at: 30, frames: 6 }),
      ...step('amount', { quantity: 'pitch', of: 'head', by: 9, from: 40, until: 44, falloff: 0 }),
    ];
    const mark = markOfStep(turn, recipe, 1)!;
    expect([mark.from, mark.to]).toEqual([40, 44]);
    const { measured, wanted } = mark.payload as PayloadOf<'amount'>;
    expect(measured!.as).toBe('mean');
    expect(wanted!.value).not.toBeNaN();
  });

  test('what no mark measures is not asked for', () => {
    expect(
      REMEDIES.filter(({ id }) => canBeAsked(id))
        .map(({ id }) => id)
        .sort(),
    ).toEqual(
      ['amount', 'anticipate', 'arc', 'delay', 'favour', 'hold', 'overshoot', 'respace', 'retime', 'smooth'].sort(),
    );
    expect(markOfStep(walk, step('plant', { foot: 'L' }), 0)).toBeUndefined();
    expect(markOfStep(walk, step('amount', { quantity: 'shrug', of: 'clavicle.L', by: 2 }), 0)).toBeUndefined();
    expect(markOfStep(walk, step('smooth', { joint: 'head', at: 9 }), 0)).toBeUndefined();
    expect(markOfStep(walk, [], 0)).toBeUndefined();
    expect(markOfStep(walk, step('delay', { parts: 'hips', frames: 1 }), 0)).toBeUndefined();
  });
});

describe('a delay between two events is cured', () => {
  const events = shotEvents(turn.shot);
  const asked = (first: (typeof events)[number], second: (typeof events)[number], frames: number) => {
    const measured = delayBetween(first, second);
    const payload = asking({ kind: 'delay', core: '', measured, wanted: { frames: measured.frames } }, { frames });
    return { kind: 'delay', point: null, part: null, from: first.label, to: second.label, payload } as const;
  };
  const named = (name: string, part: string) => events.find((own) => own.name === name && own.part === part)!;

  test('the part that does the second comes so much later, the other stays', () => {
    const mark = asked(named('start', 'head'), named('start', 'spine'), 5);
    expect(mark.payload.measured!.frames).not.toBe(5);
    const recipe = recipeForMark(turn, mark)!;
    expect(recipe).toEqual(step('delay', { parts: 'spine', frames: 5 - mark.payload.measured!.frames }));
    const shot = treated(turn, recipe);
    expect(met(mark, shot)!.met).toBe(true);
    expect(measureMark('delay', shot, mark, mark.payload).measured).toMatchObject({ firstAt: mark.from });
  });

  test('as it is nothing is done; a body’s own pose is brought there by its time', () => {
    const same = asked(
      named('start', 'head'),
      named('stop', 'head'),
      named('stop', 'head').label - named('start', 'head').label,
    );
    expect(recipeForMark(turn, same as never)).toBeUndefined();
    const poses = shotEvents(walk.shot).filter(({ name }) => name === 'contact' || name === 'down');
    const [contact, down] = [
      poses.find(({ name, label }) => name === 'contact' && label > 2)!,
      poses.findLast(({ name }) => name === 'down')!,
    ];
    const mark = asked(contact, down, down.label - contact.label + 1);
    const recipe = recipeForMark(walk, mark);
    expect(recipe?.every(({ remedy }) => remedy === 'retime')).toBe(true);
    expect(met(mark, treated(walk, recipe!))!.distance).toBeLessThanOrEqual(met(mark, walk.shot)!.distance);
  });
});

describe('a stored recipe says whether it comes out otherwise today', () => {
  const recipe = step('amount', { quantity: 'pitch', of: 'head', by: -20 });
  const came = outcomeOf(walk.shot, makeRecipe(walk.shot, walk.options, recipe));

  test('it has the version of the core that made it, and what came of it: the head by 20 degrees, and no frame more', () => {
    expect(stored(recipe, came)).toEqual({
      core: expect.stringMatching(/^\d+\.\d+\.\d+$/) as string,
      steps: recipe,
      came: { frames: 25, changes: [{ joint: 'head', most: 20 }] },
    });
    expect(stored(recipe)).not.toHaveProperty('came');
  });

  test('made again it is the same; where nobody knows what it came to nothing is said', () => {
    const again = outcomeOf(walk.shot, makeRecipe(walk.shot, walk.options, recipe));
    expect(differsFrom(came, again)).toBeUndefined();
    expect(differsFrom(undefined, again)).toBeUndefined();
  });

  test('a degree nobody sees; two, a joint more, and frames more are told', () => {
    const with_ = (...changes: [joint: string, most: number][]) => ({
      frames: 25,
      changes: changes.map(([joint, most]) => ({ joint, most })),
    });
    expect(differsFrom(came, with_(['head', 20.9]))).toBeUndefined();
    expect(differsFrom(came, with_(['head', 17.5]))).toEqual({ joint: 'head', then: 20, now: 17.5 });
    expect(differsFrom(came, with_(['head', 20], ['neck', 4]))).toEqual({ joint: 'neck', then: 0, now: 4 });
    expect(differsFrom(came, with_())).toEqual({ joint: 'head', then: 20, now: 0 });
    expect(differsFrom(came, { ...came, frames: 28 })).toEqual({ then: 25, now: 28 });
    // Of a large change a twentieth is none: 40 and 41.5.
    expect(differsFrom(with_(['head', 40]), with_(['head', 41.5]))).toBeUndefined();
  });

  test('of more joints than are told the last may change places without a word', () => {
    const many = (last: string) => ({
      frames: 25,
      changes: Array.from({ length: OUTCOME_JOINTS }, (_, k) => ({
        joint: k === OUTCOME_JOINTS - 1 ? last : `tail.${k}`,
        most: 20 - k,
      })),
    });
    expect(differsFrom(many('hand.L'), many('hand.R'))).toBeUndefined();
    expect(differsFrom(many('hand.L'), { frames: 25, changes: [] })).toEqual({ joint: 'tail.0', then: 20, now: 0 });
  });
});

describe('a spacing as a recipe spells it', () => {
  test('fractions between the two poses, read again as they were', () => {
    expect(asChart([0, 0.3, 0.8, 1])).toBe('0.3000+0.8000');
    expect(chartFractions('0.3000+0.8000', 3)).toEqual([0, 0.3, 0.8, 1]);
    expect(chartFractions('0+0.3+0.8+1', 3)).toEqual([0, 0.3, 0.8, 1]);
    // What was dragged past an end stays at it.
    expect(asChart([0, -0.2, 1.4, 1])).toBe('0.0000+1.0000');
  });

  test('the trade’s own names; nothing where it has another number of frames, or is none', () => {
    expect(chartFractions('even', 4)).toEqual([0, 0.25, 0.5, 0.75, 1]);
    expect(chartFractions('halves', 4)).toEqual([0, 0.5, 0.75, 0.875, 1]);
    expect(chartFractions('0.3+0.8', 5)).toBeUndefined();
    expect(chartFractions('smooth', 2)).toBeUndefined();
    expect(() => treated(turn, step('respace', { from: 9, to: 18, joint: 'head', chart: '0.3+0.8' }))).toThrow(
      /8 fractions are needed/,
    );
  });
});
