import { hasKeys } from '../measure/keys/sparse-keys.ts';
import { logarithm, mainAxis } from '../motion/joint-turn.ts';
import type { Keyed } from '../motion/keys.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { conjugate, multiply, quatAt } from '../motion/quaternion.ts';
import { dot, length, subtract, type Vec3 } from '../motion/vector.ts';
import { figureAxes } from '../motion/way.ts';
import { largestOf, smallestOf } from '../signal/statistics.ts';
import type { Treated } from './recipe.ts';

/**
 * How much a joint is changed, as somebody would key it: degrees, or %L for one that moves, on the joint's own keys where the file has them, else at the
 * frames where the change turns round.
 */
export interface KeyedChange {
  readonly joint: string;
  readonly unit: '°' | '%L';
  /** Of a joint that moves: along which of the figure's own axes. */
  readonly along?: 'forward' | 'left' | 'up';
  readonly keys: readonly ChangedKey[];
}

/** How far something is changed at a frame. */
export interface ChangedKey {
  readonly label: number;
  readonly by: number;
  /** Whether it lies on a key that the file has, or is one to be made; undefined of a file that keeps no keys. */
  readonly isNew?: boolean;
}

/** Less than this, degrees or %L, nobody keys. */
const SEEN = 0.5;
/** At most so many keys a joint are told, those with most change. */
const MOST = 5;
/** A key more is asked for where what the others make is off by this share of the largest change, and by {@link SEEN}. */
const OFF = 0.2;

/**
 * What a recipe changed, joint by joint, largest first: the change about its main axis. Of frames that show others only what differs from the frame they
 * show.
 */
export function keyedChanges(before: PreparedShot, { shot, map }: Pick<Treated, 'shot' | 'map'>): KeyedChange[] {
  const [was, is] = [before.played.motion, shot.played.motion];
  const n = is.joints.length;
  const old = (f: number): number => Math.min(was.frames - 1, Math.round(map ? map[f]! : f));
  const label = (f: number): number => shot.firstFrame + f;
  const told = (values: readonly number[], joint: number, of: Keyed): ChangedKey[] => {
    const own = ownKeys(before, joint, of, is.frames, old);
    return own && own.length > 0
      ? onKeys(values, own).map(({ f, isNew }) => ({ label: label(f), by: round(values[f]!), isNew }))
      : keysOf(values).map((f) => ({ label: label(f), by: round(values[f]!), ...(own && { isNew: true }) }));
  };
  const changes: KeyedChange[] = [];
  is.joints.forEach(({ name }, j) => {
    const vectors = new Float64Array(3 * is.frames);
    for (let f = 0; f < is.frames; f++)
      vectors.set(
        logarithm(multiply(conjugate(quatAt(was.rotations, old(f) * n + j)), quatAt(is.rotations, f * n + j))),
        3 * f,
      );
    const axis = mainAxis([vectors]);
    const turns = Array.from({ length: is.frames }, (_, f) =>
      dot([vectors[3 * f]!, vectors[3 * f + 1]!, vectors[3 * f + 2]!], axis),
    );
    const keys = told(turns, j, 'rotation');
    if (keys.length > 0) changes.push({ joint: name, unit: '°', keys });
  });
  is.moving.forEach((joint, slot) => {
    const at = (motion: typeof is, f: number): Vec3 => {
      const k = 3 * (f * motion.moving.length + slot);
      return [motion.translations[k]!, motion.translations[k + 1]!, motion.translations[k + 2]!];
    };
    if (is.joints[joint]!.parent >= 0) return;
    (['forward', 'left', 'up'] as const).forEach((along, c) => {
      const percent = 100 / before.scale.legLength;
      const ways = Array.from({ length: is.frames }, (_, f) => {
        const way = subtract(at(is, f), at(was, old(f)));
        const sample = Math.min(before.motion.frames - 1, old(f));
        return length(way) === 0 ? 0 : percent * dot(way, figureAxes(before, sample)[c]!);
      });
      const keys = told(ways, joint, 'translation');
      if (keys.length > 0) changes.push({ joint: is.joints[joint]!.name, unit: '%L', along, keys });
    });
  });
  const most = ({ keys }: KeyedChange): number => largestOf(keys.map(({ by }) => Math.abs(by)));
  return changes.sort((a, b) => most(b) - most(a));
}

const round = (value: number): number => Math.round(10 * value) / 10;

/** Frames on which a joint has a key, none where it never had more than one; undefined of a file without keys that somebody set. */
function ownKeys(
  shot: PreparedShot,
  joint: number,
  of: Keyed,
  frames: number,
  old: (f: number) => number,
): number[] | undefined {
  if (!hasKeys(shot)) return undefined;
  const own = shot.played.motion.keys!.find((channel) => channel.joint === joint && channel.of === of);
  if (!own || own.at.length < 2) return [];
  const there = new Set([...own.at].map(Math.round));
  return Array.from({ length: frames }, (_, f) => f).filter((f) => there.has(old(f)) && old(f) !== old(f - 1));
}

/**
 * A change as keys: on the keys there are, and on as many more as it takes, each where what the others make is off most. Between keys it goes evenly, before
 * the first and behind the last it stays.
 */
function onKeys(values: readonly number[], own: readonly number[]): { f: number; isNew: boolean }[] {
  const most = largestOf(values.map(Math.abs));
  if (most < SEEN) return [];
  const there = new Set(own);
  const keys = new Set(own);
  for (let k = 0; k < MOST; k++) {
    const off = evenlyBetween(values, keys).map((value, f) => Math.abs(value - values[f]!));
    const worst = largestOf(off);
    if (worst <= Math.max(SEEN, OFF * most)) break;
    keys.add(off.indexOf(worst));
  }
  return [...keys]
    .filter((f) => Math.abs(values[f]!) >= SEEN || !there.has(f))
    .sort((a, b) => Math.abs(values[b]!) - Math.abs(values[a]!))
    .slice(0, MOST)
    .sort((a, b) => a - b)
    .map((f) => ({ f, isNew: !there.has(f) }));
}

/** Values as they are at some samples, going evenly from each of these to the next. */
function evenlyBetween(values: readonly number[], kept: ReadonlySet<number>): number[] {
  const order = [...kept].sort((a, b) => a - b);
  let k = 0;
  return values.map((_, f) => {
    while (k + 1 < order.length && order[k + 1]! <= f) k++;
    const [from, to] = [order[k]!, order[k + 1] ?? order[k]!];
    const share = to > from ? Math.min(1, Math.max(0, (f - from) / (to - from))) : 0;
    return values[from]! + share * (values[to]! - values[from]!);
  });
}

/** Frames at which a change is largest, or turns round; in order. */
function keysOf(values: readonly number[]): number[] {
  const most = largestOf(values.map(Math.abs));
  if (most < SEEN) return [];
  // A change that is the same all along is one key, whatever rounding makes of it.
  if (largestOf(values) - smallestOf(values) < Math.max(0.1, most / 50)) return [0];
  const turns = values.flatMap((value, f) => {
    const [before, after] = [values[f - 1] ?? value, values[f + 1] ?? value];
    const peak =
      (value >= before && value > after) || (value <= before && value < after) || (f === 0 && value !== after);
    return peak && Math.abs(value) >= Math.max(SEEN, most / 10) ? [f] : [];
  });
  const all = turns.length > 0 ? turns : [values.findIndex((value) => Math.abs(value) > most - 1e-9)];
  return all
    .sort((a, b) => Math.abs(values[b]!) - Math.abs(values[a]!))
    .slice(0, MOST)
    .sort((a, b) => a - b);
}
