import { GAITS } from '../../motion/kinds.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { describeReading, holding } from '../describe.ts';
import { deviation, mean } from '../../signal/statistics.ts';
import { made, type Measured, refuse } from '../reading.ts';
import { type GaitView, type Landing, viewGait } from './gait-view.ts';

const SEEN = ['steps', 'steps about', 'hops', 'hops on one foot', 'stands'] as const;

const KIND_SEEN = describeReading({
  id: 'kind.seen',
  holds: holding<(typeof SEEN)[number]>(),
  name: 'what the feet do',
  unit: 'kind',
  needs: 'hips and both feet',
  kinds: GAITS,
  mark: 'note',
  values: SEEN,
  region: 'legs and feet',
  say: ({ value }) =>
    value === 'steps'
      ? 'one foot lands after the other'
      : value === 'stands'
        ? 'this is no walk: nobody takes a step'
        : value === 'hops'
          ? 'this is no walk: both feet land together, again and again'
          : value === 'steps about'
            ? 'this is no walk: its steps go to and fro and take unlike times'
            : 'this is no walk: it hops on one foot',
});
export const KINDS_SEEN = [KIND_SEEN] as const;

export const KIND_SEEN_DEFAULTS = Object.freeze({
  /** Feet that land within so many frames of each other, at 24 fps, land together. */
  together: 1.5,
  /** So many of the landings must. */
  share: 0.7,
  /** Fewer steps than this make no habit … */
  steps: 8,
  /** … of more, so many lead the one way and so many the other where somebody only steps about … */
  back: 0.25,
  /** … and their times differ by so much of what they take on average. */
  uneven: 0.5,
});

/** `kind.seen`: whether the feet take steps, as a walk and a run do, or hop, or stand. */
export function measureKindSeen(shot: PreparedShot): Measured {
  const view = viewGait(shot);
  if (typeof view === 'string') return refuse(KINDS_SEEN, view);
  // A foot that never leaves does not land either, however the shot goes round.
  const own = view.landings.filter(({ standing, at, until }) => !standing && until - at < view.frames - 1);
  if (own.length === 0) return made(KIND_SEEN.of(view.landings.length > 1 ? 'stands' : 'steps'));
  const reach = KIND_SEEN_DEFAULTS.together * (shot.fps / 24);
  const apart = (a: Landing, b: Landing): number => {
    const gap = Math.abs(a.at - b.at);
    return view.wraps ? Math.min(gap, view.frames - gap) : gap;
  };
  const paired = own.filter((landing) =>
    own.some((other) => other.side !== landing.side && apart(landing, other) <= reach),
  );
  const left = own.filter(({ side }) => side === 'L').length;
  const hops = paired.length >= Math.max(2, KIND_SEEN_DEFAULTS.share * own.length);
  const isOne =
    own.length > 1 && (left === 0 || left === own.length) && !view.landings.some(({ side }) => side !== own[0]!.side);
  return made(KIND_SEEN.of(hops ? 'hops' : isOne ? 'hops on one foot' : stepsAbout(view) ? 'steps about' : 'steps'));
}

/** Whether the feet go to and fro, each step in its own time, as a boxer's do: a limp has two times, a walk backwards one way. */
function stepsAbout(view: GaitView): boolean {
  const { roles } = view.shot;
  const order = view.landings.filter(({ standing }) => !standing).sort((a, b) => a.at - b.at);
  const steps = order
    .slice(1)
    .flatMap((landing, k) => (landing.side === order[k]!.side ? [] : [landing.at - order[k]!.at]));
  if (steps.length < KIND_SEEN_DEFAULTS.steps) return false;
  const back = order.filter(({ side, at }) => {
    const [own, other] = side === 'L' ? [roles['foot.L']!, roles['foot.R']!] : [roles['foot.R']!, roles['foot.L']!];
    return view.forward(own, at) < view.forward(other, at);
  }).length;
  return (
    Math.min(back, order.length - back) >= KIND_SEEN_DEFAULTS.back * order.length &&
    deviation(steps) >= KIND_SEEN_DEFAULTS.uneven * mean(steps)
  );
}
