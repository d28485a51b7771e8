import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, mean } from '../../motion/vector.ts';
import { headFacing } from './head-signal.ts';
import { movesAndHolds, scalarSignal } from '../moves/moves-and-holds.ts';
import { made, type Measured, tidy, together, unmade } from '../reading.ts';

export const LOOK_DEFAULTS = Object.freeze({
  /** The head looks away from where it mostly faces by this share of its largest turn at least … */
  away: 0.5,
  /** … and by so many degrees. */
  least: 6,
  /** A look this short is still one, if one nobody sees; frames at 24 fps. */
  shortest: 2,
});

export const LOOK_IDS = ['look.count', 'look.frames'] as const;

/** `look.count` and `look.frames`: the holds of the head's turn away from its mean direction, and how long each lasts. */
export function measureLooks(shot: PreparedShot): Measured {
  const facing = headFacing(shot);
  if (!facing) return together(...LOOK_IDS.map((id) => unmade(id, 'the head is not known; set the roles')));
  const { turn } = facing;
  if (turn.length < 6)
    return together(...LOOK_IDS.map((id) => unmade(id, `it needs 6 frames or more, the shot has ${turn.length}`)));
  const away = Math.max(LOOK_DEFAULTS.least, LOOK_DEFAULTS.away * largestOf(turn.map(Math.abs)));
  const looks = movesAndHolds(scalarSignal(turn), shot.fps, LOOK_DEFAULTS.shortest).flatMap(({ kind, from, to }) => {
    const angle = mean(turn.subarray(from, to + 1));
    return kind === 'hold' && Math.abs(angle) >= away ? [{ from, to, angle }] : [];
  });
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
  const count = made({
    id: 'look.count',
    value: looks.length,
    unit: 'count',
    ...(looks.length > 0 && { frames: looks.map(({ from }) => labelOf(shot, from)) }),
  });
  if (looks.length === 0)
    return together(count, unmade('look.frames', 'the head holds no look away from where it mostly faces'));
  return together(
    count,
    made(
      ...looks.map(({ from, to, angle }) => ({
        id: 'look.frames',
        value: to - from,
        unit: 'frames',
        frames: [labelOf(shot, from), labelOf(shot, to)],
        detail: { from: labelOf(shot, from), to: labelOf(shot, to), degrees: tidy(angle) },
      })),
    ),
  );
}
