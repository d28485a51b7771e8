/** Key poses that a plan may name and the core finds by itself: of a gait, of a jump, of a take, of a look. */
export const PLANNED_POSES = [
  'contact',
  'down',
  'passing',
  'up',
  'crouch',
  'take-off',
  'top',
  'landing',
  'squash',
  'anticipation',
  'accent',
  'look',
] as const;
export type PlannedPoseName = (typeof PLANNED_POSES)[number];

/** Those of a step: they may be planned as a share of it. */
export const POSES_OF_A_STEP: readonly string[] = ['down', 'passing', 'up'] satisfies PlannedPoseName[];

/** Whether the core finds a pose of this name by itself; one of another name needs its pose. */
export const isFoundByName = (name: string): boolean => (PLANNED_POSES as readonly string[]).includes(name);

/**
 * A pose as it can be held against any figure's: the direction of each part, a unit vector in the figure's own forward, left and up, by the
 * names that quantities have for parts (of what has no body, by the joints' own names).
 */
export interface OwnPose {
  readonly directions: Readonly<Record<string, readonly [forward: number, left: number, up: number]>>;
  /** How high the middle of the hips is over the ground, %L, where that is known. */
  readonly height?: number;
  /** Drawn from the side: what its parts do across the figure is not told. */
  readonly drawn?: true;
}

/** A pose that a brief plans, and when. */
export interface PlannedPose {
  /** One of {@link PLANNED_POSES}, or a name of its own, which then has its pose. */
  readonly name: string;
  /** Label of the frame it is planned at; left out where it is a share of the step. */
  readonly frame?: number;
  /** Share of the step behind each contact, percent. */
  readonly share?: number;
  /** The leg that lands or carries, `leg.L` or `leg.R`; either where it is left out. */
  readonly part?: string;
  /** Frames that it may come earlier or later. */
  readonly tolerance: number;
  readonly pose?: OwnPose;
}
