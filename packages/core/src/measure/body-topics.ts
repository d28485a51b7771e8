import { bodyGroupOf } from '../motion/regions.ts';
import type { Reading } from './reading.ts';
import { readingKind } from './registry.ts';

/** What readings are of, in the order in which a teacher goes through a body. */
export const BODY_TOPICS = [
  'feet and ground',
  'legs',
  'hips',
  'trunk',
  'head',
  'arms and hands',
  'what drags',
  'timing',
  'loop',
] as const;
export type BodyTopic = (typeof BODY_TOPICS)[number];

/** Families that are told by what they are about, whatever part shows it. */
const BY_FAMILY: readonly (readonly [family: RegExp, topic: BodyTopic])[] = [
  [/^(cycle|mirror)\./, 'loop'],
  [/^knee\./, 'legs'],
  [/^(foot|step)\.|^gait\.(slide|even|depth|float|stepLength|track|contact|stance|flight)$/, 'feet and ground'],
  [/^(exposure|chart|breakdown|move|hold|look|plan|keys|starts)\./, 'timing'],
  [/^gait\.(step|down|passing|up|lowAfter)$|^jump\.(takeoff|apex|landing|air|settle)$|^hang\./, 'timing'],
];

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
  const kind = readingKind(id);
  const own = BY_FAMILY.find(([family]) => family.test(id))?.[1];
  if (own) return own;
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
