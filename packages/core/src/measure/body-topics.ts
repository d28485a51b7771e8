import { bodyGroupOf } from '../motion/regions.ts';
import type { BodyTopic } from '../trade/body-topics.ts';
import type { Reading } from './reading.ts';
import { MEASURES, readingKind } from './registry.ts';

/** What readings are about that say so, or whose family does, whatever part shows them. */
const ABOUT: ReadonlyMap<string, BodyTopic> = new Map(
  MEASURES.flatMap(({ about: ofAll, readings }) =>
    readings.flatMap(({ id, about = ofAll }) => (about === undefined ? [] : [[id, about] as const])),
  ),
);

const BY_PART: Readonly<Record<string, BodyTopic>> = {
  hips: 'hips',
  pelvis: 'hips',
  spine: 'trunk',
  trunk: 'trunk',
  chest: 'trunk',
  shoulders: 'trunk',
};

/** What of a body a reading is about. */
export function bodyTopicOf({ id, part }: Pick<Reading, 'id' | 'part'>): BodyTopic {
  const own = ABOUT.get(id);
  if (own) return own;
  const kind = readingKind(id);
  const of = part ?? kind?.shows;
  if (of !== undefined && BY_PART[of]) return BY_PART[of];
  const group = (of === undefined ? undefined : bodyGroupOf(of)) ?? kind?.region;
  switch (group) {
    case 'legs and feet':
      return 'legs';
    case 'arms and hands':
      return 'arms and hands';
    case 'head':
      return 'head';
    case 'what drags':
      return 'what drags';
    case 'body':
      return 'hips';
    default:
      return 'timing';
  }
}
