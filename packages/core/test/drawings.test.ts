// Drawings are exposed otherwise: every new frame shows one of the drawings there are. What each way of it does is counted by hand below.
import fc from 'fast-check';
import { EXPOSURE_REMEDIES, exposedBy } from '../src/remedy/exposure-list.ts';
import { drawSpacing } from '../src/remedy/missing-drawings.ts';
import type { Step } from '../src/remedy/remedy.ts';

const drawings = [0, 0, 1, 1, 2, 2, 3, 3];

/** A step as it is spelled on the command line. */
function step(text: string): Step {
  const [remedy, rest = ''] = text.split(':') as [string, string?];
  const pairs = rest.split(',').filter((own) => own !== '');
  return { remedy, parameters: Object.fromEntries(pairs.map((own) => own.split('=') as [string, string])) };
}
const exposed = (...texts: string[]): readonly number[] => exposedBy(drawings, 1, texts.map(step));

describe('four drawings on twos', () => {
  test.each<[string, number[]]>([
    ['hold:at=3,frames=2', [0, 0, 1, 1, 1, 1, 2, 2, 3, 3]],
    ['hold:at=3,frames=-1', [0, 0, 1, 2, 2, 3, 3]],
    ['drop:at=4', [0, 0, 2, 2, 3, 3]],
    ['swap:a=1,b=7', [3, 3, 1, 1, 2, 2, 0, 0]],
    ['move:at=1,before=5', [1, 1, 0, 0, 2, 2, 3, 3]],
    ['move:at=8,before=4', [0, 0, 3, 3, 1, 1, 2, 2]],
    ['move:at=3', [0, 0, 2, 2, 3, 3, 1, 1]],
    ['move:at=3,before=4', drawings],
    ['move:at=3,before=5', drawings],
    ['show:from=3,drawings=4+4+1', [0, 0, 3, 3, 0, 2, 3, 3]],
    ['trim:exposure=4', [0, 0, 0, 0, 2, 2, 2, 2]],
    ['trim:front=2', [0, 0, 0, 0, 1, 1, 2, 2, 3, 3]],
    ['trim:from=3,to=6', [1, 1, 2, 2]],
    ['trim:behind=-3', [0, 0, 1, 1, 2]],
    ['retime:frames=3', [0, 1, 2, 3]],
    ['rate:of=24,to=12', [0, 1, 2, 3]],
    ['rate:of=12,to=24', [0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3]],
    ['rate:of=24,to=24', drawings],
    ['reverse:from=1,to=4', [1, 1, 0, 0, 2, 2, 3, 3]],
    ['mirror', [0, 0, 1, 1, 2, 2, 3, 3, 2, 2, 1, 1, 0, 0]],
    ['mirror:from=1,to=4', [0, 0, 1, 1, 0, 0, 2, 2, 3, 3]],
  ])('%s', (text, wanted) => expect(exposed(text)).toEqual(wanted));

  test.each([
    ['amount:quantity=lean,of=trunk,by=3', /can’t be bent/],
    ['hold:at=3,frames=-2', /drop takes it out/],
    ['drop:at=40', /not in the clip: it has 1 to 8/],
    ['hold:frames=2', /at is missing/],
    ['trim:from=5,to=2', /a range goes forward/],
    ['trim:front=-8', /no frame is left/],
    ['show:from=1,drawings=5', /drawings 1 to 4, and no “5”/],
    ['show:from=1,drawings=1+x', /no “x”/],
    ['rate:to=12', /needs of and to/],
    ['retime:from=1', /needs frames/],
    ['swap:a=1', /b is missing/],
    ['swap:a=1,c=2', /no parameter “c”/],
  ])('%s can’t be made', (text, why) => expect(() => exposed(text)).toThrow(why));

  test('one alone is never dropped; a step that is off is not made', () => {
    expect(() => exposedBy([0, 0], 1, [step('drop:at=1')])).toThrow(/no frame is left/);
    expect(exposedBy(drawings, 1, [{ ...step('reverse'), off: true }])).toEqual(drawings);
  });

  test('whatever is asked of any clip, a frame shows one of its drawings or it is said why not', () => {
    const label = fc.integer({ min: 0, max: 14 });
    const asked = fc.oneof(
      ...EXPOSURE_REMEDIES.map(({ id, parameters }) =>
        fc
          .record(
            Object.fromEntries(
              Object.entries(parameters).map(([name, { is }]) => [
                name,
                is === 'frame'
                  ? label
                  : is === 'number'
                    ? fc.integer({ min: 1, max: 9 })
                    : fc.constantFrom('1', '2+1', '9'),
              ]),
            ),
            { requiredKeys: [] },
          )
          .map((own) => ({ remedy: id, parameters: own as Step['parameters'] })),
      ),
    );
    const clip = fc.array(fc.integer({ min: 1, max: 4 }), { minLength: 1, maxLength: 5 });
    let made = 0;
    fc.assert(
      fc.property(clip, fc.array(asked, { maxLength: 4 }), (lengths, recipe) => {
        const own = lengths.flatMap((length, drawing) => Array.from({ length }, () => drawing));
        try {
          const shown = exposedBy(own, 1, recipe);
          made++;
          return shown.length > 0 && shown.every((drawing) => own.includes(drawing));
        } catch (error) {
          return (error as Error).name === 'RemedyError';
        }
      }),
      { seed: 9, numRuns: 600 },
    );
    expect(made).toBeGreaterThan(150);
  });

  test('backwards twice, there and back at the end, another rate and back: the same again', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 5 }), { minLength: 1, maxLength: 30 }), (own) => {
        expect(exposedBy(own, 1, [step('reverse'), step('reverse')])).toEqual(own);
        expect(exposedBy(own, 1, [step('rate:of=12,to=24'), step('rate:of=24,to=12')])).toEqual(own);
        const mirrored = exposedBy(own, 1, [step('mirror')]);
        expect([...mirrored.slice(0, own.length)]).toEqual(own);
        expect(mirrored.at(-1)).toBe(mirrored.length > own.length ? own[0] : own.at(-1));
      }),
      { seed: 4, numRuns: 200 },
    );
  });
});

describe('a wanted spacing takes the drawings there are, and says where one is missing', () => {
  const even = [0, 0.25, 0.5, 0.75, 1];
  const clip = [0, 1, 2, 3, 4];
  const drawn = (wanted: readonly number[], way = even, exposed = clip) =>
    drawSpacing({ from: 11, way, wanted, exposed, firstFrame: 11 });

  test('as it is: nothing changes, nothing is missing', () => {
    expect(drawn(even)).toEqual({ recipe: [], missing: [] });
  });

  test('places where drawings lie take them, wherever they stood', () => {
    const { recipe, missing } = drawn([0, 0, 0.25, 0.75, 1]);
    expect(missing).toEqual([]);
    expect(exposedBy(clip, 11, recipe)).toEqual([0, 0, 1, 3, 4]);
  });

  test('halves of a half lie between two drawings: there one is missing, half way', () => {
    const { missing, recipe } = drawn([0, 0.125, 0.5, 0.9375, 1]);
    expect(missing).toEqual([
      { label: 12, between: [11, 12], share: 0.5 },
      // A quarter of a step (of a fourth of the way) from the last: as far as a spacing may be off.
    ]);
    expect(exposedBy(clip, 11, recipe)).toEqual([0, 0, 2, 4, 4]);
    expect(drawn([0, 0.25, 0.5, 0.93, 1]).missing).toEqual([
      { label: 14, between: [14, 15], share: expect.closeTo(0.72, 9) as number },
    ]);
  });

  test('more frames, and fewer: the clip is as long as the chart, what follows goes on behind it', () => {
    const exposedClip = [0, 1, 2, 3, 4, 5, 6];
    const own = { from: 2, way: even, exposed: exposedClip, firstFrame: 1 };
    const longer = drawSpacing({ ...own, wanted: [0, 0.25, 0.25, 0.5, 0.75, 1, 1] });
    expect(exposedBy(exposedClip, 1, longer.recipe)).toEqual([0, 1, 2, 2, 3, 4, 5, 5, 6]);
    const shorter = drawSpacing({ ...own, wanted: [0, 0.5, 1] });
    expect(exposedBy(exposedClip, 1, shorter.recipe)).toEqual([0, 1, 3, 5, 6]);
  });

  test('on twos a step is what lies between drawings, not between frames', () => {
    const onTwos = [0, 0, 0.5, 0.5, 1];
    const twos = [0, 0, 1, 1, 2];
    expect(drawn([0, 0, 0.6, 0.6, 1], onTwos, twos).missing).toEqual([]);
    expect(drawn([0, 0.3, 0.5, 0.5, 1], onTwos, twos).missing.map(({ label }) => label)).toEqual([12]);
  });

  test('past either end of the way nothing is made up', () => {
    const past = drawn([0, 0.25, 0.5, 1.2, 1]).missing;
    expect(past).toEqual([{ label: 14, between: [15, 15], share: 0 }]);
  });
});
