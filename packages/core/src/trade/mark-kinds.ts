/** Kinds of mark, in the order of their keys: contract, database and pages take them from here. `note` is words alone. */
export const MARK_KINDS = [
  'timing',
  'spacing',
  'arc',
  'breakdown',
  'overshoot',
  'moving hold',
  'amount',
  'pose',
  'delay',
  'note',
] as const;
export type MarkKind = (typeof MARK_KINDS)[number];
