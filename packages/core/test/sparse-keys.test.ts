import { defaultGauges } from '../src/gauge/gauges.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { cureBy, judged } from '../src/remedy/cure.ts';
import { sayByHand, sayReading } from '../src/measure/sentence.ts';
import { quoteOf, sayQuote } from '../src/mark/quote.ts';
import { measureSparseKeys } from '../src/measure/keys/sparse-keys.ts';
import { measureShot } from '../src/measure/registry.ts';
import type { Reading } from '../src/measure/reading.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { PreparedShot } from '../src/motion/prepared-shot.ts';
import { axisAngle } from '../src/motion/quaternion.ts';
import { glbOf, type RigChannel, type RigNode } from './gltf-rigs.ts';

const limb = (name: string, side: string, at: [number, number, number], below: readonly RigNode[] = []): RigNode => ({
  name: `${name}.${side}`,
  at,
  children: below,
});
const arm = (side: string, x: number): RigNode =>
  limb('upperArm', side, [x, 0.4, 0], [limb('foreArm', side, [x, 0, 0], [limb('hand', side, [x, 0, 0])])]);
const leg = (side: string, x: number): RigNode =>
  limb(
    'thigh',
    side,
    [x, 0, 0],
    [limb('shin', side, [0, -0.45, 0], [limb('foot', side, [0, -0.45, 0], [limb('toe', side, [0, 0, 0.15])])])],
  );
const KEEPER: RigNode = {
  ...{ name: 'hips', at: [0, 0.95, 0] },
  children: [
    { name: 'spine', at: [0, 0.2, 0], children: [arm('L', 0.25), arm('R', -0.25), { name: 'head', at: [0, 0.5, 0] }] },
    leg('L', 0.1),
    leg('R', -0.1),
  ],
};
const JOINTS = [
  'hips',
  'spine',
  'head',
  'upperArm.L',
  'foreArm.L',
  'hand.L',
  'upperArm.R',
  'foreArm.R',
  'hand.R',
  'thigh.L',
  'thigh.R',
];
const POSES = [0, 12, 24, 36];

type Keyed = Readonly<Record<string, { frames?: readonly number[]; how?: RigChannel['how']; held?: boolean }>>;

/** A figure whose joints are keyed at the poses, some of them otherwise: a turn that goes there and back. */
async function keyed(own: Keyed = {}, poses: readonly number[] = POSES): Promise<PreparedShot> {
  const channels = JOINTS.map((node): RigChannel => {
    const { frames = poses, how = 'LINEAR', held = false } = own[node] ?? {};
    const turns = frames.map((_, k) => axisAngle([0, 0, 1], held || k % 2 === 0 ? 0 : 25));
    const flat = [0, 0, 0, 0];
    return {
      ...{ node, path: 'rotation', how, times: frames.map((frame) => frame / 24) },
      values: how === 'CUBICSPLINE' ? turns.flatMap((turn) => [flat, turn, flat]) : turns,
    };
  });
  const { motion } = await readMotion(await glbOf({ roots: [KEEPER], animations: { take: channels } }), {
    usualFps: 24,
  });
  return prepareShot(motion, { kind: 'take', fps: 24 });
}
const told = async (own?: Keyed, poses?: readonly number[]): Promise<(id: string) => Reading> => {
  const { readings } = measureSparseKeys(await keyed(own, poses));
  return (id) => readings.find((reading) => reading.id === id)!;
};

test('where everything is keyed at every pose nothing is said', async () => {
  const of = await told();
  expect(of('keys.partial')).toMatchObject({ value: 'no part', detail: { at: [] } });
  expect(of('keys.lone').value).toBe('no part');
  expect(of('keys.flat').value).toBe(0);
  expect(of('keys.between').value).toBe(0);
  expect(['keys.partial', 'keys.lone', 'keys.flat', 'keys.between'].map((id) => of(id).frames)).toEqual([
    undefined,
    undefined,
    undefined,
    undefined,
  ]);
});

test('what is left out of a pose is named, with the frame; the whole arm as an arm', async () => {
  const without = { frames: [0, 24, 36] };
  const hand = (await told({ 'hand.L': without }))('keys.partial');
  expect(hand).toMatchObject({
    value: 'the left hand',
    frames: [13],
    detail: { at: [{ frame: 13, without: ['hand.L'] }] },
  });
  expect(sayReading(hand)).toBe('the left hand has no key at frame 13, where most have one');
  const arm = (await told({ 'upperArm.L': without, 'foreArm.L': without, 'hand.L': without, head: without }))(
    'keys.partial',
  );
  expect(arm.value).toBe('the head and the left arm');
  expect(sayReading(arm)).toContain('have no key at frame 13');
});

test('a part that is keyed a little later is offset, not left out; what most do not key is no pose', async () => {
  expect((await told({ head: { frames: [0, 14, 24, 36] } }))('keys.partial').value).toBe('no part');
  expect((await told({ head: { frames: [0, 15, 24, 36] } }))('keys.partial').frames).toEqual([13]);
  const few = { frames: [0, 6, 12, 24, 36] };
  expect((await told({ head: few, spine: few }))('keys.partial').value).toBe('no part');
});

test('a key of its own, off the poses', async () => {
  const lone = (await told({ 'hand.R': { frames: [0, 6, 12, 24, 36] } }))('keys.lone');
  expect(lone).toMatchObject({ value: 'the right hand', frames: [7], detail: { at: [{ frame: 7, of: 'hand.R' }] } });
  expect(sayReading(lone)).toBe('the right hand has a key that nothing else has at frame 7');
  // Offset by two frames from a pose it belongs to that pose.
  expect((await told({ 'hand.R': { frames: [0, 14, 24, 36] } }))('keys.lone').value).toBe('no part');
});

test('poses at which all curves lie flat, not counting where the shot begins and ends', async () => {
  const flat = Object.fromEntries(JOINTS.map((name) => [name, { how: 'CUBICSPLINE' as const }]));
  const all = (await told(flat))('keys.flat');
  expect(all).toMatchObject({
    value: 2,
    frames: [13, 25],
    detail: {
      at: [
        { frame: 13, share: 100 },
        { frame: 25, share: 100 },
      ],
    },
  });
  expect(sayReading(all)).toBe('100 % of the curves lie flat at once at frames 13 and 25: everything stops there');
  // Nine of eleven are over three quarters, eight are not.
  const some = (count: number): Keyed =>
    Object.fromEntries(JOINTS.slice(0, count).map((name) => [name, { how: 'CUBICSPLINE' as const }]));
  expect((await told(some(9)))('keys.flat').value).toBe(2);
  expect((await told(some(8)))('keys.flat').value).toBe(0);
});

test('keys between frames, with where they are', async () => {
  const between = (await told({ head: { frames: [0, 12.4, 24, 36] } }))('keys.between');
  expect(between).toMatchObject({ value: 1, frames: [13] });
  expect(between.detail).toEqual({ at: [expect.closeTo(13.4, 3)] });
});

test('what no remedy makes is told as it is done by hand: which part, at which frame', async () => {
  const byHand = async (own: Keyed, id: string): Promise<string | undefined> => sayByHand((await told(own))(id));
  expect(await byHand({ 'hand.L': { frames: [0, 24, 36] } }, 'keys.partial')).toBe(
    'Set a key for the left hand at frame 13: nothing moves by that, and from then on it can be posed there.',
  );
  expect(await byHand({ 'hand.R': { frames: [0, 6, 12, 24, 36] } }, 'keys.lone')).toBe(
    'Delete the key at frame 7, or key the rest there as well if it is a breakdown that is meant.',
  );
  expect(await byHand({ head: { frames: [0, 12.4, 24, 36] } }, 'keys.between')).toBe(
    'Move 1 key to whole frames: 13.4.',
  );
  expect(await byHand({}, 'keys.count')).toBeUndefined();
});

test('a cure takes nothing away of what was found of the keys: its motion has none', async () => {
  const shot = await keyed({ 'hand.L': { frames: [0, 24, 36] } });
  const patient = { shot, options: { kind: 'take' }, gauges: defaultGauges('take', 24), stage: 'blocking' } as const;
  expect(judged(patient).findings.map(({ reading }) => reading.id)).toContain('keys.partial');
  const { treated, gone } = cureBy(patient, [{ remedy: 'delay', parameters: { parts: 'arm.L', frames: 2 } }]);
  expect(treated.shot.played.motion.keys).toBeUndefined();
  expect(gone.filter(({ reading }) => reading.id.startsWith('keys.'))).toEqual([]);
});

test('keys a second, of each part: different times, whoever of the part has them', async () => {
  const shot = await keyed({ 'hand.L': { frames: [0, 6, 12, 24, 36] }, 'foreArm.L': { frames: [0, 6, 12, 30, 36] } });
  const counts = measureSparseKeys(shot).readings.filter(({ id }) => id === 'keys.count');
  const of = (part: string): Reading => counts.find((reading) => reading.part === part)!;
  // 36 frames at 24 a second are a second and a half.
  expect(of('arm.R')).toMatchObject({ value: 2.6667, detail: { keys: 4 } });
  expect(of('arm.L')).toMatchObject({ value: 4, detail: { keys: 6 } });
});

test('a file that was written frame by frame has no keys to speak of, and one without keys is not asked', async () => {
  const baked = Array.from({ length: 37 }, (_, f) => f);
  const { readings, unmade } = measureSparseKeys(await keyed({}, baked));
  expect(readings).toEqual([]);
  expect(unmade.every(({ notAsked, why }) => notAsked === true && /exported frame by frame/.test(why))).toBe(true);
});

test('what is wrong with the keys is found, from blocking on, and nothing of a format without keys', async () => {
  const shot = await keyed({ 'hand.L': { frames: [0, 24, 36] } });
  const found = judgeShot(defaultGauges('take'), measureShot(shot), 'blocking').findings.filter(({ reading }) =>
    reading.id.startsWith('keys.'),
  );
  expect(sayQuote(quoteOf(found[0]!))).toEqual({ now: 'parts without a key: the left hand', wanted: '' });
  expect(found.map(({ say }) => say)).toEqual(['The left hand has no key at frame 13, where most have one']);
});

describe('a blocking is told from its step keys', () => {
  const poses = [0, 6, 12, 18, 24, 30, 36];
  const stepped = (own: Keyed = {}): Promise<PreparedShot> =>
    keyed({ ...Object.fromEntries(JOINTS.map((name) => [name, { how: 'STEP' }])), ...own }, poses);

  test('also where its root goes on evenly beneath the poses', async () => {
    const { exposures } = await stepped({ hips: { how: 'LINEAR' } });
    expect([exposures.pattern, exposures.blocking, exposures.lengths]).toEqual([
      'stepped',
      true,
      [6, 6, 6, 6, 6, 6, 1],
    ]);
  });

  test('not where most joints go on from key to key, nor where what steps never turns', async () => {
    const half = Object.fromEntries(JOINTS.slice(4).map((name) => [name, { how: 'LINEAR' as const }]));
    expect((await stepped(half)).exposures.blocking).toBe(false);
    const arms = { 'upperArm.L': { how: 'LINEAR' }, 'upperArm.R': { how: 'LINEAR' } } as const;
    const still = Object.fromEntries(JOINTS.map((name) => [name, { how: 'STEP' as const, held: true }]));
    expect((await keyed({ ...still, ...arms }, poses)).exposures.blocking).toBe(false);
  });
});
