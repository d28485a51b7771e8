import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate } from '../../motion/quaternion.ts';
import { dot, normalise, reject } from '../../motion/vector.ts';
import { partName } from '../../say/part-names.ts';
import { after } from '../../say/words.ts';
import { mean } from '../../signal/statistics.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, refuse, roundTo4, together } from '../reading.ts';
import { scalarSignal } from '../moves/moving-signal.ts';
import { isMove, stretchesOf } from '../moves/stretches.ts';
import { headFacing } from './head-signal.ts';

const ORDER = describeReading({
  id: 'turn.order',
  holds: holding<number, { each: number[] }>(),
  name: 'start after the head',
  unit: 'frames',
  sign: 'later than the head',
  needs: 'a head that turns, and a neck, chest or hips that turn with it',
  kinds: ['turn', 'any'],
  time: true,
  mark: 'timing',
  unseen: 'depth',
  say: ({ value, part }) => `in a turn ${partName(part)} starts ${after(value, 'the head')}`,
});
export const TURN_ORDER = [ORDER] as const;

export const TURN_ORDER_DEFAULTS = Object.freeze({
  /** The head turns from so many degrees on. */
  head: 10,
  /** What turns along goes this far with it, degrees. */
  along: 2,
  /** So long before a turn and behind it its parts are looked for, frames at 24 fps. */
  before: 6,
  behind: 10,
  /** A part has started where it has gone this share of its way. */
  started: 0.1,
});

/** `turn.order`: of every turn of the head, how much later neck, chest and hips start to turn; each part's mean. */
export function measureTurnOrder(shot: PreparedShot): Measured {
  const facing = headFacing(shot);
  if (!facing) return refuse(TURN_ORDER, 'the head is not known; set the roles');
  const { turn } = facing;
  if (turn.length < 6) return refuse(TURN_ORDER, `it needs 6 poses or more, the shot has ${turn.length}`);
  const signal = scalarSignal(turn);
  const turns = stretchesOf(signal, shot.fps)
    .filter(isMove)
    .filter(({ from, to }) => signal.distance(from, to) >= TURN_ORDER_DEFAULTS.head);
  if (turns.length === 0) return refuse(TURN_ORDER, 'the head makes no turn');
  const { roles } = shot;
  const parts = [
    ['neck', roles.neck],
    ['chest', roles.chest ?? roles.spine],
    ['hips', roles.hips],
  ] as const;
  return together(
    ...parts.map(([part, joint]) => {
      if (joint === undefined) return refuse(TURN_ORDER, 'its joint is not known; set the roles', part);
      const own = turnOf(shot, joint);
      const found = turns.flatMap((move) => {
        const [head, start] = [startOf(shot, turn, move), startOf(shot, own, move)];
        const along = head !== undefined && start !== undefined && head.way * start.way > 0;
        return along ? [{ value: framesIn(shot, start.at - head.at), at: labelOf(shot, move.from) }] : [];
      });
      if (found.length === 0) return refuse(TURN_ORDER, 'it does not turn with the head', part);
      return made(
        ORDER.of(roundTo4(mean(found.map(({ value }) => value))), {
          part,
          frames: found.map(({ at }) => Math.round(at)),
          detail: { each: found.map(({ value }) => roundTo4(value)) },
        }),
      );
    }),
  );
}

/** A joint's turn about up in the world, degrees; goes on over half a circle. */
function turnOf({ motion, world, axes }: PreparedShot, joint: number): Float64Array {
  const n = motion.joints.length;
  const turn = new Float64Array(motion.frames);
  for (let f = 0; f < motion.frames; f++) {
    const ahead = normalise(reject(rotate(quatAt(world.rotations, f * n + joint), axes.forward), axes.up));
    const raw = (Math.atan2(dot(ahead, axes.left), dot(ahead, axes.forward)) * 180) / Math.PI;
    turn[f] = f === 0 ? raw : raw + 360 * Math.round((turn[f - 1]! - raw) / 360);
  }
  return turn;
}

/** When a signal starts on its way over a turn of the head, between samples, and how far it goes; undefined where it hardly does. */
function startOf(
  { fps }: PreparedShot,
  turn: Float64Array,
  { from, to }: { readonly from: number; readonly to: number },
): { at: number; way: number } | undefined {
  const first = Math.max(0, Math.round(from - TURN_ORDER_DEFAULTS.before * (fps / 24)));
  const last = Math.min(turn.length - 1, Math.round(to + TURN_ORDER_DEFAULTS.behind * (fps / 24)));
  // From where it turns back last before it goes: an anticipation is no start.
  const way = turn[last]! - turn[first]!;
  if (Math.abs(way) < TURN_ORDER_DEFAULTS.along) return undefined;
  const gone = (s: number): number => (turn[s]! - turn[first]!) / way;
  for (let s = first + 1; s <= last; s++) {
    if (gone(s) < TURN_ORDER_DEFAULTS.started) continue;
    const [a, b] = [gone(s - 1), gone(s)];
    return { at: s - 1 + (TURN_ORDER_DEFAULTS.started - a) / Math.max(1e-9, b - a), way };
  }
  return undefined;
}
