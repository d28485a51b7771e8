import { footTracks } from '../../motion/feet/standing-feet.ts';
import { GAITS } from '../../motion/kinds.ts';
import { loopPeriod } from '../../motion/loop.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { quantitySignal } from '../../quantity/measure-quantity.ts';
import type { PlannedPoseName } from '../../trade/planned-pose.ts';

/** A key pose that was found in a shot. */
export interface FoundPose {
  readonly name: PlannedPoseName;
  /** Label of its frame; it may lie between two. */
  readonly label: number;
  /** The leg that lands or carries. */
  readonly part?: string;
}

export const BLOCKED_DEFAULTS = Object.freeze({
  /** In a contact the feet are apart, ahead and behind, by this share of their farthest at least … */
  apart: 0.6,
  /** … and by so many %L. */
  least: 20,
  /** Of poses behind each other the first is the contact in which they are this share of their farthest apart. */
  asFar: 0.93,
  /** In a passing pose they are apart by no more than this share. */
  passing: 0.5,
  /** Feet whose lower one is this high over where it is lowest, %L, are in the air. */
  air: 4,
});

/** What is seen of a pose, %L. */
interface Seen {
  readonly sample: number;
  /** How far the left foot is ahead of the right one. */
  readonly apart: number;
  readonly hips: number;
  /** Height of the lowest point of both feet. */
  readonly foot: number;
}

/** A pose's features at a sample; undefined where hips or feet are not known. */
function seeing(shot: PreparedShot): ((sample: number) => Seen) | undefined {
  const signals = [
    quantitySignal(shot, 'ahead', 'foot.L'),
    quantitySignal(shot, 'ahead', 'foot.R'),
    quantitySignal(shot, 'height', 'hips'),
  ];
  if (signals.some((signal) => typeof signal === 'string')) return undefined;
  const [left, right, hips] = signals as Float64Array[];
  const tracks = footTracks(shot, shot.motion.frames);
  const percent = 100 / shot.scale.legLength;
  return (sample) => ({
    sample,
    apart: left![sample]! - right![sample]!,
    hips: hips![sample]!,
    foot: percent * Math.min(...tracks.map(({ height }) => height[sample]!)),
  });
}

const legAhead = ({ apart }: Seen): string => (apart > 0 ? 'leg.L' : 'leg.R');

/**
 * Key poses of a shot in blocking, told from the poses that are held and not from what moves between them: contacts where the feet are farthest apart,
 * passings where they are nearest, downs and ups where the hips are lowest and highest between the two; of a jump its crouch, take-off, top and landing.
 */
export function blockedPoses(shot: PreparedShot): FoundPose[] {
  const see = seeing(shot);
  if (!see) return [];
  const period = loopPeriod(shot.loop, shot.motion.frames);
  const poses: Seen[] = [];
  let sample = 0;
  for (const length of shot.exposures.lengths) {
    if (sample < period) poses.push(see(sample));
    sample += length;
  }
  const named = (name: PlannedPoseName, { sample: at }: Seen, part?: string): FoundPose => ({
    name,
    label: labelOf(shot, at),
    ...(part !== undefined && { part }),
  });
  return [
    ...(shot.kinds.some((kind) => GAITS.includes(kind)) ? gaitOf(poses, shot.loop !== 'none', named) : []),
    ...(shot.kinds.includes('jump') ? jumpOf(poses, named) : []),
  ];
}

type Named = (name: PlannedPoseName, pose: Seen, part?: string) => FoundPose;

function gaitOf(poses: readonly Seen[], wraps: boolean, named: Named): FoundPose[] {
  const farthest = Math.max(...poses.map(({ apart }) => Math.abs(apart)));
  const isFar = ({ apart }: Seen): boolean =>
    Math.abs(apart) >= Math.max(BLOCKED_DEFAULTS.least, BLOCKED_DEFAULTS.apart * farthest);
  // One contact of every run of poses with the same foot far ahead: the first in which the feet are about as far apart as they come.
  const contacts: number[] = [];
  poses.forEach((pose, k) => {
    if (!isFar(pose)) return;
    const before = contacts.at(-1);
    const other = before === undefined ? undefined : poses[before]!;
    if (other === undefined || legAhead(other) !== legAhead(pose)) contacts.push(k);
    else if (BLOCKED_DEFAULTS.asFar * Math.abs(pose.apart) > Math.abs(other.apart)) contacts[contacts.length - 1] = k;
  });
  const [first, last] = [contacts[0], contacts.at(-1)];
  // A loop's last run may go on in its first: one contact.
  if (wraps && first !== undefined && last !== undefined && first !== last) {
    const [a, b] = [poses[first]!, poses[last]!];
    if (legAhead(a) === legAhead(b))
      if (BLOCKED_DEFAULTS.asFar * Math.abs(a.apart) > Math.abs(b.apart)) contacts.pop();
      else contacts.shift();
  }
  return contacts.flatMap((at, k) => {
    const contact = poses[at]!;
    const leg = legAhead(contact);
    const next = contacts[k + 1] ?? (wraps ? contacts[0]! + poses.length : poses.length);
    const step = Array.from({ length: next - at - 1 }, (_, i) => poses[(at + 1 + i) % poses.length]!);
    return [named('contact', contact, leg), ...stepOf(step, farthest, leg, named)];
  });
}

/** Down, passing and up of the poses behind a contact and before the next one. */
function stepOf(step: readonly Seen[], farthest: number, leg: string, named: Named): FoundPose[] {
  const nearest = [...step].sort((a, b) => Math.abs(a.apart) - Math.abs(b.apart))[0];
  const passing =
    nearest && Math.abs(nearest.apart) <= BLOCKED_DEFAULTS.passing * farthest ? step.indexOf(nearest) : -1;
  if (passing < 0) return [];
  const byHips = (poses: readonly Seen[], sign: 1 | -1): Seen | undefined =>
    [...poses].sort((a, b) => sign * (a.hips - b.hips))[0];
  const down = byHips(step.slice(0, passing), 1);
  const up = byHips(step.slice(passing + 1), -1);
  return [
    ...(down ? [named('down', down, leg)] : []),
    named('passing', step[passing]!, leg),
    ...(up ? [named('up', up, leg)] : []),
  ];
}

function jumpOf(poses: readonly Seen[], named: Named): FoundPose[] {
  const top = poses.reduce((best, pose, k) => (best < 0 || pose.hips > poses[best]!.hips ? k : best), -1);
  // It may land higher or lower than it leaves.
  const groundOf = (own: readonly Seen[]): number => Math.min(...own.map(({ foot }) => foot));
  const [before, behind] = [groundOf(poses.slice(0, top)), groundOf(poses.slice(top + 1))];
  const stands =
    (ground: number) =>
    (k: number): boolean =>
      poses[k]!.foot <= ground + BLOCKED_DEFAULTS.air;
  const [standsBefore, standsBehind] = [stands(before), stands(behind)];
  if (top < 1 || standsBefore(top)) return [];
  const leaves = poses.findLastIndex((_, k) => k < top && standsBefore(k));
  const lands = poses.findIndex((_, k) => k > top && standsBehind(k));
  const lowest = (from: number, to: number): Seen | undefined =>
    poses
      .slice(from, to)
      .reduce<Seen | undefined>((low, pose) => (low && low.hips <= pose.hips ? low : pose), undefined);
  const crouch = leaves < 0 ? undefined : lowest(0, leaves + 1);
  const squash = lands < 0 ? undefined : lowest(lands, poses.length);
  return [
    ...(crouch ? [named('crouch', crouch)] : []),
    ...(leaves < 0 ? [] : [named('take-off', poses[leaves]!)]),
    named('top', poses[top]!),
    ...(lands < 0 ? [] : [named('landing', poses[lands]!)]),
    ...(squash ? [named('squash', squash)] : []),
  ];
}

/** The contact that a shot begins or ends in: the figure stands with its feet as far apart as in a step, and no foot lands within the shot. */
export function contactsAtTheEnds(shot: PreparedShot): FoundPose[] {
  const see = shot.loop === 'none' ? seeing(shot) : undefined;
  if (!see) return [];
  const { frames } = shot.motion;
  const all = Array.from({ length: frames }, (_, s) => see(s));
  const farthest = Math.max(...all.map(({ apart }) => Math.abs(apart)));
  const isOne = ({ apart }: Seen): boolean =>
    Math.abs(apart) >= Math.max(BLOCKED_DEFAULTS.least, ENDS_APART * farthest);
  const { starts } = shot.exposures;
  return [all[0]!, all[frames - 1]!].filter(isOne).map((pose) => ({
    name: 'contact',
    label: shot.firstFrame + (starts[pose.sample] ?? pose.sample),
    part: legAhead(pose),
  }));
}

/** A first or last pose is a contact where the feet are this share of their farthest apart. */
const ENDS_APART = 0.85;
