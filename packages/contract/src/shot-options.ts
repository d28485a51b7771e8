import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import type { BriefContent } from './briefs.ts';

/** What a brief says about how its shots are measured. */
export type MeasuringBrief = Pick<
  BriefContent,
  'kind' | 'alsoKinds' | 'fps' | 'ground' | 'groundHeight' | 'still' | 'groups' | 'plan'
>;

/** What a revision's own corrections say. */
export interface MeasuringRevision {
  readonly firstFrame: number;
  readonly loop: NonNullable<ShotOptions['loop']>;
  readonly up?: NonNullable<ShotOptions['up']>;
  readonly animation?: string | null;
  readonly figure?: string | null;
  readonly roles: Readonly<Record<string, string | null>>;
}

/**
 * How a shot is measured: from its brief and its revision, here and nowhere else. The brief's rate rules over the file's: exporters write
 * a rate of their own into files whose frames were timed for the exercise's.
 *
 * @example shotOptions({ kind: 'walk', alsoKinds: [], fps: 24, ground: 'auto', groundHeight: null, still: [], groups: [], plan: [] }, { firstFrame: 1, loop: 'repeat', roles: {} })
 */
export const shotOptions = (
  { kind, alsoKinds, fps, ground, groundHeight, still, groups, plan }: MeasuringBrief,
  { firstFrame, loop, up = 'auto', animation, figure, roles }: MeasuringRevision,
): ShotOptions => ({
  kind,
  alsoKinds,
  fps,
  ground,
  ...(groundHeight !== null && { groundHeight }),
  still,
  groups,
  plan,
  firstFrame,
  loop,
  up,
  ...(animation != null && { animation }),
  ...(figure != null && { figure }),
  roles,
});
