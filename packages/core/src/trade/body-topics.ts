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
