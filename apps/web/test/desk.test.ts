import { exposeOn } from '@ypsigraph/core/exemplar/expose';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import { samplesOf } from '@ypsigraph/core/motion/exposures';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { frameScale, rulerLabels } from '../src/charts/frame-scale.ts';
import { stepTrace } from '../src/charts/trace.ts';
import { MotionSource } from '../src/desk/frames/motion-source.ts';
import { figureLimbs, jointSides, taperedCapsule } from '../src/desk/paper/limb-shapes.ts';
import { placeLabels } from '../src/desk/paper/place-labels.ts';

const source = (options = {}, shot = {}): MotionSource =>
  new MotionSource(prepareShot(walkExemplar(options), { kind: 'walk', ...shot }));

describe('a motion behind a rest pose', () => {
  /** A walk with its rest pose in front, on ones or on twos. */
  const behindRest = (motion: ReturnType<typeof walkExemplar>) => {
    const own = samplesOf(motion, [0, 0, ...Array.from({ length: motion.frames }, (_, f) => f)], 1);
    const rotations = own.rotations.slice();
    for (let k = 0; k < 2 * motion.joints.length; k++) rotations.set([0, 0, 0, 1], 4 * k);
    return prepareShot({ ...own, rotations }, { kind: 'walk' });
  };

  test.each([
    ['on ones', walkExemplar()],
    ['on twos', exposeOn(walkExemplar(), 2)],
  ])('%s lies on the axis without it, at its own labels', (_, motion) => {
    const plain = new MotionSource(prepareShot(motion, { kind: 'walk', firstFrame: 3 }));
    const own = new MotionSource(behindRest(motion));
    expect([own.first, own.frames, own.loop, own.folded]).toEqual([3, plain.frames, plain.loop, plain.folded]);
    expect(own.exposed).toEqual(plain.exposed);
    expect(own.keyPoses()).toEqual(plain.keyPoses());
    const hand = own.pointNames.indexOf('hand.L');
    expect(own.speeds(hand)).toEqual(plain.speeds(hand));
    expect(own.faults(hand)).toEqual(plain.faults(hand));
    expect([own.sampleAt(3), own.sampleAt(3 + own.frames - 1)]).toEqual([0, plain.sampleAt(3 + plain.frames - 1)]);
  });
});

describe('labels on a path', () => {
  const label = (key: number, x: number, priority: number) => ({
    text: String(key),
    x,
    y: 0,
    width: 14,
    height: 11,
    priority,
    key,
  });

  test('never touch, and the most important one always stands', () => {
    const labels = Array.from({ length: 40 }, (_, k) => label(k, 5 * k, k === 17 ? 0 : k % 4 === 0 ? 2 : 4));
    const placed = placeLabels(labels);
    expect(placed.map(({ key }) => key)).toContain(17);
    for (const a of placed) for (const b of placed) if (a !== b) expect(Math.abs(a.x - b.x)).toBeGreaterThanOrEqual(14);
  });
});

describe('the strip', () => {
  test('a frame lies in the middle of its cell', () => {
    const x = frameScale(1, 25, 250);
    expect(x(1)).toBeCloseTo(5);
    expect(x(25)).toBeCloseTo(245);
    expect(Math.round(x.invert(104))).toBe(11);
  });

  test.each([
    [24, 900],
    [97, 700],
    [2700, 800],
  ])('the ruler of %i frames on %i pixels can be read', (frames, width) => {
    const labels = rulerLabels(1, frames, width);
    expect(labels[0]).toBe(1);
    expect(labels.length).toBeGreaterThan(4);
    expect((labels[1]! - labels[0]!) * (width / frames)).toBeGreaterThanOrEqual(30);
  });

  test('a trace draws each step between its two frames, and shares a scale when told to', () => {
    const x = frameScale(1, 4, 40);
    const { line, y } = stepTrace(Float64Array.of(0, 2, 4), 1, x, [0, 100], 8);
    expect(line).toBe('M10,100L20,75L30,50');
    expect(y.domain()[1]).toBeGreaterThanOrEqual(8);
  });
});

describe('a motion as frames', () => {
  test('shows the frame of a label, and goes round the loop beyond its ends', () => {
    const repeat = source();
    expect([1, 25, 26, 0, 49].map((label) => repeat.sampleAt(label))).toEqual([0, 24, 1, 23, 0]);
    const follow = source({ loop: 'follow' });
    expect([1, 24, 25].map((label) => follow.sampleAt(label))).toEqual([0, 23, 0]);
    const none = source({}, { loop: 'none', firstFrame: 10 });
    expect([3, 10, 99].map((label) => none.sampleAt(label))).toEqual([0, 0, 24]);
  });

  test('speeds are in percent of the leg, one a step of the cycle', () => {
    const walk = source();
    const speeds = walk.speeds(walk.pointNames.indexOf('hand.L'));
    expect(speeds).toHaveLength(24);
    expect(Math.max(...speeds)).toBeLessThan(15);
  });

  test('a foot is not blamed for meeting the ground', () => {
    const walk = source();
    const { arc } = walk.faults(walk.pointNames.indexOf('foot.L'));
    for (const i of [0, 1, 23]) expect(arc[i]).toBe(0);
  });
});

describe('the figure', () => {
  const { shot } = source();

  test('has limbs on both sides alike, and tells them apart', () => {
    const limbs = figureLimbs(shot);
    const count = (side: string) => limbs.filter((limb) => limb.side === side).length;
    expect(count('left')).toBe(count('right'));
    expect(count('left')).toBeGreaterThanOrEqual(9);
    const sides = jointSides(shot);
    shot.motion.joints.forEach(({ name }, j) =>
      expect(sides[j]).toBe(name.endsWith('.L') ? 'left' : name.endsWith('.R') ? 'right' : 'centre'),
    );
  });

  test('stands on the ground at rest: no limb is thicker than its foot is high', () => {
    for (const limb of figureLimbs(shot)) for (const radius of limb.thick) expect(radius).toBeLessThan(0.2);
  });

  test('a tapered capsule keeps to its two spheres', () => {
    const { position } = taperedCapsule(1, 0.3, 0.1).attributes;
    for (let k = 0; k < position!.count; k++) {
      const [x, y, z] = [position!.getX(k), position!.getY(k), position!.getZ(k)];
      expect(y).toBeGreaterThanOrEqual(-0.3 - 1e-6);
      expect(y).toBeLessThanOrEqual(1.1 + 1e-6);
      expect(Math.hypot(x, z)).toBeLessThanOrEqual(0.3 + 1e-6);
    }
  });
});
