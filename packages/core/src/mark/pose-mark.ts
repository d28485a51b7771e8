import { type PreparedShot, sampleAt } from '../motion/prepared-shot.ts';
import { angleBetweenDirections, dot, length, subtract, type Vec3 } from '../motion/vector.ts';
import { LoosePose } from '../posing/loose-pose.ts';
import { NOTHING_WANTED, toldPose, type ToldPose, type WantedPose } from '../posing/wanted-pose.ts';
import { partName } from '../say/part-names.ts';
import { degrees, list, ofLeg } from '../say/words.ts';
import type { MarkTool } from './mark-tool.ts';
import { isWithin } from './place.ts';

/** A part that points within this of where it should, degrees, is as wanted; a joint that is within this of its place, %L. */
const NEAR = 5;
const NEAR_PLACE = 3;
/** Of a pose that is far off so many parts are told. */
const MOST = 3;
/** Two ways are opposite where the cosine of the angle between them is under this, negated: over 120° apart. */
const OPPOSITE = 0.5;

const BY_NAME = { is: 'by name', numbers: 3, most: 200 } as const;

/** A pose as it is, and as it should be. */
export const POSE_MARK: MarkTool<'pose', ToldPose, WantedPose> = {
  kind: 'pose',
  numbers: {
    measured: { directions: BY_NAME, places: BY_NAME },
    wanted: { turns: { is: 'by name', numbers: 4, most: 200 }, moved: BY_NAME, directions: BY_NAME, places: BY_NAME },
  },
  measure(shot, place, like) {
    if (!isWithin(shot, place)) return null;
    const sample = sampleAt(shot, place.from);
    const pulled = Object.keys(like?.places ?? {});
    const told = toldPose(shot, sample, LoosePose.at(shot.motion, sample), pulledHere(shot, pulled, place.point));
    return Object.keys(told.directions).length + Object.keys(told.places).length > 0 ? told : null;
  },
  propose: () => NOTHING_WANTED,
  say(measured, wanted) {
    if (!measured) return { now: '', wanted: '' };
    const off = wanted ? farthest(measured, wanted) : [];
    const told = off
      .slice(0, MOST)
      .map(({ part, away, unit }) => `${partName(part)} ${unit === '°' ? degrees(away) : ofLeg(away)}`);
    return {
      now:
        off.length > 0
          ? `${list(told)} from where ${off.length > 1 ? 'they' : 'it'} should be`
          : 'the pose at this frame',
      wanted: wanted && hasWanted(wanted) ? 'the pose that is drawn' : '',
    };
  },
  distance(measured, wanted, then) {
    if (!hasWanted(wanted)) return undefined;
    const [worst] = farthest(measured, wanted);
    if (!worst) return undefined;
    return {
      distance: worst.away - nearEnough(worst),
      unit: worst.unit,
      side: then && wentPast(worst, wanted, then) ? -1 : 1,
      times: worst.away / nearEnough(worst) - 1,
    };
  },
};

const nearEnough = ({ unit }: Pick<Off, 'unit'>): number => (unit === '°' ? NEAR : NEAR_PLACE);

/** Whether what was off when the mark was made is now off the other way. */
function wentPast(now: Off, wanted: WantedPose, then: ToldPose): boolean {
  const before = farthest(then, wanted).find(({ part, unit }) => part === now.part && unit === now.unit);
  if (!before || before.away <= nearEnough(before)) return false;
  return dot(now.off, before.off) < -OPPOSITE * length(now.off) * length(before.off);
}

const pulledHere = (shot: PreparedShot, pulled: readonly string[], point: string | null): string[] => {
  const names = new Set(shot.motion.joints.map(({ name }) => name));
  return [...new Set([...pulled, ...(point === null ? [] : [point])])].filter((name) => names.has(name));
};

/** Whether a pose asks for anything. */
export const hasWanted = ({ directions, places }: ToldPose): boolean =>
  Object.keys(directions).length + Object.keys(places).length > 0;

interface Off {
  readonly part: string;
  readonly away: number;
  readonly unit: '°' | '% of a leg';
  /** From where it should be to where it is. */
  readonly off: Vec3;
}

/** How far each part, and each joint that was pulled, is from where it should be; the farthest first, each beyond what is near enough. */
function farthest(measured: ToldPose, wanted: ToldPose): Off[] {
  const both = <T>(a: Readonly<Record<string, T>>, b: Readonly<Record<string, T>>): [string, T, T][] =>
    Object.keys(b).flatMap((name) => (Object.hasOwn(a, name) ? [[name, a[name]!, b[name]!]] : []));
  const turned = both<Vec3>(measured.directions, wanted.directions).map(([part, now, to]): Off => ({
    part,
    away: angleBetweenDirections(now, to),
    unit: '°',
    off: subtract(now, to),
  }));
  const placed = both<Vec3>(measured.places, wanted.places).map(([part, now, to]): Off => ({
    part,
    away: length(subtract(now, to)),
    unit: '% of a leg',
    off: subtract(now, to),
  }));
  const beyond = (own: Off): number => own.away / nearEnough(own);
  return [...turned, ...placed].sort((a, b) => beyond(b) - beyond(a));
}
