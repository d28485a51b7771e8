// Many programs and recorders put the rest pose in front of a motion (common practice): a frame or some that nobody animated. What is measured is the motion
// behind it, at the labels it has.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { exposeOn } from '../src/exemplar/expose.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { keyPoses } from '../src/measure/keys/key-poses.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Kind } from '../src/motion/kinds.ts';
import type { Motion } from '../src/motion/motion.ts';
import { asPlayed, labelOf, sampleAt, withoutRestInFront } from '../src/motion/prepared-shot.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { restPosesInFront } from '../src/motion/rest-in-front.ts';
import { makeRecipe } from '../src/remedy/recipe.ts';
import { doubled, withFrames } from './material.ts';
import { keeperWalk } from './other-figure.ts';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { recording } from './fixtures.ts';

/** The motion with so many frames of the rest pose before it. */
function behindRest(motion: Motion, count = 1): Motion {
  const own = withFrames(motion, [
    ...Array<number>(count).fill(0),
    ...Array.from({ length: motion.frames }, (_, f) => f),
  ]);
  const rotations = own.rotations.slice();
  for (let k = 0; k < count * motion.joints.length; k++) rotations.set([0, 0, 0, 1], 4 * k);
  return { ...own, rotations };
}

const told = (motion: Motion, kind: Kind, firstFrame = 1) => {
  const shot = prepareShot(motion, { kind, firstFrame });
  const measured = measureShot(shot);
  const gauges = defaultGauges(kind, shot.played.motion.fps);
  return { shot, measured, findings: judgeShot(gauges, measured, 'polish').findings };
};

describe('a rest pose in front', () => {
  test.each([1, 3, 12])('of %d frames is seen, and said', (count) => {
    const motion = behindRest(walkExemplar(), count);
    expect(restPosesInFront(motion)).toBe(count);
    const { warnings } = prepareShot(motion, { kind: 'walk', firstFrame: 0 });
    expect(warnings).toEqual([
      count === 1
        ? 'frame 0 shows the rest pose: it is left out'
        : `frames 0 to ${count - 1} show the rest pose: they are left out`,
    ]);
  });

  test.each(Object.entries(EXEMPLARS))(
    '%s: everything is as without it, at the labels it has in the file',
    (_, own) => {
      const plain = told(own.make({}, {}), own.kind, 2);
      const { shot, measured, findings } = told(behindRest(own.make({}, {})), own.kind);
      expect(measured.readings).toEqual(plain.measured.readings);
      expect(measured.unmade).toEqual(plain.measured.unmade);
      expect(findings).toEqual(plain.findings);
      expect(keyPoses(shot)).toEqual(keyPoses(plain.shot));
      expect(shot.loop).toBe(plain.shot.loop);
    },
  );

  test('of another figure, faults are named as they are without it', () => {
    const faulty = keeperWalk({ stride: 1.2, lift: 0 });
    const ids = (motion: Motion): string[] =>
      told(motion, 'walk').findings.map(({ reading }) => `${reading.id} ${reading.part ?? ''}`);
    expect(ids(behindRest(faulty, 2))).toEqual(ids(faulty));
  });

  test.each([2, 3])('on %ds as well', (on) => {
    for (const { make, kind } of Object.values(EXEMPLARS)) {
      const held = exposeOn(make({}, {}), on);
      expect(told(behindRest(held), kind).measured.readings).toEqual(told(held, kind, 2).measured.readings);
    }
  });

  test('labels and samples belong together; before the motion there is its first sample', () => {
    const shot = prepareShot(behindRest(walkExemplar(), 3), { kind: 'walk', firstFrame: 101 });
    expect([labelOf(shot, 0), labelOf(shot, 5)]).toEqual([104, 109]);
    expect([101, 104, 109].map((label) => sampleAt(shot, label))).toEqual([0, 0, 5]);
  });

  test('what is looked at is the motion alone, a loop of its own length, at its labels', () => {
    const shot = prepareShot(behindRest(walkExemplar(), 2), { kind: 'walk' });
    const seen = withoutRestInFront(asPlayed(shot));
    expect([seen.firstFrame, seen.motion.frames, seen.period, seen.loop]).toEqual([3, 25, 24, 'repeat']);
    expect(seen.motion.rotations).toEqual(walkExemplar().rotations);
    expect([labelOf(seen, 0), sampleAt(seen, 3), sampleAt(seen, 27)]).toEqual([3, 0, 24]);
    const plain = asPlayed(prepareShot(walkExemplar(), { kind: 'walk' }));
    expect(withoutRestInFront(plain)).toBe(plain);
  });

  test('a recording begins so, and is told without it', () => {
    const { motion } = readBvh(recording('01_03.bvh'));
    expect(restPosesInFront(motion)).toBe(1);
    expect(restPosesInFront(readBvh(recording('Boxing_Toes.bvh')).motion)).toBe(0);
  });
});

describe('what is none', () => {
  test('a motion that begins anywhere else, or goes on smoothly from the rest pose', () => {
    for (const { make } of Object.values(EXEMPLARS)) expect(restPosesInFront(make({}, {}))).toBe(0);
    const walk = walkExemplar();
    // Into the walk from the rest pose over eight frames: somebody animated that.
    const eased = behindRest(walk, 8);
    const rotations = eased.rotations.slice();
    const n = walk.joints.length;
    for (let f = 1; f < 8; f++)
      for (let j = 0; j < n; j++) {
        const [x, y, z, w] = walk.rotations.subarray(4 * j, 4 * j + 4) as unknown as [number, number, number, number];
        const own = [x, y, z].map((c) => (c * f) / 8);
        rotations.set(
          [...own, Math.sign(w) * Math.sqrt(Math.max(0, 1 - own.reduce((s, c) => s + c * c, 0)))],
          4 * (f * n + j),
        );
      }
    expect(restPosesInFront({ ...eased, rotations })).toBe(0);
  });

  test('in blocking the first pose may be meant, near the rest pose as it is', () => {
    const { make } = EXEMPLARS.jump!;
    const blocking = doubled(withFrames(make({}, {}), [0, 14, 20, 26, 32, 44]), 8);
    expect(restPosesInFront(blocking)).toBe(0);
    expect(restPosesInFront(behindRest(blocking, 8))).toBe(0);
    const { shot } = told(blocking, 'jump');
    expect([shot.exposures.blocking, shot.exposures.front]).toEqual([true, 0]);
  });

  test('a shot that is over before it began', () => {
    expect(restPosesInFront(behindRest(withFrames(walkExemplar(), [3, 4, 5])))).toBe(0);
    expect(restPosesInFront(behindRest(withFrames(walkExemplar(), [3]), 9))).toBe(0);
  });
});

describe('cures of it', () => {
  const motion = behindRest(walkExemplar({}, { headHangs: 30 }));
  const shot = prepareShot(motion, { kind: 'walk' });

  test('dialled with nothing they change nothing, and a change leaves the rest pose as it is', () => {
    const lift = (by: number) =>
      makeRecipe(shot, { kind: 'walk' }, [{ remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by } }])
        .shot;
    expect(lift(0).played.motion.rotations).toEqual(motion.rotations);
    const n = 4 * motion.joints.length;
    expect(lift(-20).played.motion.rotations.subarray(0, n)).toEqual(motion.rotations.subarray(0, n));
    expect(lift(-20).played.motion.rotations.subarray(n)).not.toEqual(motion.rotations.subarray(n));
  });

  test('another length leaves it in front, and every frame its label', () => {
    const { shot: slow, map } = makeRecipe(shot, { kind: 'walk' }, [{ remedy: 'retime', parameters: { frames: 30 } }]);
    expect([slow.firstFrame, slow.played.motion.frames, slow.exposures.front, slow.loop]).toEqual([1, 32, 1, 'repeat']);
    expect([map![0], map![1], map!.at(-1)]).toEqual([0, 1, 25]);
    const n = 4 * motion.joints.length;
    expect(slow.played.motion.rotations.subarray(0, n)).toEqual(motion.rotations.subarray(0, n));
    // On twos a pose stands as long as it stood.
    const onTwos = behindRest(exposeOn(EXEMPLARS.turn!.make({}, {}), 2));
    const held = makeRecipe(prepareShot(onTwos, { kind: 'turn' }), { kind: 'turn' }, [
      { remedy: 'hold', parameters: { at: 20, frames: 4 } },
    ]);
    expect([held.shot.exposures.front, held.shot.played.motion.frames]).toEqual([1, onTwos.frames + 4]);
  });

  test('a loop is closed behind it', () => {
    const doubledEnd = behindRest(withFrames(walkExemplar(), [...Array.from({ length: 25 }, (_, f) => f), 24]));
    const before = prepareShot(doubledEnd, { kind: 'walk' });
    const { shot: closed, map } = makeRecipe(before, { kind: 'walk' }, [
      { remedy: 'close', parameters: { frames: 0 } },
    ]);
    expect([closed.firstFrame, closed.exposures.front, closed.loop, closed.played.motion.frames]).toEqual([
      1,
      1,
      'repeat',
      26,
    ]);
    expect(map).toEqual(Array.from({ length: 26 }, (_, f) => f));
  });

  test('trimmed it is gone', () => {
    const { shot: cut } = makeRecipe(shot, { kind: 'walk' }, [{ remedy: 'trim', parameters: { from: 2, to: 26 } }]);
    expect([cut.exposures.front, cut.played.motion.frames]).toEqual([0, 25]);
  });
});
