// What every remedy keeps: dialled with nothing it changes no bit; it commutes with turning, moving, renaming, scaling a figure and with another rest pose; what it does not
// mean keeps every bit; bones keep their lengths; feet that stand go on standing; and what it was asked for is what comes out. Facts of geometry, of each remedy's own words.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { exposeOn } from '../src/exemplar/expose.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { measureReading, measureShot, READING_KINDS } from '../src/measure/registry.ts';
import { findContacts } from '../src/motion/feet/contacts.ts';
import { STANDARD_GRAVITY } from '../src/motion/figure-scale.ts';
import type { Motion } from '../src/motion/motion.ts';
import { worldPose } from '../src/motion/pose.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot, ShotOptions } from '../src/motion/prepared-shot.ts';
import { angleBetween, quatAt, rotateZ, vec3At } from '../src/motion/quaternion.ts';
import { isAncestor } from '../src/motion/roles.ts';
import { length, subtract } from '../src/motion/vector.ts';
import { quantitySignal } from '../src/quantity/measure-quantity.ts';
import { makeRecipe, RECIPE_LIMITS, type Treated, touchedBy } from '../src/remedy/recipe.ts';
import { type Recipe, RemedyError, type Step } from '../src/remedy/remedy.ts';
import { REMEDIES } from '../src/remedy/remedies.ts';
import { largestOf, rangeOf } from '../src/signal/statistics.ts';
import { largestDifference } from './fixtures.ts';
import { inOtherAxes, inOtherRestPose, movedInWorld, renamed, zUp } from './figures.ts';
import { keeperWalk } from './other-figure.ts';

const step = (text: string): Step => {
  const [, remedy, rest] = /^(\w+):(.*)$/.exec(text)!;
  const pairs = rest!.split(',').map((pair) => pair.split('=') as [string, string]);
  const parameters = Object.fromEntries(
    pairs.map(([name, value]) => [name, Number.isFinite(Number(value)) ? Number(value) : value]),
  );
  return { remedy: remedy!, parameters };
};
const made = (motion: Motion, options: ShotOptions, ...steps: string[]): Treated =>
  makeRecipe(prepareShot(motion, options), options, steps.map(step));
const motionOf = ({ shot }: Treated): Motion => shot.played.motion;
const exemplar = (name: string, options = {}, faults = {}): Motion => EXEMPLARS[name]!.make(options, faults);

/** Each remedy with what it is asked, on a motion that shows it; and the same dialled with nothing. */
const CASES: readonly (readonly [text: string, kind: string, nothing: string])[] = [
  ['hold:at=12,frames=4', 'turn', 'hold:at=12,frames=0'],
  ['hold:from=18,to=30,drift=4', 'turn', 'hold:from=18,to=30,frames=0'],
  ['retime:from=9,to=24,frames=11', 'turn', 'retime:from=9,to=24,frames=15'],
  ['respace:from=9,to=18,parts=head,chart=slow-in', 'turn', 'trim:front=0'],
  ['favour:a=9,at=14,b=18,percent=70', 'turn', 'favour:a=9,at=9,b=18,percent=70'],
  ['delay:chain=arm.L,frames=1', 'walk', 'delay:chain=arm.L,frames=0'],
  ['delay:parts=arm.L+arm.R,frames=2.5', 'walk', 'delay:parts=arm.R,frames=0'],
  ['amount:quantity=lean,of=trunk,by=8', 'walk', 'amount:quantity=lean,of=trunk,by=0'],
  ['amount:quantity=height,of=hips,factor=0.5', 'walk', 'amount:quantity=height,of=hips,factor=1'],
  ['amount:quantity=bend,of=elbow.L,to=40,at=7', 'walk', 'amount:quantity=bend,of=elbow.L,by=0,at=7'],
  ['amount:quantity=tilt,of=pelvis,factor=1.5', 'walk', 'amount:quantity=tilt,of=pelvis,factor=1'],
  ['arc:joint=hand.L,from=2,to=12,rise=30', 'walk', 'smooth:joint=hand.L,strength=0'],
  ['smooth:joint=foreArm.R,at=9', 'walk', 'smooth:joint=foreArm.R,strength=0'],
  ['smooth:joint=head,from=5,to=15,strength=0.8', 'walk', 'smooth:joint=head,from=5,to=15,strength=0'],
  ['steady:joint=head,share=0.7', 'walk', 'steady:joint=head,share=0'],
  ['plant:foot=both', 'walk', 'trim:front=0'],
  ['plant:foot=R,flat=1', 'walk', 'trim:front=0'],
  ['over:amount=5', 'walk', 'trim:front=0'],
  ['over:frames=1.5', 'walk', 'trim:front=0'],
  ['mirror:half=1', 'walk', 'trim:behind=0'],
  ['mirror:from=R,parts=arm.L', 'walk', 'trim:front=0'],
  ['close:frames=6', 'walk', 'close:frames=0'],
  ['anticipate:parts=spine,depth=20,frames=5', 'lean', 'anticipate:parts=spine,depth=0'],
  ['overshoot:parts=spine,depth=20,damping=0.4', 'lean', 'overshoot:parts=spine,depth=0'],
  ['fall:gravity=1', 'jump', 'fall:depth=0'],
  ['fall:of=crouch,depth=6', 'jump', 'fall:of=crouch,depth=0'],
  ['oppose:arm=L,lag=2', 'walk', 'oppose:arm=L'],
  ['trim:from=3,to=20', 'turn', 'trim:exposure=1'],
  ['trim:exposure=2', 'turn', 'trim:exposure=1'],
];
const LOOPS: Readonly<Record<string, 'repeat' | 'none'>> = { walk: 'repeat' };
const optionsOf = (kind: string): ShotOptions => ({ kind: EXEMPLARS[kind]!.kind, loop: LOOPS[kind] ?? 'none' });
/** A walk with faults in it, so that every remedy finds something to do. */
const material = (kind: string): Motion =>
  exemplar(
    kind,
    {},
    kind === 'walk' ? { slide: 3, seam: 6, pop: 12, halfHeight: 2 } : kind === 'jump' ? { floats: 0.5 } : {},
  );

describe.each(CASES)('%s', (text, kind, nothing) => {
  const motion = material(kind);
  const options = optionsOf(kind);
  const L = prepareShot(motion, options).scale.legLength;

  test('changes something; dialled with nothing it changes no bit', () => {
    const clean = exemplar(kind);
    // A breakdown that is its own pose, and a loop without a seam to close, have nothing to change.
    const source = nothing.startsWith('close') || nothing.startsWith('oppose') ? clean : motion;
    if (nothing.startsWith('favour')) expect(() => made(source, options, nothing)).toThrow(RemedyError);
    else {
      const same = motionOf(made(source, options, nothing));
      expect(same.frames).toBe(source.frames);
      expect(same.rotations).toEqual(source.rotations);
      expect(same.translations).toEqual(source.translations);
    }
    const treated = made(motion, options, text);
    expect(touchedBy(prepareShot(motion, options), treated)).toBeDefined();
  });

  test('is the same turned, moved, renamed, in other axes and another size', () => {
    const other = (own: Motion): Motion => movedInWorld(inOtherAxes(renamed(own), zUp, 0.01), rotateZ(30), [3, -1, 0]);
    const here = worldPose(other(motionOf(made(motion, options, text))));
    const there = worldPose(motionOf(made(other(motion), options, text)));
    expect(largestDifference(here.positions, there.positions)).toBeLessThan(2e-3 * 0.01 * L);
  });

  test('is the same from another rest pose', () => {
    const here = worldPose(motionOf(made(motion, options, text)));
    const there = worldPose(motionOf(made(inOtherRestPose(motion), options, text)));
    // Which way a straight elbow bends is read from the rest pose.
    expect(largestDifference(here.positions, there.positions)).toBeLessThan((text.startsWith('arc') ? 0.05 : 2e-3) * L);
  });

  test('keeps every bone as long as it is, and the bits of all it does not touch', () => {
    const treated = made(motion, options, text);
    const [was, is] = [motion, motionOf(treated)];
    const n = was.joints.length;
    const touched = new Set(touchedBy(prepareShot(motion, options), treated)!.joints);
    const world = worldPose(is);
    const wrong: string[] = [];
    for (let f = 0; f < is.frames; f++)
      is.joints.forEach(({ name, parent, offset }, j) => {
        if (parent >= 0) {
          const bone = length(subtract(vec3At(world.positions, f * n + j), vec3At(world.positions, f * n + parent)));
          if (!(Math.abs(bone - length(offset)) < 1e-9 * L)) wrong.push(`${name} has another length at ${f}`);
        }
        const from = treated.map ? treated.map[f]! : f;
        if (touched.has(name) || !Number.isInteger(from)) return;
        const [here, there] = [quatAt(is.rotations, f * n + j), quatAt(was.rotations, from * n + j)];
        if (!here.every((v, k) => Object.is(v, there[k]))) wrong.push(`${name} was touched at ${f}`);
      });
    expect(wrong).toEqual([]);
  });
});

test('every remedy has a case above, and its words', () => {
  const told = new Set(CASES.map(([text]) => text.split(':')[0]));
  for (const { id, does, needs, name, parameters, mends } of REMEDIES) {
    // A travel and a pose have tests of their own: one needs another walk, the other is of one rig.
    if (id !== 'fit' && id !== 'pose') expect([id, told.has(id)]).toEqual([id, true]);
    expect([name, does, needs].every((own) => own.length > 2 && !own.endsWith('.'))).toBe(true);
    expect(Object.keys(parameters).length).toBeGreaterThan(0);
    for (const reading of Object.keys(mends)) expect(READING_KINDS.has(reading as never)).toBe(true);
  }
});

test('a reading by itself is what it is among all of them', () => {
  for (const [name, { kind, make }] of Object.entries(EXEMPLARS)) {
    const shot = prepareShot(make({}, {}), { kind });
    const all = measureShot(shot).readings;
    for (const id of READING_KINDS.keys())
      expect([name, id, measureReading(shot, id)]).toEqual([name, id, all.filter((reading) => reading.id === id)]);
  }
});

describe('what was asked for is what comes out', () => {
  const walk = walkExemplar();
  const walking: ShotOptions = { kind: 'walk', loop: 'repeat' };
  const value = (treated: Treated, id: string, part?: string): number =>
    measureReading(treated.shot, id).find((reading) => reading.part === part)!.value as number;

  test('a quantity lies where it was put, and its swing is as many times as large', () => {
    const before = prepareShot(walk, walking);
    const bend = quantitySignal(
      made(walk, walking, 'amount:quantity=bend,of=elbow.L,to=55').shot,
      'bend',
      'elbow.L',
    ) as Float64Array;
    for (const own of bend) expect(Math.abs(own - 55)).toBeLessThan(0.05);
    const was = rangeOf(quantitySignal(before, 'swing', 'upperArm.R') as Float64Array);
    const half = made(walk, walking, 'amount:quantity=swing,of=upperArm.R,factor=0.5').shot;
    expect(Math.abs(rangeOf(quantitySignal(half, 'swing', 'upperArm.R') as Float64Array) - was / 2)).toBeLessThan(0.1);
    const at = made(walk, walking, 'amount:quantity=pitch,of=head,by=-20,at=9,falloff=3').shot;
    const [old, now] = [before, at].map((shot) => quantitySignal(shot, 'pitch', 'head') as Float64Array) as [
      Float64Array,
      Float64Array,
    ];
    expect(now[8]! - old[8]!).toBeCloseTo(-20, 1);
    // It ends softly: nothing four frames away, and no step that a fall of 20° over three frames does not need.
    expect([now[4]! - old[4]!, now[12]! - old[12]!]).toEqual([0, 0]);
    expect(largestOf(now.subarray(1).map((own, f) => Math.abs(own - now[f]! - (old[f + 1]! - old[f]!))))).toBeLessThan(
      20 / 2,
    );
  });

  test('a pose that is put on one frame is gone five frames away, and eases in and out before that', () => {
    const [x, w] = [Math.sin(Math.PI / 12), Math.cos(Math.PI / 12)];
    const { motion: take } = { motion: EXEMPLARS.take!.make({}, {}) };
    const head = take.joints.findIndex(({ name }) => name === 'head');
    const { shot } = made(take, { kind: 'take' }, `pose:at=36,turns=head:${x} 0 0 ${w}`);
    const off = (f: number): number => {
      const at = 4 * (f * take.joints.length + head);
      const [a, b] = [take.rotations, shot.played.motion.rotations].map((list) => list.subarray(at, at + 4)) as [
        Float64Array,
        Float64Array,
      ];
      return 1 - Math.abs(a.reduce((sum, value, k) => sum + value * b[k]!, 0));
    };
    // Label 36 is sample 35.
    expect([off(29), off(41)]).toEqual([expect.closeTo(0, 12), expect.closeTo(0, 12)]);
    const eases = [31, 32, 33, 34, 35].map(off);
    expect(eases).toEqual([...eases].sort((a, b) => a - b));
    expect(eases[0]).toBeGreaterThan(1e-6);
  });

  test('hips that bob half as much leave the feet where they were', () => {
    const treated = made(walk, walking, 'amount:quantity=height,of=hips,factor=0.5');
    const [was, is] = [worldPose(walk), worldPose(motionOf(treated))];
    const n = walk.joints.length;
    const feet = ['foot.L', 'foot.R', 'toe.L', 'toe.R'].map((name) =>
      walk.joints.findIndex((joint) => joint.name === name),
    );
    for (let f = 0; f < walk.frames; f++)
      for (const j of feet)
        expect(length(subtract(vec3At(was.positions, f * n + j), vec3At(is.positions, f * n + j)))).toBeLessThan(1e-6);
    expect(
      value(treated, 'gait.bob') / (measureReading(prepareShot(walk, walking), 'gait.bob')[0]!.value as number),
    ).toBeCloseTo(0.5, 1);
  });

  test('a delay is as long as it is asked, along a chain link by link, round the loop', () => {
    const stiff = walkExemplar({}, { noDelay: 1 });
    for (const frames of [1, 1.5, 2]) {
      const treated = made(stiff, walking, `delay:chain=arm.L,frames=${frames}`);
      expect(Math.abs(value(treated, 'lag.frames', 'arm.L') - frames)).toBeLessThan(0.1);
    }
    const later = motionOf(made(walk, walking, 'delay:parts=head,frames=3'));
    const head = walk.joints.findIndex(({ name }) => name === 'head');
    const n = walk.joints.length;
    for (let f = 0; f < 24; f++)
      expect(
        angleBetween(quatAt(later.rotations, ((f + 3) % 24) * n + head), quatAt(walk.rotations, f * n + head)),
      ).toBeLessThan(1e-6);
  });

  test('a cubic stays a cubic between frames and where one is put back on it', () => {
    const frames = 20;
    const joints = [{ name: 'boom', parent: -1, offset: [0, 0, 0] as const, ends: [[0, 10, 0] as const] }];
    const angle = (f: number): number => 0.01 * f ** 3 - 0.2 * f ** 2 + 3 * f;
    const cubic = (at: (f: number) => number): Motion => ({
      joints,
      frames,
      fps: 24,
      moving: [0],
      rotations: Float64Array.from({ length: frames }, (_, f) => f).reduce(
        (all, f) => (all.set(rotateZ(at(f)), 4 * f), all),
        new Float64Array(4 * frames),
      ),
      translations: new Float64Array(3 * frames),
    });
    const popped = cubic((f) => angle(f) + (f === 9 ? 6 : 0));
    const put = motionOf(made(popped, {}, 'smooth:joint=boom,at=10'));
    expect(angleBetween(quatAt(put.rotations, 9), rotateZ(angle(9)))).toBeLessThan(1e-6);
    const twice = motionOf(made(cubic(angle), {}, 'retime:frames=38'));
    for (let f = 0; f < twice.frames; f++)
      expect(angleBetween(quatAt(twice.rotations, f), rotateZ(angle(f / 2)))).toBeLessThan(1e-6);
  });

  test('a jump takes the time that gravity gives its height: t = √(2h₁/g) + √(2h₂/g)', () => {
    const treated = made(exemplar('jump', {}, { floats: 0.5 }), { kind: 'jump' }, 'fall:gravity=1');
    expect(Math.abs(value(treated, 'jump.gravity') - 1)).toBeLessThan(0.05);
    expect(value(treated, 'jump.parabola')).toBeGreaterThan(0.999);
    const air = value(treated, 'jump.air') / 24;
    const rise =
      (measureReading(treated.shot, 'jump.rise')[0]!.detail as { units: number }).units *
      treated.shot.scale.metresPerUnit;
    expect(Math.abs(air - 2 * Math.sqrt((2 * rise) / STANDARD_GRAVITY))).toBeLessThan(2 / 24);
  });

  describe('four jumps at 120 frames a second', () => {
    const jumping: ShotOptions = { kind: 'jump', loop: 'none' };
    const jumps = exemplar('jump', { fps: 120, length: 300, jumps: 4, drop: 0, rise: 30, crouch: 27 });
    const each = ({ shot }: Pick<Treated, 'shot'>, id: string): number[] =>
      measureReading(shot, id).map((reading) => Number(reading.value));

    test('slowed by half they fall too slowly, each, and are put back to gravity, each', () => {
      const slowly = `retime:from=1,to=${jumps.frames},frames=${1.5 * jumps.frames}`;
      // A fall that takes 1.5 times as long is one at 1 / 1.5² of gravity.
      for (const gravity of each(made(jumps, jumping, slowly), 'jump.gravity')) expect(gravity).toBeCloseTo(0.444, 2);
      const again = made(jumps, jumping, slowly, 'fall:gravity=1');
      expect(each(again, 'jump.gravity')).toEqual(new Array(4).fill(expect.closeTo(1, 2)));
      expect(each(again, 'jump.parabola').every((share) => share > 0.99)).toBe(true);
    });

    test('a crouch, or a squash, goes as much deeper as is asked for, each', () => {
      const was = { shot: prepareShot(jumps, jumping) };
      for (const which of ['crouch', 'squash']) {
        const deeper = each(made(jumps, jumping, `fall:of=${which},depth=8`), `jump.${which}`);
        const before = each(was, `jump.${which}`);
        expect(deeper).toHaveLength(4);
        // What the jumps have between them is both: the end of one, the beginning of the next.
        deeper.forEach((depth, k) => expect(Math.abs(depth - before[k]! - 8)).toBeLessThan(1));
      }
    });
  });

  test('feet that slide are planted where they landed; the keeper’s, which stand, stay within a hair', () => {
    const slid = made(walkExemplar({}, { slide: 6 }), walking, 'plant:foot=both');
    for (const part of ['leg.L', 'leg.R']) expect(value(slid, 'gait.slide', part)).toBeLessThan(0.3);
    const keeper = keeperWalk();
    const [was, is] = [worldPose(keeper), worldPose(motionOf(made(keeper, { kind: 'walk' }, 'plant:foot=both')))];
    expect(largestDifference(was.positions, is.positions)).toBeLessThan(0.005 * 90);
  });

  test('a foot that stands on its toes lies flat where it is asked to, on what it stood on, and rolls at both ends', () => {
    const pitch = (shot: PreparedShot): Float64Array => quantitySignal(shot, 'pitch', 'foot.L') as Float64Array;
    const options = walking;
    const motion = motionOf(
      made(walkExemplar({}, {}), options, 'amount:quantity=pitch,of=foot.L,by=-20', 'plant:foot=L'),
    );
    const toes = prepareShot(motion, options);
    const flat = made(motion, options, 'plant:foot=L,flat=1');
    const contact = findContacts(toes).feet.L![0]!;
    const middle = Math.round((contact.from + contact.to) / 2) % 24;
    expect(Math.abs(pitch(toes)[middle]!)).toBeGreaterThan(15);
    for (const s of [middle - 2, middle, middle + 2]) expect(pitch(flat.shot)[s]).toBeCloseTo(0, 3);
    // Half of it leaves half.
    const half = made(motion, options, 'plant:foot=L,flat=0.5');
    expect(pitch(half.shot)[middle]).toBeCloseTo(pitch(toes)[middle]! / 2, 1);
    // The other foot, and this one in the air, are as they were.
    const right = quantitySignal(flat.shot, 'pitch', 'foot.R') as Float64Array;
    expect(right[middle]).toBeCloseTo((quantitySignal(toes, 'pitch', 'foot.R') as Float64Array)[middle]!, 6);
    const air = (contact.to + 6) % 24;
    expect(pitch(flat.shot)[air]).toBeCloseTo(pitch(toes)[air]!, 6);
    expect(value(flat, 'gait.depth', 'leg.L')).toBeLessThan(0.5);
    expect(value(flat, 'gait.float', 'leg.L')).toBeLessThan(0.5);
    // Of a range only that.
    const short = made(motion, options, `plant:foot=L,from=${middle},to=${middle + 1},flat=1`);
    expect(pitch(short.shot)[middle]).toBeCloseTo(0, 3);
    expect(pitch(short.shot)[middle + 5]).toBeCloseTo(pitch(toes)[middle + 5]!, 6);
  });

  test('a travel that is too fast for the feet is brought back to them', () => {
    const fast = keeperWalk({ cycles: [24, 24, 24], travel: 1 });
    const shot = prepareShot(fast, { kind: 'walk' });
    const moved = { ...fast, translations: fast.translations.map((v, k) => (k % 3 === 2 ? 1.25 * v : v)) };
    const treated = made(moved, { kind: 'walk' }, 'fit:what=travel');
    expect(value(treated, 'travel.fit')).toBeCloseTo(1, 1);
    expect(shot.motion.frames).toBe(treated.shot.motion.frames);
  });

  test('the hips are lowest as long after the contact as it is asked', () => {
    for (const frames of [1, 2.5, 4]) {
      const treated = made(walk, walking, `over:frames=${frames}`);
      expect(Math.abs(value(treated, 'gait.lowAfter') - frames)).toBeLessThan(0.35);
    }
  });

  test('a whole body anticipates and goes past its end where nothing is named', () => {
    const plain = exemplar('lean', {}, { noAnticipation: 1, noOvershoot: 1 });
    for (const [text, id] of [
      ['anticipate:depth=20,frames=5', 'anticipation.depth'],
      ['overshoot:depth=20,damping=0.4', 'overshoot.depth'],
    ] as const) {
      const [was, is] = [prepareShot(plain, { kind: 'overlap' }), made(plain, { kind: 'overlap' }, text).shot].map(
        (shot) => measureReading(shot, id).find(({ part }) => part === 'spine')!.value as number,
      ) as [number, number];
      expect([text, was < 3]).toEqual([text, true]);
      expect(Math.abs(is - 20)).toBeLessThan(4);
    }
  });

  test('where no half is named the other is made of the better one', () => {
    const best = made(walkExemplar({}, { pop: 20 }), walking, 'mirror:parts=all');
    expect(measureReading(best.shot, 'arc.pop').map(({ value: pops }) => pops)).toEqual([0]);
  });

  test('halves that differ are made from one another, an arm from the other one', () => {
    const uneven = walkExemplar({}, { halfHeight: 4 });
    const half = 12 * 4 * uneven.joints.length;
    for (const [text, from, to] of [
      ['mirror:half=1', 0, half],
      ['mirror:half=2', half, 2 * half],
    ] as const) {
      const treated = made(uneven, walking, text);
      expect(value(treated, 'mirror.height')).toBeLessThan(0.3);
      // The half that the other is made from is what it was, to the bit.
      expect(motionOf(treated).rotations.slice(from, to)).toEqual(uneven.rotations.slice(from, to));
    }
    const one = made(walkExemplar({}, { frozenArm: 1 }), walking, 'mirror:from=R,parts=arm.L');
    expect(largestDifference(motionOf(one).rotations, walk.rotations)).toBeLessThan(1e-3);
  });

  test('on twos what is changed stays on twos', () => {
    const twos = exposeOn(keeperWalk({ cycles: [24, 24] }), 2);
    const treated = motionOf(
      made(twos, { kind: 'walk' }, 'amount:quantity=pitch,of=head,factor=2', 'delay:chain=arm.L,frames=1'),
    );
    const n = twos.joints.length;
    for (let f = 0; f + 1 < twos.frames; f += 2)
      expect(treated.rotations.subarray(4 * f * n, 4 * (f + 1) * n)).toEqual(
        treated.rotations.subarray(4 * (f + 1) * n, 4 * (f + 2) * n),
      );
  });

  test('frames that are put in and taken out are told by where they came from', () => {
    const longer = made(exemplar('turn'), { kind: 'turn' }, 'hold:at=12,frames=4');
    expect(longer.map!.slice(9, 18)).toEqual([9, 10, 11, 11, 11, 11, 11, 12, 13]);
    const both = made(exemplar('turn'), { kind: 'turn' }, 'hold:at=12,frames=4', 'trim:from=5,to=20');
    expect(both.map![0]).toBe(4);
    expect(both.shot.motion.frames).toBe(16);
    const same = made(exemplar('turn'), { kind: 'turn' }, 'hold:at=20,frames=4,take=1');
    expect(same.shot.motion.frames).toBe(exemplar('turn').frames);
  });
});

describe('what can’t be made is said in one line, and nothing is half made', () => {
  const walk = walkExemplar();
  const options: ShotOptions = { kind: 'walk', loop: 'repeat' };
  test.each<[string, RegExp]>([
    ['juggle:frames=2', /no remedy “juggle”/],
    ['hold:at=99,frames=2', /frame 99 is not in the shot: it has 1 to 25/],
    ['hold:at=2.5,frames=2', /label of a frame/],
    ['hold:at=4,frames=many', /a number, not “many”/],
    ['hold:at=4,beats=2', /no parameter “beats”/],
    ['hold:at=20,frames=9999', /between -500 and 500/],
    ['retime:from=9,to=9,frames=4', /two frames or more/],
    ['respace:from=3,to=4', /three frames or more/],
    ['respace:from=3,to=9,chart=swift', /one of even, slow-out/],
    ['respace:from=3,to=9,chart=0.2+0.1+0.3+0.4+0.5', /fractions/],
    ['respace:from=3,to=9,chart=0.2+0.4', /5 fractions are needed/],
    ['delay:chain=tail,frames=1', /no joint “tail”/],
    ['delay:frames=1', /a chain, or parts/],
    ['amount:quantity=lean,of=trunk', /one of by, to and factor/],
    ['amount:quantity=tilt,of=head,by=3', /shows no tilt of “head”/],
    ['amount:quantity=charm,of=head,by=3', /one of lean, side/],
    ['arc:joint=hand.L,from=4,to=4,rise=9', /range of 3 frames/],
    ['fall:gravity=1', /never leave the ground together/],
    ['fit:what=travel', /does not travel/],
    ['overshoot:joint=head,depth=400', /between 0 and 100/],
    ['mirror:half=3', /between 1 and 2/],
    ['trim:from=9,to=4,front=0', /no frame|goes over the end/],
    ['trim:front=-30', /no frame is left/],
  ])('%s', (text, why) => {
    const shot = prepareShot(walk, options);
    const before = shot.played.motion.rotations.slice();
    expect(() => makeRecipe(shot, options, [step('delay:parts=head,frames=1'), step(text)])).toThrow(why);
    expect(() => makeRecipe(shot, options, [step(text)])).toThrow(RemedyError);
    expect(shot.played.motion.rotations).toEqual(before);
  });

  test('too many steps, or too much work, is refused; steps that are off are left out', () => {
    const shot = prepareShot(walk, options);
    const many: Recipe = Array.from({ length: RECIPE_LIMITS.steps + 1 }, () => step('trim:front=0'));
    expect(() => makeRecipe(shot, options, many)).toThrow(/50 steps at most/);
    expect(
      makeRecipe(
        shot,
        options,
        many.map((own) => ({ ...own, off: true })),
      ).shot,
    ).toBe(shot);
    const long = walkExemplar({ length: RECIPE_LIMITS.frames - 700 });
    expect(() => made(long, options, 'trim:behind=400', 'trim:behind=400')).toThrow(/are the most/);
  });

  test('ancestors of what is turned keep their bits', () => {
    const treated = motionOf(made(walk, options, 'steady:joint=head,share=1'));
    const n = walk.joints.length;
    const head = walk.joints.findIndex(({ name }) => name === 'head');
    walk.joints.forEach((_, j) => {
      if (!isAncestor(walk.joints, j, head)) return;
      for (let f = 0; f < walk.frames; f++)
        expect(quatAt(treated.rotations, f * n + j)).toEqual(quatAt(walk.rotations, f * n + j));
    });
  });
});
