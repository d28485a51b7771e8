import { type ShotEvent, shotEvents } from '../measure/keys/shot-events.ts';
import { CHAIN_LAG, measureChain, usualChains } from '../measure/overlap/lag.ts';
import { roundTo4 } from '../measure/reading.ts';
import { jointIndex } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { ancestors } from '../motion/roles.ts';
import { footName, partName } from '../say/part-names.ts';
import { partFrames } from '../say/words.ts';
import type { Labels, MarkPlace, MarkTool } from './mark-tool.ts';
import { AMOUNT, LABEL } from './number-shape.ts';
import { isWithin, placedJoint } from './place.ts';
import { sideOf } from './side.ts';

/** Between what a delay is told: two events, two joints that move alike, or each link of a chain and the one before. */
export const DELAYS = ['events', 'joints', 'chain'] as const;
export type DelayOf = (typeof DELAYS)[number];

/** How many frames something comes after something else; under 0 before it. */
export interface MeasuredDelay {
  readonly of: DelayOf;
  /** The first: an event's name, or a joint's; of a chain its top. */
  readonly first: string;
  readonly firstPart?: string;
  /** The second: an event's name, or a joint's; of a chain its tip. */
  readonly second: string;
  readonly secondPart?: string;
  readonly frames: number;
  /** Where two events lie. */
  readonly firstAt?: number;
  readonly secondAt?: number;
}
export interface WantedDelay {
  readonly frames: number;
}

/** A delay within so many frames of the one that is wanted is as wanted; of events, which are whole frames, a long one within a frame. */
const NEAR = 0.3;
const NEAR_EVENTS = 1;
/** Delays of events up to this are short. */
const SHORT = 3;
/** An event is looked for again this far from where it was, frames at 24 fps. */
const AGAIN = 10;

const WORD = { is: 'word' } as const;
const MAY_BE_LEFT_OUT = { optional: true } as const;

/** How much later one thing comes than another. */
export const DELAY_MARK: MarkTool<'delay', MeasuredDelay, WantedDelay> = {
  kind: 'delay',
  numbers: {
    measured: {
      of: { is: 'one of', words: DELAYS },
      first: WORD,
      firstPart: { ...WORD, ...MAY_BE_LEFT_OUT },
      second: WORD,
      secondPart: { ...WORD, ...MAY_BE_LEFT_OUT },
      frames: AMOUNT,
      firstAt: { ...LABEL, ...MAY_BE_LEFT_OUT },
      secondAt: { ...LABEL, ...MAY_BE_LEFT_OUT },
    },
    wanted: { frames: AMOUNT },
  },
  spans: 'to the next pose',
  measure(shot, place, like) {
    if (!isWithin(shot, place)) return null;
    if (like && like.of !== 'events') return betweenJoints(shot, like);
    if (like) return betweenEvents(shot, place, like);
    // Of one frame of a limb its overlap is meant, of several what happens at both ends.
    const [between, along] = [() => betweenEvents(shot, place, undefined), () => chainAt(shot, place)];
    return place.to > place.from ? (between() ?? along()) : (along() ?? between());
  },
  propose: ({ of, frames }) => ({ frames: of === 'events' ? Math.round(frames) : Math.round(2 * frames) / 2 }),
  say(measured, wanted) {
    if (!measured) return { now: '', wanted: '' };
    const [first, second] = sides(measured);
    return {
      now: `${second} ${VERB[measured.of]} ${late(measured.frames)} ${first}`,
      wanted: !wanted ? '' : wanted.frames === 0 ? 'together' : late(wanted.frames),
    };
  },
  distance({ of, frames }, wanted) {
    const away = frames - wanted.frames;
    const near = of === 'events' && Math.abs(wanted.frames) > SHORT ? NEAR_EVENTS : NEAR;
    return { distance: Math.abs(away) - near, unit: 'frames', side: sideOf(away) };
  },
};

/** How much later, in words that come before what it is later than; parts of a frame matter along a chain. */
function late(value: number): string {
  const size = Number(Math.abs(value).toFixed(1));
  return size === 0 ? 'with' : `${partFrames(size)} ${value < 0 ? 'before' : 'after'}`;
}

const VERB: Readonly<Record<DelayOf, string>> = { events: 'comes', joints: 'moves', chain: 'moves' };

function sides({ of, first, firstPart, firstAt, second, secondPart, secondAt }: MeasuredDelay): [string, string] {
  if (of === 'chain') return ['the one before it', `from ${partName(first)} to ${partName(second)} each joint`];
  if (of === 'joints') return [partName(first), partName(second)];
  const told = (name: string, part: string | undefined, at: number | undefined): string =>
    `${eventName({ name, ...(part !== undefined && { part }) })}${at === undefined ? '' : ` at ${at}`}`;
  return [told(first, firstPart, firstAt), told(second, secondPart, secondAt)];
}

/** Events that any part has, and the whole body too. */
const OF_A_PART: readonly string[] = ['start', 'stop', 'farthest'];
/** Events that are named without whose they are: nobody else has any. */
const OF_NOBODY: readonly string[] = ['look', 'blink'];
const EVENT_WORDS: Readonly<Record<string, string>> = { farthest: 'turning point', pose: 'key pose' };

/** An event in a sentence: “the contact of the left foot”, “the stop of the head”, “the look”. */
export function eventName({ name, part }: Pick<ShotEvent, 'name' | 'part'>): string {
  const whose = part?.startsWith('leg.') ? footName(part) : partName(part);
  const of = OF_NOBODY.includes(name) || (part === undefined && !OF_A_PART.includes(name)) ? '' : ` of ${whose}`;
  return `the ${EVENT_WORDS[name] ?? name}${of}`;
}

/** The event nearest to a label: any, or one of a name and part again. */
function eventAt(events: readonly ShotEvent[], label: number, reach: number, not?: ShotEvent): ShotEvent | undefined {
  return events
    .filter((own) => own !== not && Math.abs(own.label - label) <= reach)
    .toSorted((a, b) => Math.abs(a.label - label) - Math.abs(b.label - label))[0];
}

function betweenEvents(shot: PreparedShot, place: MarkPlace, like: MeasuredDelay | undefined): MeasuredDelay | null {
  const reach = AGAIN * (shot.played.motion.fps / 24);
  const events = shotEvents(shot);
  const named = (name: string | undefined, part: string | undefined): readonly ShotEvent[] =>
    like ? events.filter((own) => own.name === name && own.part === part) : events;
  const [from, to] = ends(place, like);
  const first = eventAt(named(like?.first, like?.firstPart), from, reach);
  const second = first && eventAt(named(like?.second, like?.secondPart), to, reach, first);
  if (!first || !second) return null;
  return delayBetween(first, second);
}

/** How much later one event comes than another. @example delayBetween(look, stop).frames // 6 */
export const delayBetween = (first: ShotEvent, second: ShotEvent): MeasuredDelay => ({
  of: 'events',
  first: first.name,
  ...(first.part !== undefined && { firstPart: first.part }),
  second: second.name,
  ...(second.part !== undefined && { secondPart: second.part }),
  frames: second.label - first.label,
  firstAt: first.label,
  secondAt: second.label,
});

/** Labels that the first and the second event lie at: a mark's frames go from the earlier to the later. */
const ends = ({ from, to }: Labels, like: MeasuredDelay | undefined): [number, number] =>
  like && like.frames < 0 ? [to, from] : [from, to];

/** The chain that a place's joint is of. */
function chainAt(shot: PreparedShot, place: MarkPlace): MeasuredDelay | null {
  const joint = placedJoint(shot, place);
  const chain = joint === undefined ? undefined : usualChains(shot).find(([, own]) => own.includes(joint))?.[1];
  if (!chain) return null;
  const { joints } = shot.motion;
  const [first, second] = [joints[chain[0]!]!.name, joints[chain.at(-1)!]!.name];
  return betweenJoints(shot, { of: 'chain', first, second, frames: 0 });
}

/** What lies between two joints, or along the chain from one to the other; null where they are too unlike to tell. */
function betweenJoints(shot: PreparedShot, { of, first, second }: MeasuredDelay): MeasuredDelay | null {
  const [top, tip] = [jointIndex(shot.motion, first), jointIndex(shot.motion, second)];
  if (top < 0 || tip < 0 || top === tip) return null;
  const row = of === 'chain' ? rowBetween(shot, top, tip) : [top, tip];
  if (row.length < 2) return null;
  const [lag] = CHAIN_LAG.among(measureChain(shot, row, 'asked').readings);
  return lag ? { of, first, second, frames: roundTo4(lag.value) } : null;
}

/** Joints from one down to another that hangs from it: of those the known chains skip, such as twists, none. */
function rowBetween(shot: PreparedShot, top: number, tip: number): number[] {
  const known = usualChains(shot).find(([, own]) => own.includes(top) && own.includes(tip))?.[1];
  if (known) return known.slice(known.indexOf(top), known.indexOf(tip) + 1);
  const line = [tip, ...ancestors(shot.motion.joints, tip)];
  return line.includes(top) ? line.slice(0, line.indexOf(top) + 1).reverse() : [];
}
