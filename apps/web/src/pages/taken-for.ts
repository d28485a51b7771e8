import type { Motion } from '@ypsigraph/core/motion/motion';

/** What a file was taken for, where that was put right before it is handed in. */
export interface TakenFor {
  /** Joints that are which part of the figure; null for none. */
  readonly roles: Readonly<Record<string, string | null>>;
  readonly animation?: string | undefined;
  readonly figure?: string | undefined;
}

/** A file of which nobody has said anything yet. */
export const UNTOUCHED: TakenFor = Object.freeze({ roles: Object.freeze({}) });

/**
 * What was answered of a student's last file, as far as it can be said of the next: the animation and the figure of those names, and roles where the file
 * has every joint that was named.
 *
 * @returns undefined where nothing of it fits
 */
export function answersFor(
  { joints, holds }: Pick<Motion, 'joints' | 'holds'>,
  { roles, animation, figure }: TakenFor,
): TakenFor | undefined {
  const fits = (names: readonly string[] | undefined, own: string | undefined): own is string =>
    own !== undefined && names !== undefined && names.indexOf(own) > 0;
  const known = new Set(joints.map(({ name }) => name));
  const isRead = figure === undefined || figure === holds?.figures[0];
  const all = Object.values(roles).every((joint) => joint === null || known.has(joint));
  const own: TakenFor = {
    roles: isRead && all ? roles : {},
    ...(fits(holds?.animations, animation) && { animation }),
    ...(fits(holds?.figures, figure) && { figure }),
  };
  return (own.animation ?? own.figure ?? Object.keys(own.roles)[0]) ? own : undefined;
}
