import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, mean } from '../../signal/statistics.ts';
import { headFacing } from './head-signal.ts';
import { count, frames } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
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
  unseen: 'depth',
  thrownBy: { strayFrame: true },
  say: ({ value }) => `the head holds ${count(value, 'look')} away from where it mostly faces`,
});
const FRAMES = describeReading({
  id: 'look.frames',
  holds: holding<number, { from: number; to: number; degrees: number }>(),
  name: 'length of a look',
  unit: 'frames',
  needs: 'a head that turns and holds',
  kinds: KINDS_WITH_LOOKS,
  time: true,
  fromPoses: true,
  mark: 'timing',
  shows: 'head',
  unseen: 'depth',
  thrownBy: { strayFrame: true },
  say: ({ value, detail: { from, to, degrees } }) =>
    `the look to the ${degrees > 0 ? 'left' : 'right'} from ${from} to ${to} lasts ${frames(value)}`,
});

export const LOOK_DEFAULTS = Object.freeze({
  /** The head looks away from where it mostly faces by this share of its largest turn at least … */
  away: 0.5,
  /** … and by so many degrees. */
  least: 6,
  /** A look this short is still one, if one nobody sees; frames at 24 fps. */
  shortest: 2,
});

export const LOOKS = [COUNT, FRAMES] as const;

/** `look.count` and `look.frames`: the holds of the head's turn away from its mean direction, and how long each lasts. */
export function measureLooks(shot: PreparedShot): Measured {
  const facing = headFacing(shot);
  if (!facing) return refuse(LOOKS, 'the head is not known; set the roles');
  const { turn } = facing;
  if (turn.length < 6) return refuse(LOOKS, `it needs 6 poses or more, the shot has ${turn.length}`);
  const away = Math.max(LOOK_DEFAULTS.least, LOOK_DEFAULTS.away * largestOf(turn.map(Math.abs)));
  const looks = stretchesOf(scalarSignal(turn), shot.fps, { shortest: LOOK_DEFAULTS.shortest, turns: true }).flatMap(
    ({ kind, from, to }) => {
      const angle = mean(turn.subarray(from, to + 1));
      return kind === 'hold' && Math.abs(angle) >= away ? [{ from, to, angle }] : [];
    },
  );
  const joined = joinLooks(looks, Math.round(LOOK_DEFAULTS.shortest * (shot.fps / 24)));
  return readingsOf(shot, joined);
}

interface Look {
  readonly from: number;
  readonly to: number;
  /** Degrees, positive to the left. */
  readonly angle: number;
}

/** A look to one side that is broken by a twitch is one look. */
function joinLooks(looks: readonly Look[], gap: number): Look[] {
  const joined: Look[] = [];
  for (const look of looks) {
    const last = joined.at(-1);
    if (last && look.from - last.to <= gap && look.angle * last.angle > 0)
      joined[joined.length - 1] = { from: last.from, to: look.to, angle: (last.angle + look.angle) / 2 };
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
      ...looks.map(({ from: first, to: last, angle }) => {
        const [from, to] = [labelOf(shot, first), labelOf(shot, last)];
        return FRAMES.of(to - from, { frames: [from, to], detail: { from, to, degrees: roundTo4(angle) } });
      }),
    ),
  );
}
