import type { FollowedPoint, Tracks } from '@ypsigraph/contract/pictures';
import type { FollowStep } from '../../workers/follow.ts';

/** Followed points are never as sure as a hand. */
const FOLLOWED_MOST = 0.99;

type Place = FollowedPoint['places'][number];

/** Whether a place was put there by a hand. */
export const byHand = ([, , , confidence]: Readonly<Place>): boolean => confidence === 1;

const withPoint = (tracks: Tracks, name: string, change: (places: Place[]) => Place[]): Tracks => ({
  ...tracks,
  points: tracks.points.map((point) =>
    point.name === name ? { ...point, places: change(point.places).sort((a, b) => a[0] - b[0]) } : point,
  ),
});

const rounded = (value: number): number => Math.round(100 * value) / 100;

/** A new point, known nowhere yet. */
export const addPoint = (tracks: Tracks, name: string): Tracks =>
  tracks.points.some((point) => point.name === name)
    ? tracks
    : { ...tracks, points: [...tracks.points, { name, places: [] }] };

/** Without a point, and without what was said of it. */
export const dropPoint = (tracks: Tracks, name: string): Tracks => ({
  ...tracks,
  points: tracks.points.filter((point) => point.name !== name),
  still: tracks.still.filter((own) => own !== name),
  pairs: tracks.pairs.filter((pair) => !pair.includes(name)),
  shapes: tracks.shapes.filter((shape) => !shape.includes(name)),
  chains: tracks.chains.filter((chain) => !chain.includes(name)),
});

export const renamePoint = (tracks: Tracks, from: string, to: string): Tracks => {
  if (to === '' || tracks.points.some(({ name }) => name === to)) return tracks;
  const own = (name: string): string => (name === from ? to : name);
  return {
    ...tracks,
    points: tracks.points.map((point) => ({ ...point, name: own(point.name) })),
    still: tracks.still.map(own),
    pairs: tracks.pairs.map(([a, b]) => [own(a), own(b)]),
    shapes: tracks.shapes.map(([a, b, c, d]) => [own(a), own(b), own(c), own(d)]),
    chains: tracks.chains.map((chain) => chain.map(own)),
  };
};

/** A hand puts a point at a place of the picture at a sample. */
export const placePoint = (tracks: Tracks, name: string, sample: number, x: number, y: number): Tracks =>
  withPoint(tracks, name, (places) => [...places.filter(([at]) => at !== sample), [sample, rounded(x), rounded(y), 1]]);

/** Takes a point's place at a sample away. */
export const liftPoint = (tracks: Tracks, name: string, sample: number): Tracks =>
  withPoint(tracks, name, (places) => places.filter(([at]) => at !== sample));

/** Puts what was followed in place of what was followed there before; what a hand placed stays. */
export const followedTo = (tracks: Tracks, name: string, steps: readonly FollowStep[]): Tracks =>
  withPoint(tracks, name, (places) => {
    const held = new Set(places.filter(byHand).map(([at]) => at));
    const own = steps.filter(({ sample, confidence }) => !held.has(sample) && confidence >= 0.5);
    const gone = new Set(steps.map(({ sample }) => sample));
    return [
      ...places.filter((place) => byHand(place) || !gone.has(place[0])),
      ...own.map(({ sample, x, y, confidence }): Place => [
        sample,
        rounded(x),
        rounded(y),
        Math.min(FOLLOWED_MOST, Math.round(1000 * confidence) / 1000),
      ]),
    ];
  });

/**
 * The samples a point is followed through from one on: up to the next that a hand placed, without it, or to the end.
 * @returns the sample itself first
 */
export function samplesAhead({ places }: FollowedPoint, sample: number, direction: 1 | -1, frames: number): number[] {
  const held = places.filter(byHand).map(([at]) => at);
  const stop =
    direction > 0
      ? Math.min(frames, ...held.filter((at) => at > sample))
      : Math.max(-1, ...held.filter((at) => at < sample));
  const ahead = [];
  for (let at = sample; at !== stop; at += direction) ahead.push(at);
  return ahead;
}

/** Where a point is at a sample: placed, followed, or on the straight way between two that are known. */
export function placeOf(
  { places }: FollowedPoint,
  sample: number,
): { x: number; y: number; how: 'placed' | 'followed' | 'between'; confidence: number } | undefined {
  const after = places.findIndex(([at]) => at >= sample);
  const here = places[after];
  if (here && here[0] === sample)
    return { x: here[1], y: here[2], how: byHand(here) ? 'placed' : 'followed', confidence: here[3] };
  const before = after < 0 ? places.at(-1) : places[after - 1];
  if (!before || !here) return undefined;
  const u = (sample - before[0]) / (here[0] - before[0]);
  return {
    x: before[1] + u * (here[1] - before[1]),
    y: before[2] + u * (here[2] - before[2]),
    how: 'between',
    confidence: 0,
  };
}
