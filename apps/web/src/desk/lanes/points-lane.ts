import { byHand } from '../pictures/edit-points.ts';
import type { Lane } from './lane.ts';

interface Known {
  readonly first: number;
  readonly name: string;
  readonly places: readonly { readonly label: number; readonly hand: boolean; readonly confidence: number }[];
}

/** Where the chosen point is known: a square where a hand placed it, a bar as high as it is sure where it was followed, nothing between. */
export const POINTS_LANE: Lane<Known> = {
  id: 'points',
  name: 'placed',
  legend: 'the chosen point: a square where a hand placed it, a bar as high as it is sure where it was followed',
  needs: 'frames',
  whilePlacing: true,
  prepare({ source }, { point, placing, placesPoints }) {
    if (!source.tracks) return undefined;
    const name = placing ?? point;
    const own = source.tracks.points.find((one) => one.name === name) ?? source.tracks.points[0];
    if (!own) return placesPoints ? { first: source.first, name: 'no point yet', places: [] } : undefined;
    const places = own.places.map((place) => ({
      label: source.first + place[0],
      hand: byHand(place),
      confidence: place[3],
    }));
    return { first: source.first, name: own.name, places };
  },
  height: () => 15,
  draw({ context, x, perFrame, from, to, height, inks }, { places }) {
    const wide = Math.max(1, Math.min(8, perFrame - 1));
    for (const { label, hand, confidence } of places) {
      if (label < from || label > to) continue;
      context.fillStyle = hand ? inks.ink : inks.graphite;
      if (hand) context.fillRect(x(label) - wide / 2, height / 2 - 3.5, wide, 7);
      else {
        const high = Math.max(1, (height - 5) * (2 * confidence - 1));
        context.fillRect(x(label) - 1, height - 2 - high, 2, high);
      }
    }
  },
  spot({ places, name }, label) {
    const own = places.find((place) => place.label === label);
    const said = own
      ? own.hand
        ? 'placed by hand'
        : `followed, ${Math.round(100 * own.confidence)} % sure`
      : 'not placed here';
    return { text: `${name}: ${said}`, from: label, to: label };
  },
};
