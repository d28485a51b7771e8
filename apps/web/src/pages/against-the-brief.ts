import type { Brief } from '@ypsigraph/contract/courses';

/** What of a motion its brief says something about. */
export interface ReadMotion {
  readonly frames: number;
  /** The rate that the file itself names. */
  readonly fps: number;
  /** How it was found to loop. */
  readonly habit: 'none' | 'repeat' | 'follow';
}

const LOOPS: Readonly<Record<ReadMotion['habit'], string>> = {
  none: 'is no loop',
  repeat: 'is a loop whose last frame repeats the first',
  follow: 'is a loop whose last frame comes just before the first',
};
const WANTED: Readonly<Record<ReadMotion['habit'], string>> = {
  none: 'no loop',
  repeat: 'a loop whose last frame repeats the first',
  follow: 'a loop whose last frame comes just before the first',
};

/** Where a motion is other than its brief asks, in words: nothing is refused for it. */
export function againstTheBrief(
  { frames, fps, habit }: ReadMotion,
  brief: Pick<Brief, 'frames' | 'fps' | 'loop'>,
): string[] {
  const said: string[] = [];
  // Of a loop whose last frame repeats the first that frame is no more of it.
  const length = habit === 'repeat' ? frames - 1 : frames;
  if (brief.frames !== null && brief.frames !== length)
    said.push(`The exercise takes ${brief.frames} frames; this takes ${length}.`);
  if (Math.abs(fps - brief.fps) > 0.05)
    said.push(
      `The file says ${Number(fps.toFixed(2))} frames a second; the exercise runs at ${Number(brief.fps.toFixed(2))}, and its frames are taken as such.`,
    );
  if (brief.loop !== 'auto' && brief.loop !== habit)
    said.push(`The exercise asks for ${WANTED[brief.loop]}; this ${LOOPS[habit]}.`);
  return said;
}
