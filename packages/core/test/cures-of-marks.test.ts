// A mark is cured by what it wants: made on the shot, the mark is as wanted. And the other way round: what a cure changed is told as it would be keyed.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { faultLike } from '../src/exemplar/fault-like.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { asking, measureMark, met, type Payload, type PayloadOf, takeFinding } from '../src/mark/mark.ts';
import type { MarkPlace } from '../src/mark/mark-tool.ts';
import { tempoMark } from '../src/mark/tempo.ts';
import { measureReading } from '../src/measure/registry.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { withPulled } from '../src/posing/pulled-pose.ts';
import { LoosePose } from '../src/posing/loose-pose.ts';
import { NOTHING_WANTED } from '../src/posing/wanted-pose.ts';
import type { KeyChannel } from '../src/motion/keys.ts';
import { add, scale } from '../src/motion/vector.ts';
import { cureAll, cureFor, judged, type Patient } from '../src/remedy/cure.ts';
import { howNear, type Nearness, sayNearness } from '../src/remedy/how-near.ts';
import { recipeForMark } from '../src/remedy/from-mark.ts';
import { keyedChanges } from '../src/remedy/keyed-changes.ts';
import { makeRecipe } from '../src/remedy/recipe.ts';
import type { Recipe } from '../src/remedy/remedy.ts';
import { labelNow, solve, targetOf } from '../src/remedy/solve.ts';
import { patientOf } from './patients.ts';

const walk = patientOf(walkExemplar(), 'walk');
const turn = patientOf(EXEMPLARS.turn!.make({}, {}), 'turn');
const lean = patientOf(EXEMPLARS.lean!.make({}, {}), 'overlap');
const place = (from: number, to = from, point: string | null = null, part: string | null = null): MarkPlace => ({
  from,
  to,
  point,
  part,
});

/** Cures a mark on its shot and holds what came of it against the mark. */
function cured(patient: Patient, at: MarkPlace, payload: Payload) {
  const recipe = recipeForMark(patient, { ...at, kind: payload.kind, payload } as never);
  if (!recipe) return undefined;
  const { shot } = makeRecipe(patient.shot, patient.options, recipe);
  return { recipe, shot, met: met({ ...at, kind: payload.kind, payload } as never, shot) };
}

const measured = <K extends Payload['kind']>(kind: K, { shot }: Patient, at: MarkPlace): PayloadOf<K> =>
  measureMark(kind, shot, at) as PayloadOf<K>;

describe('what a mark wants is made', () => {
  test.each<[string, Patient, MarkPlace, (patient: Patient, at: MarkPlace) => Payload]>([
    ['an amount at a frame', walk, place(6), (p, at) => asking(measured('amount', p, at), { value: 14 })],
    [
      'an amount over some frames, a third smaller',
      walk,
      place(1, 24, 'upperArm.L'),
      (p, at) => {
        const payload = measured('amount', p, at);
        return asking(payload, { value: (2 / 3) * payload.measured!.value });
      },
    ],
    [
      'a breakdown that favours its first pose',
      turn,
      place(9, 18, 'head'),
      (p, at) => {
        const payload = measureMark('breakdown', p.shot, { ...at, inner: 13 }) as PayloadOf<'breakdown'>;
        return asking(payload, { favour: payload.measured!.favour - 30 });
      },
    ],
    [
      'a spacing that eases in',
      turn,
      place(9, 18, 'head'),
      (p, at) => {
        const payload = measured('spacing', p, at);
        const steps = payload.measured!.fractions.length - 1;
        return asking(payload, { fractions: payload.measured!.fractions.map((_, k) => (k / steps) * (2 - k / steps)) });
      },
    ],
    [
      'a hold that is longer and lives',
      turn,
      place(20, 20, 'head'),
      (p, at) => {
        const payload = measured('moving hold', p, at);
        const { from, to } = payload.measured!;
        return asking(payload, { from, to: to + 4, drift: 4 });
      },
    ],
    [
      'an overshoot of a fifth',
      lean,
      place(15, 27, 'chest'),
      (p, at) => {
        const payload = measured('overshoot', p, at);
        return asking(payload, { ...payload.wanted!, depth: payload.measured!.depth + 12 });
      },
    ],
    [
      'a move in fewer frames',
      turn,
      place(9, 18, 'head'),
      (p, at) => {
        const payload = measured('timing', p, at);
        const { from, to } = payload.measured!;
        return asking(payload, { from, to: to - 2 });
      },
    ],
    [
      'a hand that comes two frames later',
      walk,
      place(1, 24),
      (p, at) => {
        const of = { of: 'joints', first: 'upperArm.L', second: 'hand.L', frames: 0 } as const;
        const first = { kind: 'delay', core: '', measured: of, wanted: null } as const;
        const payload = measureMark('delay', p.shot, at, first) as PayloadOf<'delay'>;
        return asking(payload, { frames: payload.measured!.frames + 2 });
      },
    ],
  ])('%s', (_, patient, at, ask) => {
    const payload = ask(patient, at);
    const before = met({ ...at, kind: payload.kind, payload } as never, patient.shot);
    expect(before?.met).toBe(false);
    const after = cured(patient, at, payload);
    expect(after?.recipe.length).toBeGreaterThan(0);
    // It is as wanted, or at least three times nearer: a hold that lives is told a frame shorter, a spacing is told along its path.
    expect(after!.met!.met || after!.met!.distance < before!.distance / 3).toBe(true);
  });

  test('a pose that was pulled stands at its frame, and nothing is changed far from it', () => {
    const { shot } = walk;
    const hand = shot.roles['hand.L']!;
    const target = add(LoosePose.at(shot.motion, 8).place(hand), scale(shot.axes.up, 0.1 * shot.scale.legLength));
    const payload = asking(
      measured('pose', walk, place(9, 9, 'hand.L')),
      withPulled(shot, 8, NOTHING_WANTED, hand, target)!,
    );
    const after = cured(walk, place(9, 9, 'hand.L'), payload)!;
    expect(after.recipe.map(({ remedy }) => remedy)).toEqual(['pose']);
    expect(after.met?.met).toBe(true);
    const n = shot.motion.joints.length;
    expect(after.shot.motion.rotations.subarray(0, 4 * n)).toEqual(shot.motion.rotations.subarray(0, 4 * n));
  });

  test('another tempo is the whole shot retimed; words alone want nothing that can be made', () => {
    const after = cured(walk, place(1, 25), tempoMark(24, 20))!;
    expect(after.met?.met).toBe(true);
    expect(after.shot.motion.frames).toBe(21);
    const note = measureMark('note', walk.shot, place(4));
    expect(recipeForMark(walk, { ...place(4), kind: 'note', payload: note } as never)).toBeUndefined();
  });

  test('a mark that quotes a finding is cured as the finding is', () => {
    const patient = patientOf(walkExemplar({}, { bigArms: 1.2 }), 'walk');
    const [finding] = judged(patient).findings;
    const payload = takeFinding(finding!);
    const after = cured(patient, place(1, 25, null, 'arm.L'), payload)!;
    expect(after.met?.met).toBe(true);
  });
});

describe('what a cure changed is told as it would be keyed', () => {
  const keyed = (patient: Patient, recipe: Recipe) =>
    keyedChanges(patient.shot, makeRecipe(patient.shot, patient.options, recipe));

  test('degrees by joint at the frames where the change is largest', () => {
    const [head, ...rest] = keyed(walk, [
      { remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by: -20, at: 9, falloff: 4 } },
    ]);
    expect(rest).toEqual([]);
    expect(head).toMatchObject({ joint: 'head', unit: '°', keys: [{ label: 9 }] });
    expect(Math.abs(head!.keys[0]!.by)).toBeCloseTo(20, 0);
    const [all] = keyed(walk, [{ remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by: -20 } }]);
    expect(all!.keys).toHaveLength(1);
  });

  test('on the keys that the file has, and on a new one where those can’t make it', () => {
    const nod: Recipe = [
      { remedy: 'amount', parameters: { quantity: 'pitch', of: 'head', by: -20, at: 9, falloff: 4 } },
    ];
    const on = (samples: readonly number[], isKeyed = (_: string) => true) => {
      const motion = walkExemplar();
      const joints = motion.joints.flatMap(({ name }, joint) => (isKeyed(name) ? [joint] : []));
      const keys = joints.map((joint): KeyChannel => ({
        ...{ joint, of: 'rotation', way: 'cubic' },
        ...{ at: Float64Array.from(samples), flat: new Uint8Array(samples.length) },
      }));
      return keyed(patientOf({ ...motion, keys }, 'walk'), nod)[0]!.keys;
    };
    // Frames are counted from 1: the change is largest on the third key, and has gone on its neighbours.
    const own = on([0, 4, 8, 12, 20]);
    expect(own.map(({ label, isNew }) => [label, isNew])).toEqual([5, 9, 13].map((label) => [label, false]));
    expect(own[1]!.by).toBeCloseTo(-20, 0);
    const more = on([0, 6, 10, 20]);
    expect(more.find(({ label }) => label === 9)).toMatchObject({ by: expect.closeTo(-20, 0), isNew: true });
    expect(more.filter(({ label }) => label === 7 || label === 11).map(({ isNew }) => isNew)).toEqual([false, false]);
    expect(on([0, 8, 20], (name) => name !== 'head')).toEqual([{ label: 9, by: expect.closeTo(-20, 0), isNew: true }]);
    expect(keyed(walk, nod)[0]!.keys.map(({ isNew }) => isNew)).toEqual([undefined]);
  });

  test('a body that is lowered is told along its own up; what is only retimed changes no joint', () => {
    const changes = keyed(walk, [{ remedy: 'amount', parameters: { quantity: 'height', of: 'hips', by: -3 } }]);
    const up = changes.find(({ along }) => along === 'up')!;
    expect(up.unit).toBe('%L');
    expect(up.keys.every(({ by }) => Math.abs(by + 3) < 0.1)).toBe(true);
    expect(changes.some(({ joint }) => joint === 'shin.L')).toBe(true);
    expect(keyed(turn, [{ remedy: 'hold', parameters: { at: 12, frames: 4 } }])).toEqual([]);
    expect(keyed(walk, [])).toEqual([]);
  });
});

describe('solving', () => {
  const far = patientOf(walkExemplar({}, { leansFar: 30 }), 'walk');
  const [finding] = judged(far).findings;

  test('lands a quarter of the band inside the nearest end, to what is read of it', () => {
    const [low, high] = finding!.gauge.band!;
    expect(targetOf(finding!)).toBeCloseTo(high - (high - low) / 4, 9);
    const cure = cureFor(far, finding!)!;
    const lean = measureReading(cure.treated.shot, 'posture.lean')[0]!.value as number;
    expect(Math.abs(lean - targetOf(finding!)!)).toBeLessThan(0.01);
    expect(cure.isGone).toBe(true);
    expect(cure.gone.map(({ reading }) => reading.id)).toContain('posture.lean');
  });

  test('comes as near as it gets where no value gets there, and gives nothing for what can’t be made', () => {
    const weak = {
      steps: [{ remedy: 'amount', parameters: { quantity: 'lean', of: 'trunk', by: 'sought' } }],
      seek: { from: 0, to: -5 },
    };
    const solved = solve(far.shot, far.options, finding!, weak)!;
    expect(solved.recipe[0]!.parameters['by']).toBe(-5);
    const none = {
      steps: [{ remedy: 'amount', parameters: { quantity: 'lean', of: 'tail', by: 'sought' } }],
      seek: { from: 0, to: -5 },
    };
    expect(solve(far.shot, far.options, finding!, none)).toBeUndefined();
  });

  test('a cure of all goes from the heaviest on, never breaks anything, and says what it could not do', () => {
    const several = patientOf(walkExemplar({}, { headHangs: 35, pop: 18, tilts: 12 }), 'walk');
    const all = cureAll(several);
    expect(all.left.concat(all.fresh).filter(({ judgement }) => judgement === 'outside')).toEqual([]);
    expect(all.gone.length).toBeGreaterThanOrEqual(3);
    const clean = cureAll(walk);
    expect([clean.recipe, clean.gone, clean.fresh]).toEqual([[], [], []]);
    expect(clean.touched).toBeUndefined();
  });

  test('labels go along with their frames', () => {
    const { shot, map } = makeRecipe(turn.shot, turn.options, [{ remedy: 'hold', parameters: { at: 12, frames: 4 } }]);
    expect([10, 12, 13, 20].map((label) => labelNow(turn.shot, shot, map, label))).toEqual([10, 12, 17, 24]);
    expect(labelNow(turn.shot, turn.shot, undefined, 7)).toBe(7);
  });
});

describe('a class sees a fault and nobody’s shot', () => {
  test('the exemplar of the kind shows as much of it as there is', () => {
    for (const [fault, size] of [
      ['slide', 4],
      ['headHangs', 24],
    ] as const) {
      const patient = patientOf(walkExemplar({}, { [fault]: size }), 'walk');
      const [finding] = judged(patient).findings;
      const like = faultLike('walk', finding!)!;
      expect([like.exemplar, like.fault]).toEqual(['walk', fault]);
      expect(Math.abs(like.size / size - 1)).toBeLessThan(0.1);
    }
    const [pop] = judged(patientOf(walkExemplar({}, { pop: 18 }), 'walk')).findings;
    expect(faultLike('walk', pop!)?.fault).toBe('pop');
    expect(faultLike('idle', { ...pop!, reading: { ...pop!.reading, id: 'gait.slide' } })).toBeUndefined();
  });
});

describe('a later revision is held against what was shown', () => {
  const far = patientOf(walkExemplar({}, { headHangs: 35 }), 'walk');
  const cure = cureFor(far, judged(far).findings[0]!)!;
  const revised = (size: number, options = {}) =>
    prepareShot(walkExemplar(options, { headHangs: size }), { kind: 'walk' });

  test.each([
    ['the same again', 35, 'as before'],
    ['worse', 60, 'farther away'],
    ['about half of it', 20, /^[4-7]\d % of the way$/],
  ])('%s', (_, size, words) => {
    const [head, ...rest] = howNear(far.shot, cure.treated, revised(size)) as Nearness[];
    expect(rest).toEqual([]);
    expect(head!.part).toBe('head');
    expect(sayNearness(head!)).toMatch(words);
  });

  test('what was taken over is as it was shown, retimed as well; of another rig nothing is said', () => {
    const [head] = howNear(far.shot, cure.treated, cure.treated.shot) as Nearness[];
    expect(head!.now).toBeLessThan(1e-6);
    expect(sayNearness(head!)).toBe('as it was shown');
    const slow = makeRecipe(cure.treated.shot, far.options, [{ remedy: 'retime', parameters: { frames: 30 } }]).shot;
    expect(sayNearness((howNear(far.shot, cure.treated, slow) as Nearness[])[0]!)).toBe('as it was shown');
    const retimed = makeRecipe(walk.shot, walk.options, [{ remedy: 'retime', parameters: { frames: 30 } }]);
    const [timing, ...rest] = howNear(walk.shot, retimed, walk.shot) as Nearness[];
    expect(rest).toEqual([]);
    expect([timing!.part, timing!.before, timing!.now]).toEqual(['timing', 6, 6]);
    const ball = { ...walkExemplar(), joints: [{ name: 'ball', parent: -1, offset: [0, 0, 0] as const, ends: [] }] };
    const lone = { ...ball, rotations: new Float64Array(4 * ball.frames).map((_, k) => (k % 4 === 3 ? 1 : 0)) };
    expect(typeof howNear(far.shot, cure.treated, prepareShot({ ...lone, moving: [0] }, {}))).toBe('string');
  });
});
