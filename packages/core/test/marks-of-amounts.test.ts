// Marks that ask for an amount, a pose or a delay: what is measured is what a figure was made with, and a later revision is held against what was wanted.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { AMOUNT_MARK, amountsOver, type MeasuredAmount } from '../src/mark/amount-mark.ts';
import { DELAY_MARK, eventName, type MeasuredDelay } from '../src/mark/delay-mark.ts';
import { asking, measureMark, met, type PayloadOf, sayMark, takeFinding } from '../src/mark/mark.ts';
import type { MarkPlace } from '../src/mark/mark-tool.ts';
import { POSE_MARK } from '../src/mark/pose-mark.ts';
import { progressOf } from '../src/mark/progress.ts';
import { shotEvents } from '../src/measure/keys/shot-events.ts';
import { partShake } from '../src/measure/posture/shake.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Motion } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { withPulled } from '../src/posing/pulled-pose.ts';
import { LoosePose } from '../src/posing/loose-pose.ts';
import { NOTHING_WANTED, poseWanted } from '../src/posing/wanted-pose.ts';
import { add, scale } from '../src/motion/vector.ts';
import { quantitySignal } from '../src/quantity/measure-quantity.ts';
import { Faulty } from './gross-faults.ts';
import { walkShot } from './fixtures.ts';
import { keeperLandings, KEEPER_WALK, keeperWalk } from './other-figure.ts';

const place = (from: number, to = from, point: string | null = null): MarkPlace => ({ from, to, point });
const nameOf = (shot: PreparedShot, role: keyof PreparedShot['roles']): string =>
  shot.motion.joints[shot.roles[role]!]!.name;
const leaning = (by: number): PreparedShot =>
  new Faulty(keeperWalk(), { kind: 'walk' }).turned(['spine', 'chest'], 'left', () => by).shot;

describe('an amount', () => {
  const walk = walkShot();
  const amount = (shot: PreparedShot, at: MarkPlace, like?: Partial<MeasuredAmount>): PayloadOf<'amount'> => {
    const first = measureMark('amount', shot, at) as PayloadOf<'amount'>;
    if (!like) return first;
    return measureMark('amount', shot, at, {
      ...first,
      measured: { ...first.measured!, ...like },
    }) as PayloadOf<'amount'>;
  };

  test('at a frame is the value of the quantity there; of the whole body its lean', () => {
    const { measured, wanted } = amount(walk, place(4));
    const lean = quantitySignal(walk, 'lean', 'trunk') as Float64Array;
    expect(measured).toMatchObject({ quantity: 'lean', of: 'trunk', as: 'value' });
    expect(measured!.value).toBeCloseTo(lean[3]!, 3);
    // Until somebody says otherwise what is there is wanted, as it would be written.
    expect(Math.abs(wanted!.value - measured!.value)).toBeLessThanOrEqual(0.5);
  });

  test('is turned up by as much as the trunk is leaned, and told towards what was wanted as it comes back', () => {
    const [far, less, upright] = [leaning(20), leaning(10), leaning(0)];
    const at = place(6);
    const payload = amount(far, at);
    const start = amount(upright, at).measured!.value;
    // Turned above the hips a trunk leans a little less than it is turned.
    expect(payload.measured!.value - start).toBeGreaterThan(13);
    expect(payload.measured!.value - start).toBeCloseTo(2 * (amount(less, at).measured!.value - start), 0);
    const asked = asking(payload, { value: Math.round(start) });
    const held = (shot: PreparedShot) => met({ ...at, payload: asked }, shot);
    expect(held(far)).toMatchObject({ met: false, side: 1, unit: '°' });
    expect(held(upright)!.met).toBe(true);
    expect(progressOf(asked, held(less))).toBe('towards');
    expect(progressOf(asked, held(leaning(-15)))).toBe('past');
    expect(progressOf(asked, held(far))).toBe('unchanged');
  });

  test('over a range is a size, a mean or a shake, and another of them where that is asked', () => {
    expect([amountsOver(place(4)), amountsOver(place(4, 9))]).toEqual([['value'], ['size', 'mean', 'shake']]);
    const arm = nameOf(walk, 'upperArm.L');
    const swing = quantitySignal(walk, 'swing', 'upperArm.L') as Float64Array;
    const own = swing.slice(0, 13);
    const size = amount(walk, place(1, 13, arm));
    expect(size.measured).toMatchObject({ quantity: 'swing', of: 'upperArm.L', as: 'size' });
    expect(size.measured!.value).toBeCloseTo(Math.max(...own) - Math.min(...own), 3);
    const usual = amount(walk, place(1, 13, arm), { as: 'mean' });
    expect(usual.measured!.value).toBeCloseTo(own.reduce((sum, v) => sum + v, 0) / own.length, 3);
    expect(sayMark(usual, place(1, 13)).now).toMatch(/^swing of the left upper arm: −?[\d.]+° on average$/);
    // A mark at one frame asks for no size.
    expect(amount(walk, place(4, 4, arm), { as: 'size' }).measured!.as).toBe('value');
  });

  test('is said as a share where people say one', () => {
    const say = (value: number, wanted: number): string =>
      AMOUNT_MARK.say({ quantity: 'swing', of: 'upperArm.L', as: 'size', value }, { value: wanted }, place(1, 9))
        .wanted;
    expect(say(60, 48)).toBe('48° from its lowest to its highest, a fifth less');
    expect(say(60, 30)).toMatch(/half less$/);
    expect(say(60, 80)).toMatch(/a third more$/);
    expect(say(20, 40)).toMatch(/twice as much$/);
    expect(say(60, 57)).toBe('57° from its lowest to its highest');
    expect(say(0.4, 40)).toBe('40° from its lowest to its highest');
  });

  test('of a shake is at most so much: less is as wanted too', () => {
    const away = (value: number): number =>
      AMOUNT_MARK.distance({ quantity: 'pitch', of: 'head', as: 'shake', value }, { value: 0.2 })!.distance;
    expect(away(0)).toBeLessThan(0);
    expect(away(0.25)).toBeLessThan(0);
    expect(away(1)).toBeCloseTo(0.7, 9);
    expect(
      AMOUNT_MARK.say({ quantity: 'pitch', of: 'head', as: 'shake', value: 1 }, { value: 0.2 }, place(1, 9)).wanted,
    ).toBe('0.2° or less of shake');
  });

  test('a head that is meant to be still shakes by what it is made to, at every rate', () => {
    for (const [period, fps] of [
      [2, 24],
      [4, 24],
      [5, 30],
    ] as const)
      for (const size of [0.5, 1.5]) {
        const nod = Float64Array.from(
          { length: 60 },
          (_, k) => 3 + 0.1 * k + size * Math.cos((2 * Math.PI * k) / period),
        );
        // A cosine of an amplitude has 1/√2 of it as its root mean square; at two frames a period all of it.
        const wanted = period === 2 ? size : size / Math.SQRT2;
        expect(Math.abs(partShake(nod, fps) / wanted - 1)).toBeLessThan(0.15);
      }
    expect(
      partShake(
        Float64Array.from({ length: 60 }, (_, k) => 0.002 * k * k),
        24,
      ),
    ).toBeLessThan(1e-9);
    expect(partShake(Float64Array.from([1, 5, 1, 5]), 24)).toBe(0);
    expect(partShake(Float64Array.from([1, 3, 1, 3, 1, 3, 1]), 24)).toBeGreaterThan(0.5);
  });

  test('where a quantity is not shown nothing is measured', () => {
    expect(measureMark('amount', walk, place(400)).measured).toBeNull();
    const ball: Motion = {
      joints: [{ name: 'ball', parent: -1, offset: [0, 0, 0], ends: [] }],
      frames: 8,
      fps: 24,
      rotations: Float64Array.from({ length: 32 }, (_, k) => Number(k % 4 === 3)),
      moving: [0],
      translations: new Float64Array(24),
    };
    expect(measureMark('amount', prepareShot(ball, { kind: 'any' }), place(2)).measured).toBeNull();
  });

  test('a finding of how much is taken as an amount of its own quantity', () => {
    const shot = leaning(30);
    const { findings } = judgeShot(defaultGauges('walk', 24), measureShot(shot), 'polish');
    const lean = findings.find(({ reading }) => reading.id === 'posture.lean')!;
    const payload = measureMark('amount', shot, place(1, 24), takeFinding(lean)) as PayloadOf<'amount'>;
    expect(payload.quote?.reading).toBe('posture.lean');
    expect(payload.measured).toMatchObject({ quantity: 'lean', of: 'trunk', as: 'mean' });
    expect(payload.measured!.value).toBeCloseTo(lean.reading.value as number, 0);
    expect(met({ ...place(1, 24), payload }, leaning(0))!.met).toBe(true);
  });
});

describe('a pose', () => {
  const walk = walkShot();
  const hand = nameOf(walk, 'hand.L');
  const joint = walk.roles['hand.L']!;
  const at = place(5, 5, hand);
  const sample = 4;
  const now = LoosePose.at(walk.motion, sample);
  const pulled = withPulled(
    walk,
    sample,
    NOTHING_WANTED,
    joint,
    add(now.place(joint), scale([0, 0.15, 0.1], walk.scale.legLength)),
  )!;
  const payload = measureMark('pose', walk, at) as PayloadOf<'pose'>;
  const asked = asking(payload, pulled);
  /** The walk with the pulled pose at every frame. */
  const handedIn = (share: number, pull: readonly [number, number, number] = [0, 0.15, 0.1]): PreparedShot => {
    const rotations = walk.motion.rotations.slice();
    const n = walk.motion.joints.length;
    const wanted = withPulled(
      walk,
      sample,
      NOTHING_WANTED,
      joint,
      add(now.place(joint), scale(pull, share * walk.scale.legLength)),
    )!;
    for (let f = 0; f < walk.motion.frames; f++)
      rotations.set(poseWanted(walk, LoosePose.at(walk.motion, f), wanted).rotations, 4 * n * f);
    return prepareShot({ ...walk.motion, rotations }, { kind: 'walk', loop: 'repeat' });
  };

  test('that nothing is asked of can be held against nothing', () => {
    expect(payload.wanted).toEqual(NOTHING_WANTED);
    expect(met({ ...at, payload }, walk)).toBeUndefined();
    expect(sayMark(payload, at)).toEqual({ now: 'the pose at this frame', wanted: '' });
  });

  test('tells which parts are how far off, the farthest first', () => {
    const told = sayMark(asked, at);
    expect(told.wanted).toBe('the pose that is drawn');
    expect(told.now).toMatch(/^the left (hand|forearm|upper arm) [\d.]+(°| % of a leg).* from where they should be$/);
    expect(told.now).not.toMatch(/right|leg \d/);
  });

  test('is met once it is handed in as it was drawn, nearer on the way there', () => {
    const held = (share: number) => met({ ...at, payload: asked }, handedIn(share));
    expect(held(0)).toMatchObject({ met: false });
    expect(held(1)).toMatchObject({ met: true });
    expect([0, 0.6, 1].map((share) => progressOf(asked, held(share)))).toEqual(['unchanged', 'towards', 'as wanted']);
    // Pulled as far again beyond, the hand is as far off as it was: on the other side.
    expect(progressOf(asked, held(2))).toBe('past');
    expect(progressOf(asked, met({ ...at, payload: asked }, handedIn(1, [0, 0.2, -0.5])))).toBe('away');
  });

  test('is held against a figure that is built differently, by where its parts point', () => {
    const other = prepareShot(keeperWalk(), { kind: 'walk' });
    const away = met({ ...place(5), payload: asked }, other);
    expect(away!.unit).toBe('°');
    expect(away!.distance).toBeGreaterThan(0);
  });

  test('of what has no body is told by where its joints lead', () => {
    const mast = prepareShot(EXEMPLARS.overlap!.make({}, {}), { kind: 'overlap' });
    const told = POSE_MARK.measure(mast, place(10))!;
    expect(Object.keys(told.directions).length).toBeGreaterThan(2);
    expect(POSE_MARK.measure(mast, place(-40))).toBeNull();
  });
});

describe('what happens in a shot', () => {
  test('of a walk: its key poses, and where hips and arms turn round, half a cycle apart', () => {
    const events = shotEvents(prepareShot(keeperWalk(), { kind: 'walk' }));
    const landings = keeperLandings({ ...KEEPER_WALK }).map(({ at }) => at);
    const contacts = events.filter(({ name }) => name === 'contact').map(({ label }) => label);
    for (const label of contacts)
      expect(Math.min(...landings.map((own) => Math.abs(own + 1 - label)))).toBeLessThanOrEqual(1);
    const arm = events.filter(({ name, part }) => name === 'farthest' && part === 'arm.L').map(({ label }) => label);
    expect(arm).toHaveLength(2);
    // What turns round without a rest neither stops nor starts.
    expect(events.filter(({ name, part }) => part === 'arm.L' && (name === 'stop' || name === 'start'))).toEqual([]);
    expect(events.map(({ label }) => label)).toEqual(events.map(({ label }) => label).toSorted((a, b) => a - b));
  });

  test('of a turn: the head starts and stops, and its look begins where it stops', () => {
    const turn = prepareShot(EXEMPLARS.turn!.make({}, {}), { kind: 'turn' });
    const events = shotEvents(turn);
    const of = (name: string): number[] =>
      events.filter((own) => own.name === name && own.part === 'head').map(({ label }) => label);
    expect(of('start')[0]).toBeLessThan(of('stop')[0]!);
    expect(Math.min(...of('look').map((look) => Math.abs(look - of('stop')[0]!)))).toBeLessThanOrEqual(2);
    expect(shotEvents(turn)).toBe(events);
  });

  test('of blocking its poses alone', () => {
    const shot = prepareShot(EXEMPLARS.take!.make({}, {}), { kind: 'take' });
    const blocking = { ...shot, exposures: { ...shot.exposures, blocking: true } };
    expect(shotEvents(blocking).every(({ part }) => part === undefined)).toBe(true);
  });
});

describe('a delay', () => {
  const walk = walkShot();
  const delay = (shot: PreparedShot, at: MarkPlace, like?: MeasuredDelay): MeasuredDelay | null =>
    DELAY_MARK.measure(shot, at, like);

  test('between two events is told from the one to the other, and again by their names', () => {
    const own = delay(walk, place(1, 4))!;
    expect(own).toMatchObject({
      of: 'events',
      first: 'contact',
      second: 'down',
      firstAt: 1,
      frames: own.secondAt! - 1,
    });
    const slow = prepareShot(EXEMPLARS.walk!.make({ length: 32 }, {}), { kind: 'walk' });
    const again = delay(slow, place(1, 6), own)!;
    expect(again).toMatchObject({ first: 'contact', second: 'down' });
    expect(again.frames).toBeGreaterThanOrEqual(own.frames);
    // An event that is not there any more tells nothing.
    expect(delay(walk, place(1, 4), { ...own, second: 'take-off' })).toBeNull();
  });

  test('of a sound is told in frames, whatever the rate, and again on a revision that was retimed', () => {
    // A step is heard a sixth of a second after the foot has come down at 13.
    const heard = { first: 1, onsets: [0.5 + 1 / 6] };
    const shot = prepareShot(EXEMPLARS.walk!.make({}, {}), { kind: 'walk', sound: heard });
    const own = delay(shot, place(13, 17))!;
    expect(own).toMatchObject({ first: 'contact', firstAt: 13, second: 'onset', secondPart: 'sound', frames: 4 });
    expect(DELAY_MARK.say(own, { frames: 0 }, place(13, 17))).toEqual({
      now: 'the onset of the sound at 17 comes 4 frames after the contact of the right foot at 13',
      wanted: 'together',
    });
    const asked: PayloadOf<'delay'> = { kind: 'delay', core: '', measured: own, wanted: { frames: 0 } };
    // The foot comes down at 17 of a cycle of 32.
    const slow = prepareShot(EXEMPLARS.walk!.make({ length: 32 }, {}), { kind: 'walk', sound: heard });
    expect(met({ ...place(13, 17), payload: asked }, slow)!.distance).toBeLessThanOrEqual(0);
    expect(met({ ...place(13, 17), payload: asked }, shot)!.distance).toBeGreaterThan(3);
    // Without its sound nothing is told.
    expect(met({ ...place(13, 17), payload: asked }, walk)).toBeUndefined();
    // At half the rate the same moment is another frame.
    const half = prepareShot({ ...EXEMPLARS.walk!.make({}, {}), fps: 12 }, { kind: 'walk', sound: heard });
    expect(shotEvents(half).filter(({ part }) => part === 'sound')).toEqual([
      { label: 9, name: 'onset', part: 'sound' },
    ]);
  });

  test('one thing before another has a delay under 0, and stays the same pair on later revisions', () => {
    const [later, earlier] = [
      { name: 'passing', label: 7 },
      { name: 'contact', label: 1 },
    ];
    const like: MeasuredDelay = {
      of: 'events',
      first: later.name,
      firstPart: 'leg.L',
      second: earlier.name,
      secondPart: 'leg.L',
      frames: -6,
    };
    const own = delay(walk, place(1, 7), like)!;
    expect(own.frames).toBeLessThan(0);
    expect([own.first, own.second]).toEqual(['passing', 'contact']);
    expect(DELAY_MARK.say(own, { frames: -8 }, place(1, 7))).toEqual({
      now: `the contact of the left foot at ${own.secondAt} comes ${-own.frames} frames before the passing of the left foot at ${own.firstAt}`,
      wanted: '8 frames before',
    });
  });

  test('along an arm each joint comes as much later as it was made to', () => {
    const chain = delay(walk, place(5, 5, nameOf(walk, 'foreArm.L')))!;
    expect(chain.of).toBe('chain');
    const stiff = walkShot({ noDelay: 1 });
    const asked: PayloadOf<'delay'> = {
      kind: 'delay',
      core: '',
      measured: chain,
      wanted: { frames: Math.round(2 * chain.frames) / 2 },
    };
    const at = place(5, 5, nameOf(walk, 'foreArm.L'));
    expect(met({ ...at, payload: asked }, walk)!.met).toBe(true);
    const held = met({ ...at, payload: asked }, stiff);
    expect(held === undefined || !held.met).toBe(true);
  });

  test('between two joints is what one moves behind the other', () => {
    const [first, second] = [nameOf(walk, 'upperArm.L'), nameOf(walk, 'foreArm.L')];
    const own = delay(walk, place(1, 9), { of: 'joints', first, second, frames: 0 })!;
    const other = delay(walk, place(1, 9), { of: 'joints', first: second, second: first, frames: 0 })!;
    expect(own.frames).toBeCloseTo(-other.frames, 1);
    expect(own.frames).toBeGreaterThan(0);
    expect(delay(walk, place(1, 9), { of: 'joints', first, second: first, frames: 0 })).toBeNull();
    expect(delay(walk, place(1, 9), { of: 'chain', first, second: nameOf(walk, 'foot.L'), frames: 0 })).toBeNull();
  });

  test('of events is met within a frame where it is long, and exactly where it is short', () => {
    const away = (frames: number, wanted: number): number =>
      DELAY_MARK.distance({ of: 'events', first: 'look', second: 'stop', frames }, { frames: wanted })!.distance;
    expect(away(7, 6)).toBeLessThanOrEqual(0);
    expect(away(8, 6)).toBeGreaterThan(0);
    expect(away(3, 2)).toBeGreaterThan(0);
    expect(away(2, 2)).toBeLessThan(0);
    const chain = DELAY_MARK.distance({ of: 'chain', first: 'a', second: 'b', frames: 0 }, { frames: 1 })!;
    expect(chain).toMatchObject({ distance: 0.7, side: -1 });
  });

  test('events are called as people call them', () => {
    expect(eventName({ name: 'contact', part: 'leg.L' })).toBe('the contact of the left foot');
    expect(eventName({ name: 'stop', part: 'head' })).toBe('the stop of the head');
    expect(eventName({ name: 'start' })).toBe('the start of the body');
    expect(eventName({ name: 'farthest', part: 'arm.R' })).toBe('the turning point of the right arm');
    expect(eventName({ name: 'look', part: 'head' })).toBe('the look');
    expect(eventName({ name: 'take-off' })).toBe('the take-off');
  });
});
