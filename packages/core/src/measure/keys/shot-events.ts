import { jointTurn } from '../../motion/joint-turn.ts';
import { loopPeriod } from '../../motion/loop.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import type { Role } from '../../motion/role.ts';
import { rangeOf } from '../../signal/statistics.ts';
import { blinksOf, isEye } from '../attention/blinks.ts';
import { headFacing } from '../head/head-signal.ts';
import { LOOKS, measureLooks } from '../head/looks.ts';
import { poseSignal, scalarSignal } from '../moves/moving-signal.ts';
import { isMove, stretchesOf } from '../moves/stretches.ts';
import { keyPoses } from './key-poses.ts';

/** Something that happens at a frame. */
export interface ShotEvent {
  /** Label of its frame. */
  readonly label: number;
  /** What it is called: a key pose by its name, else `start`, `stop`, `farthest`, `look`, `blink`, `closing` of two points or, of the sound, `onset`. */
  readonly name: string;
  /** The part that does it; the whole body's have none. */
  readonly part?: string;
}

export const EVENT_DEFAULTS = Object.freeze({
  /** A part that turns by less than this, degrees, over the shot does nothing. */
  turns: 4,
  /** A turning point lies at least this share of the part's way from the one before. */
  farthest: 0.3,
  /** A stop and a turning point this near to each other, frames at 24 fps, are one. */
  double: 2,
});

/** Parts whose starts, stops and turning points are told, with the joint that tells them. */
const ASKED: readonly (readonly [part: string, ...roles: Role[]])[] = [
  ['head', 'head'],
  ['spine', 'chest', 'spine'],
  ['hips', 'hips'],
  ['arm.L', 'upperArm.L'],
  ['arm.R', 'upperArm.R'],
];

const known = new WeakMap<PreparedShot, readonly ShotEvent[]>();

/**
 * What happens in a shot, in order of frames: its key poses, where each part of the body starts and stops, where it turns round, where a look begins,
 * where eyes close, and where something begins to sound. Of blocking only its key poses, blinks and sounds, since nothing moves. Worked out once a shot.
 */
export function shotEvents(shot: PreparedShot): readonly ShotEvent[] {
  const events = known.get(shot) ?? workOut(shot);
  known.set(shot, events);
  return events;
}

/** Onsets have a row of their own, as a part of the body has. */
const SOUND = 'sound';

/** A sound that begins this shortly before a frame, in frames, begins with it: codecs put theirs some milliseconds off. */
const WITH_THE_NEXT = 0.25;

/** Where something begins to sound, as events: on the frames that are seen then. */
export const onsetEvents = (labels: readonly number[]): ShotEvent[] =>
  [...new Set(labels.map((label) => Math.floor(label + WITH_THE_NEXT)))].map((label) => ({
    label,
    name: 'onset',
    part: SOUND,
  }));

const EYES = 'eyes';

/** Where eyes begin to close, and where any other two points do that were followed for it. Both eyes at once are one blink. */
function closingsIn(shot: PreparedShot): ShotEvent[] {
  const ofLids = blinksOf(shot).map(({ from }): ShotEvent => ({ label: from, name: 'blink', part: EYES }));
  const ofPairs = shot.closings.map(({ pair, label }): ShotEvent =>
    isEye(pair) ? { label, name: 'blink', part: EYES } : { label, name: 'closing', part: pair.join(', ') },
  );
  return [...ofLids, ...ofPairs];
}

/** Those of a shot's own frames. */
function onsetsWithin(shot: PreparedShot): ShotEvent[] {
  const last = shot.firstFrame + shot.played.motion.frames - 1;
  return onsetEvents(shot.onsets).filter(({ label }) => label >= shot.firstFrame && label <= last);
}

const inOrder = (events: readonly ShotEvent[]): ShotEvent[] =>
  events.toSorted((a, b) => a.label - b.label || (a.part ?? '').localeCompare(b.part ?? ''));

function workOut(shot: PreparedShot): ShotEvent[] {
  const poses = keyPoses(shot).map(({ label, name, part }): ShotEvent => ({ label, name, ...(part && { part }) }));
  const named = poses.filter(({ name }) => name !== 'pose');
  if (shot.exposures.blocking) return inOrder([...poses, ...closingsIn(shot), ...onsetsWithin(shot)]);
  const parts = ASKED.flatMap(([part, ...roles]): ShotEvent[] => {
    const joint = roles.map((role) => shot.roles[role]).find((own) => own !== undefined);
    if (joint === undefined) return [];
    const turn = part === 'head' ? headFacing(shot)?.turn : jointTurn(shot, joint);
    if (!turn || rangeOf(turn) < EVENT_DEFAULTS.turns) return [];
    return withoutDoubles(shot, endsOfPart(shot, turn, part), turningPoints(shot, turn, part));
  });
  const [, lookFrames] = LOOKS;
  const looks = lookFrames
    .among(measureLooks(shot).readings)
    .map(({ detail: { from } }): ShotEvent => ({ label: Math.round(from), name: 'look', part: 'head' }));
  const body = named.length > 0 ? [] : endsOf(shot, poseSignal(shot));
  const all = [...named, ...body, ...parts, ...looks, ...closingsIn(shot), ...onsetsWithin(shot)];
  return inOrder(all.filter((own, k) => all.findIndex((other) => isSame(own, other)) === k));
}

/** Where something turns round without a rest it neither stops nor starts; where it stops for a while its turning point is that. */
function withoutDoubles(shot: PreparedShot, ends: readonly ShotEvent[], turns: readonly ShotEvent[]): ShotEvent[] {
  const reach = EVENT_DEFAULTS.double * (shot.played.motion.fps / 24);
  const near = (a: ShotEvent, b: ShotEvent): boolean => Math.abs(a.label - b.label) <= reach;
  const beside = (turn: ShotEvent, name: string): boolean => ends.some((end) => end.name === name && near(end, turn));
  const last = shot.firstFrame + shot.played.motion.frames - 1;
  // Where a loop is cut what ends there goes on at its other end.
  const atSeam = ({ label }: ShotEvent): boolean =>
    shot.loop !== 'none' && Math.min(label - shot.firstFrame, last - label) <= reach;
  const round = turns.filter((turn) => atSeam(turn) || beside(turn, 'stop') === beside(turn, 'start'));
  return [...ends.filter((end) => !round.some((turn) => near(turn, end))), ...round];
}

/** The same thing at the same frame: a look is where the head stops. */
export const isSame = (a: ShotEvent, b: ShotEvent): boolean =>
  a.label === b.label && a.name === b.name && a.part === b.part;

/** Where a signal starts to move and where it comes to rest; of a loop not where it is cut. */
function endsOf(shot: PreparedShot, signal: ReturnType<typeof poseSignal>, part?: string): ShotEvent[] {
  const last = shot.motion.frames - 1;
  const own = part !== undefined && { part };
  return stretchesOf(signal, shot.fps)
    .filter(isMove)
    .flatMap(({ from, to }): ShotEvent[] => [
      ...(from > 0.5 ? [{ label: Math.round(labelOf(shot, from)), name: 'start', ...own }] : []),
      ...(to < last - 0.5 ? [{ label: Math.round(labelOf(shot, to)), name: 'stop', ...own }] : []),
    ]);
}

/** Where a part starts and comes to rest. A loop is gone through three times, and told as it is in the midst: what is cut at its seam is one move. */
function endsOfPart(shot: PreparedShot, turn: Float64Array, part: string): ShotEvent[] {
  const period = loopPeriod(shot.loop, shot.motion.frames);
  if (shot.loop === 'none') return endsOf(shot, scalarSignal(turn), part);
  const thrice = Float64Array.from({ length: 3 * period }, (_, s) => turn[s % period]!);
  const inMidst = (s: number): boolean => Math.round(s) >= period && Math.round(s) < 2 * period;
  const at = (s: number, name: string): ShotEvent[] =>
    inMidst(s) ? [{ label: Math.round(labelOf(shot, s - period)), name, part }] : [];
  return stretchesOf(scalarSignal(thrice), shot.fps)
    .filter(isMove)
    .flatMap(({ from, to }) => [...at(from, 'start'), ...at(to, 'stop')]);
}

/** Where a signal turns round, each far enough from the one before. */
function turningPoints(shot: PreparedShot, turn: Float64Array, part: string): ShotEvent[] {
  const period = loopPeriod(shot.loop, shot.motion.frames);
  const wraps = shot.loop !== 'none';
  const least = EVENT_DEFAULTS.farthest * rangeOf(turn);
  const at = (s: number): number => turn[wraps ? ((s % period) + period) % period : s]!;
  const found: { sample: number; value: number; sign: number }[] = [];
  for (let s = wraps ? 0 : 1; s < (wraps ? period : period - 1); s++) {
    const [before, here, after] = [at(s - 1), at(s), at(s + 1)];
    // Of several alike the first.
    const sign = here > before && here >= after ? 1 : here < before && here <= after ? -1 : 0;
    if (sign === 0) continue;
    const last = found.at(-1);
    if (last && last.sign === sign) {
      if (sign * here > sign * last.value) found[found.length - 1] = { sample: s, value: here, sign };
    } else if (!last || Math.abs(here - last.value) >= least) found.push({ sample: s, value: here, sign });
  }
  return found.map(({ sample }) => ({ label: Math.round(labelOf(shot, sample)), name: 'farthest', part }));
}
