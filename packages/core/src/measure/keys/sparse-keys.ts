import type { KeyChannel } from '../../motion/keys.ts';
import { KINDS } from '../../motion/kinds.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { partName } from '../../say/part-names.ts';
import { atFrames, count, figures, list, percent } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { jointParts } from '../parts.ts';
import { made, type Measured, notAsked, type Reading, refuse, roundTo4 } from '../reading.ts';

export const SPARSE_KEYS_DEFAULTS = Object.freeze({
  /** Where at least this share of what is keyed has a key, there is a pose. */
  pose: 0.5,
  /** At which this share of it lies flat at once, everything stops there. */
  flat: 0.75,
  /** A key so near a frame lies on it, frames. */
  onFrame: 0.1,
  /** A part keyed so near the pose is keyed for it, only offset, frames at 24 fps. */
  offset: 2,
  /** A file that has a key at more than this share of its frames was written frame by frame: what was keyed of it is gone. */
  baked: 0.8,
});

const shared = {
  unit: 'list',
  needs: 'a format that keeps keys',
  kinds: KINDS,
  fromPoses: true,
  ofShot: true,
} as const;

const NOTHING = 'no part';

const PARTIAL = describeReading({
  ...shared,
  id: 'keys.partial',
  holds: holding<string, { at: { frame: number; without: string[] }[] }>(),
  name: 'parts without a key',
  mark: 'breakdown',
  say: ({ value, frames }) =>
    value === NOTHING
      ? 'everything is keyed at every pose'
      : `${value} ${/,| and /.test(value) ? 'have' : 'has'} no key${atFrames(frames)}, where most have one`,
  byHand: ({ value, frames }) =>
    `Set a key for ${value}${atFrames(frames)}: nothing moves by that, and from then on it can be posed there.`,
});
const LONE = describeReading({
  ...shared,
  id: 'keys.lone',
  holds: holding<string, { at: { frame: number; of: string }[] }>(),
  name: 'keys of their own',
  mark: 'breakdown',
  say: ({ value, frames }) =>
    value === NOTHING
      ? 'no part has a key that nothing else has'
      : `${value} ${/,| and /.test(value) ? 'have keys' : 'has a key'} that nothing else has${atFrames(frames)}`,
  byHand: ({ frames }) =>
    `Delete the key${atFrames(frames)}, or key the rest there as well if it is a breakdown that is meant.`,
});
const FLAT = describeReading({
  ...shared,
  id: 'keys.flat',
  holds: holding<number, { at: { frame: number; share: number }[] }>(),
  name: 'everything flat at once',
  unit: 'poses',
  mark: 'spacing',
  say: ({ value, frames, detail: { at } }) =>
    value === 0
      ? 'at no pose does everything lie flat at once'
      : `${percent(Math.max(...at.map(({ share }) => share)))} of the curves lie flat at once${atFrames(frames)}: everything stops there`,
  byHand: ({ frames }) =>
    `Give the curves that go on a slope${atFrames(frames)}, and move the keys of what follows by one to three frames.`,
});
const COUNT = describeReading({
  ...shared,
  id: 'keys.count',
  holds: holding<number, { keys: number }>(),
  name: 'keys a second',
  unit: '1/s',
  ofShot: undefined,
  isSize: true,
  mark: 'note',
  say: ({ value, detail: { keys } }, part) => `${part} has ${count(keys, 'key')}, ${figures(value)} a second`,
});
const BETWEEN = describeReading({
  ...shared,
  id: 'keys.between',
  holds: holding<number, { at: number[] }>(),
  name: 'keys between frames',
  unit: 'keys',
  mark: 'timing',
  say: ({ value, frames }) =>
    value === 0
      ? 'every key lies on a frame'
      : `${count(value, 'key lies', 'keys lie')} between two frames${atFrames(frames)}`,
  byHand: ({ detail: { at } }) =>
    `Move ${count(at.length, 'key', 'keys')} to whole frames: ${list(at.map((label) => figures(label)))}.`,
});

export const SPARSE_KEYS = [PARTIAL, LONE, FLAT, COUNT, BETWEEN] as const;

/** Whether a reading is of the file's keys, and of nothing that moves. */
export const isOfKeys = ({ id }: Pick<Reading, 'id'>): boolean => SPARSE_KEYS.some((kind) => kind.id === id);

/** Whether a shot has keys that tell poses from inbetweens. */
export const hasKeys = ({ played }: PreparedShot): boolean =>
  played.motion.keys !== undefined && !isBaked(played.motion.keys, played.motion.frames);

/** Keys at nearly every frame of the shot are no keys that somebody set. */
function isBaked(keys: readonly KeyChannel[], frames: number): boolean {
  const most = Math.max(0, ...keys.map(({ at }) => at.length));
  return frames > 4 && most > SPARSE_KEYS_DEFAULTS.baked * frames;
}

/** What was keyed of a shot, by joint: samples at which each has a key, and whether it lies flat there. */
export function keyedJoints({ played }: PreparedShot): ReadonlyMap<number, ReadonlyMap<number, boolean>> {
  const joints = new Map<number, Map<number, boolean>>();
  for (const { joint, at, flat } of played.motion.keys ?? []) {
    // What has one key never moves: an exporter writes it for whatever was touched.
    if (at.length < 2) continue;
    const own = joints.get(joint) ?? new Map<number, boolean>();
    joints.set(joint, own);
    // Of a joint that both turns and moves all lies flat where both do.
    at.forEach((time, k) => own.set(time, flat[k] === 1 && (own.get(time) ?? true)));
  }
  return joints;
}

/**
 * What the keys of a shot say, of a format that keeps them. A pose is a frame at which at least half of what is keyed has a key.
 *
 * `keys.partial`: what has no key at a pose, nor within two frames of it, where an offset is meant. `keys.lone`: keys off the poses, and not offset from one,
 * that nothing else has. `keys.flat`: poses, between the first and the last, at which three quarters of the curves lie flat at once. `keys.count`: different key
 * times a second, of each part. `keys.between`: keys that lie on no frame.
 */
export function measureSparseKeys(shot: PreparedShot): Measured {
  const { motion } = shot.played;
  if (!motion.keys)
    return notAsked(
      SPARSE_KEYS,
      'the format has a value for every joint at every frame: keys can’t be told from inbetweens',
    );
  const joints = keyedJoints(shot);
  if (isBaked(motion.keys, motion.frames))
    return notAsked(SPARSE_KEYS, 'the file has a key at nearly every frame: it was exported frame by frame');
  if (joints.size === 0) return refuse(SPARSE_KEYS, 'no joint has more than one key');
  const { pose: most, flat: level, onFrame } = SPARSE_KEYS_DEFAULTS;
  const label = (sample: number): number => shot.firstFrame + sample;
  const atSample = keysBySample(joints);
  const poses = [...atSample].filter(([, own]) => own.size >= most * joints.size).map(([sample]) => sample);
  const offset = SPARSE_KEYS_DEFAULTS.offset * (shot.fps / 24);
  const isKeyedNear = (joint: number, sample: number): boolean =>
    [...joints.get(joint)!.keys()].some((time) => Math.abs(time - sample) <= offset);

  const partial = poses.flatMap((sample) => {
    const without = [...joints.keys()].filter((joint) => !isKeyedNear(joint, sample));
    return without.length > 0 ? [{ frame: label(sample), without }] : [];
  });
  const lone = [...atSample].flatMap(([sample, own]) =>
    own.size === 1 && joints.size > 2 && !poses.some((pose) => Math.abs(pose - sample) <= offset)
      ? [{ frame: label(sample), of: [...own.keys()][0]! }]
      : [],
  );
  const flat = poses.slice(1, -1).flatMap((sample) => {
    const own = [...atSample.get(sample)!.values()];
    const share = own.filter(Boolean).length / own.length;
    return share >= level && own.length >= 2 ? [{ frame: label(sample), share: roundTo4(100 * share) }] : [];
  });
  const between = [...new Set([...joints.values()].flatMap((own) => [...own.keys()]))]
    .filter((time) => Math.abs(time - Math.round(time)) > onFrame)
    .sort((a, b) => a - b);
  const parts = jointParts(shot);
  const says = (list: readonly number[]): string => namesOf(shot, parts, joints, list);
  const nameOf = (joint: number): string => motion.joints[joint]!.name;
  return made(
    PARTIAL.of(partial.length === 0 ? NOTHING : says([...new Set(partial.flatMap(({ without }) => without))]), {
      ...framesOf(partial),
      detail: { at: partial.map(({ frame, without }) => ({ frame, without: without.map(nameOf) })) },
    }),
    LONE.of(lone.length === 0 ? NOTHING : says([...new Set(lone.map(({ of }) => of))]), {
      ...framesOf(lone),
      detail: { at: lone.map(({ frame, of }) => ({ frame, of: nameOf(of) })) },
    }),
    FLAT.of(flat.length, { ...framesOf(flat), detail: { at: flat } }),
    ...countsOf(shot, joints, parts),
    BETWEEN.of(between.length, {
      ...(between.length > 0 && { frames: [...new Set(between.map((time) => label(Math.floor(time))))] }),
      detail: { at: between.map((time) => roundTo4(label(time))) },
    }),
  );
}

/** Joints with a key at each whole frame, and whether it lies flat there, in order of frames. */
function keysBySample(
  joints: ReadonlyMap<number, ReadonlyMap<number, boolean>>,
): ReadonlyMap<number, ReadonlyMap<number, boolean>> {
  const found = new Map<number, Map<number, boolean>>();
  for (const [joint, own] of joints)
    for (const [time, flat] of own) {
      const sample = Math.round(time);
      found.set(sample, (found.get(sample) ?? new Map<number, boolean>()).set(joint, flat));
    }
  return new Map([...found].sort(([a], [b]) => a - b));
}

const framesOf = (at: readonly { readonly frame: number }[]) =>
  at.length > 0 ? { frames: at.map(({ frame }) => frame) } : {};

/** So many are named, of more it is said how many. */
const NAMED = 4;

/** Joints in words: a part by its name where all of it that is keyed is meant, else each by its own. */
function namesOf(
  { played, roles }: PreparedShot,
  parts: readonly string[],
  keyed: ReadonlyMap<number, unknown>,
  joints: readonly number[],
): string {
  const meant = new Set(joints);
  const roleOf = new Map(Object.entries(roles).map(([role, joint]) => [joint, role]));
  const names: string[] = [];
  const told = new Set<number>();
  for (const joint of joints) {
    if (told.has(joint)) continue;
    const limb = [...keyed.keys()].filter((other) => parts[other] === parts[joint]);
    if (limb.length > 1 && limb.every((other) => meant.has(other))) {
      limb.forEach((other) => told.add(other));
      names.push(partName(parts[joint]));
    } else names.push(partName(roleOf.get(joint) ?? played.motion.joints[joint]!.name));
  }
  return list(names.length > NAMED + 1 ? [...names.slice(0, NAMED), `${names.length - NAMED} more`] : names);
}

/** Key times of each part in a second. */
function countsOf(
  shot: PreparedShot,
  joints: ReadonlyMap<number, ReadonlyMap<number, boolean>>,
  parts: readonly string[],
): Reading[] {
  const { motion } = shot.played;
  const seconds = Math.max(1, motion.frames - 1) / motion.fps;
  const times = new Map<string, Set<number>>();
  for (const [joint, own] of joints) {
    const part = parts[joint]!;
    const all = times.get(part) ?? new Set<number>();
    times.set(part, all);
    for (const time of own.keys()) all.add(roundTo4(time));
  }
  return [...times].map(([part, { size }]) => COUNT.of(roundTo4(size / seconds), { part, detail: { keys: size } }));
}

/** Keys of a part of the body, where they lie. */
export interface KeyRow {
  readonly part: string;
  readonly keys: readonly {
    /** Label; between two frames it has a part of one. */
    readonly at: number;
    /** Everything of the part that is keyed has a key there. */
    readonly all: boolean;
    /** It is held until the next. */
    readonly step: boolean;
  }[];
}

/** The keys of a shot, a row a part, in the order of the body; none of a format without keys. */
export function keyRows(shot: PreparedShot): readonly KeyRow[] {
  if (!hasKeys(shot)) return [];
  const parts = jointParts(shot);
  const joints = keyedJoints(shot);
  const steps = new Set((shot.played.motion.keys ?? []).filter(({ way }) => way === 'step').map(({ joint }) => joint));
  const order = [...new Set(parts)].filter((part) => [...joints.keys()].some((joint) => parts[joint] === part));
  return order.map((part) => {
    const own = [...joints].filter(([joint]) => parts[joint] === part);
    const times = [...new Set(own.flatMap(([, keys]) => [...keys.keys()].map(roundTo4)))].sort((a, b) => a - b);
    return {
      part,
      keys: times.map((time) => {
        const there = own.filter(([, keys]) => [...keys.keys()].some((key) => Math.abs(key - time) < 1e-3));
        return {
          at: shot.firstFrame + time,
          all: there.length === own.length,
          step: there.every(([joint]) => steps.has(joint)),
        };
      }),
    };
  });
}
