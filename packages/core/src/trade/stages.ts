/** Stages of an exercise, in order. A note belongs to a stage: polish is not looked for in blocking. */
export const STAGES = ['planning', 'blocking', 'breakdowns', 'smoothing', 'polish'] as const;
export type Stage = (typeof STAGES)[number];
