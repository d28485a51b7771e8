import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { quantitySignal } from '../../quantity/measure-quantity.ts';
import { largestOf, mean, median } from '../../signal/statistics.ts';
import { headFacing } from './head-signal.ts';
import { count, frames } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { sampled } from '../../signal/sampled.ts';
import { scalarSignal } from '../moves/moving-signal.ts';
import { stretchesOf } from '../moves/stretches.ts';
import { made, type Measured, refuse, roundTo4, together } from '../reading.ts';

const KINDS_WITH_LOOKS = ['take', 'turn', 'any'] as const;

const COUNT = describeReading({
  id: 'look.count',
  holds: holding<number>(),
  name: 'looks',
  unit: 'count',
  needs: 'a head',
  kinds: KINDS_WITH_LOOKS,
  fromPoses: true,
  mark: 'timing',
  shows: 'head',
  thrownBy: { strayFrame: true },
  say: ({ value }) => `the head holds ${count(value, 'look')} away from where it mostly faces`,
});
const FRAMES = describeReading({
  id: 'look.frames',
  holds: holding<number, { from: number; to: number; degrees: number; turn: number; pitch: number }>(),
  name: 'length of a look',
  unit: 'frames',
  needs: 'a head that turns and holds',
  kinds: KINDS_WITH_LOOKS,
  time: true,
  fromPoses: true,
  mark: 'timing',
  shows: 'head',
  thrownBy: { strayFrame: true },
  say: ({ value, detail: { from, to, turn, pitch } }) =>
    `the look ${Math.abs(turn) >= Math.abs(pitch) ? `to the ${turn > 0 ? 'left' : 'right'}` : pitch > 0 ? 'down' : 'up'} from ${from} to ${to} lasts ${frames(value)}`,
});

export const LOOK_DEFAULTS = Object.freeze({
  /** The head looks aside, up or down from where it mostly faces by this share of its largest turn, or nod, at least … */
  away: 0.5,
  /** … and by so many degrees. */
  least: 8,
  /** A look this short is still one, if one nobody sees; frames at 24 fps. */
  shortest: 2,
});

export const LOOKS = [COUNT, FRAMES] as const;

/** `look.count` and `look.frames`: the holds of the head's turn away from its mean direction, and how long each lasts. */
export function measureLooks(shot: PreparedShot): Measured {
  const gaze = shot.hasTurns ? gazeOf(shot) : gazeOnPicture(shot);
  if (typeof gaze === 'string') return refuse(LOOKS, gaze);
  const { turn, pitch } = gaze;
  if (turn.length < 6) return refuse(LOOKS, `it needs 6 poses or more, the shot has ${turn.length}`);
  const heldAway = (angles: Float64Array): Look[] => {
    const away = Math.max(LOOK_DEFAULTS.least, LOOK_DEFAULTS.away * largestOf(angles.map(Math.abs)));
    const options = { shortest: LOOK_DEFAULTS.shortest, turns: true };
    return stretchesOf(scalarSignal(angles), shot.fps, options).flatMap(({ kind, from, to }): Look[] =>
      kind === 'hold' && Math.abs(mean(angles.subarray(from, to + 1))) >= away
        ? [{ from, to, turn: mean(turn.subarray(from, to + 1)), pitch: mean(pitch.subarray(from, to + 1)) }]
        : [],
    );
  };
  const aside = heldAway(turn);
  const meets = (look: Look): boolean => aside.some(({ from, to }) => from <= look.to && look.from <= to);
  const looks = [...aside, ...heldAway(pitch).filter((look) => !meets(look))].sort((a, b) => a.from - b.from);
  const joined = joinLooks(looks, Math.round(LOOK_DEFAULTS.shortest * (shot.fps / 24)));
  return readingsOf(shot, joined);
}

/** Where the head faces at each sample, away from where it mostly does: degrees, over 0 to the left and down. */
interface Gaze {
  readonly turn: Float64Array;
  readonly pitch: Float64Array;
}

function gazeOf(shot: PreparedShot): Gaze | string {
  const facing = headFacing(shot);
  if (!facing) return 'the head is not known; set the roles';
  const { turn } = facing;
  const nod = quantitySignal(shot, 'pitch', 'head');
  if (typeof nod === 'string') return { turn, pitch: new Float64Array(turn.length) };
  const level = median(nod);
  return { turn, pitch: nod.map((angle) => angle - level) };
}

/** What shows on a picture where a head faces. */
const NOSE = /^(nose|snout|beak|muzzle)/i;

/**
 * The gaze of a drawn head, by its nose: beside the head’s middle it is turned, over or under it, it nods; as far from it as it ever comes it lies in the
 * picture. Up is from the neck to the head where there is a neck.
 */
function gazeOnPicture(shot: PreparedShot): Gaze | string {
  const { motion, roles, world } = shot;
  const nose = motion.joints.findIndex(({ name }) => NOSE.test(name.replace(/^.*: */, '')));
  if (roles.head === undefined) return 'the head is not known; put a point on it';
  if (nose < 0)
    return 'it needs depth, which a picture does not show: a point on the nose, beside the head’s, shows it';
  const n = motion.joints.length;
  const away = (from: number, to: number, f: number): readonly [number, number] => {
    const [a, b] = [3 * (f * n + from), 3 * (f * n + to)];
    return [world.positions[b]! - world.positions[a]!, world.positions[b + 1]! - world.positions[a + 1]!];
  };
  const { head, neck } = roles;
  const reach = largestOf(sampled(motion.frames, (f) => Math.hypot(...away(head, nose, f))));
  if (!(reach > 0)) return 'the nose lies on the head: nothing shows how it turns';
  const along = (f: number, isAside: boolean): number => {
    const [x, y] = away(head, nose, f);
    const [ux, uy] = neck === undefined ? [0, 1] : away(neck, head, f);
    const size = Math.hypot(ux, uy) || 1;
    const own = (isAside ? x * uy - y * ux : -(x * ux + y * uy)) / size / reach;
    return (Math.asin(Math.max(-1, Math.min(1, own))) * 180) / Math.PI;
  };
  const centred = (values: Float64Array): Float64Array => {
    const middle = median(values);
    return values.map((value) => value - middle);
  };
  return {
    turn: centred(sampled(motion.frames, (f) => along(f, true))),
    pitch: centred(sampled(motion.frames, (f) => along(f, false))),
  };
}

interface Look {
  readonly from: number;
  readonly to: number;
  /** Degrees away from where the head mostly faces: over 0 to the left, and down. */
  readonly turn: number;
  readonly pitch: number;
}

/** A look one way that is broken by a twitch is one look. */
function joinLooks(looks: readonly Look[], gap: number): Look[] {
  const joined: Look[] = [];
  for (const look of looks) {
    const last = joined.at(-1);
    if (last && look.from - last.to <= gap && look.turn * last.turn + look.pitch * last.pitch > 0)
      joined[joined.length - 1] = {
        from: last.from,
        to: look.to,
        turn: (last.turn + look.turn) / 2,
        pitch: (last.pitch + look.pitch) / 2,
      };
    else joined.push(look);
  }
  return joined;
}

function readingsOf(shot: PreparedShot, looks: readonly Look[]): Measured {
  const counted = made(
    COUNT.of(looks.length, looks.length > 0 ? { frames: looks.map(({ from }) => labelOf(shot, from)) } : {}),
  );
  if (looks.length === 0)
    return together(counted, refuse([FRAMES], 'the head holds no look away from where it mostly faces'));
  return together(
    counted,
    made(
      ...looks.map(({ from: first, to: last, turn, pitch }) => {
        const [from, to] = [labelOf(shot, first), labelOf(shot, last)];
        const degrees = Math.abs(turn) >= Math.abs(pitch) ? turn : pitch;
        const detail = { from, to, degrees: roundTo4(degrees), turn: roundTo4(turn), pitch: roundTo4(pitch) };
        return FRAMES.of(to - from, { frames: [from, to], detail });
      }),
    ),
  );
}
