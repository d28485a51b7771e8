import type { BriefContent } from './briefs.ts';

/** What of a motion its brief says something about. */
export interface ReadMotion {
  readonly frames: number;
  /** The rate that the file itself names. */
  readonly fps: number;
  /** Its seconds are its own: another rate would be another motion. */
  readonly isTimed?: boolean;
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

/** Something a motion does not keep to, and which of the brief's rules says what becomes of that. */
export interface Against {
  readonly rule: keyof BriefContent['rules'];
  readonly say: string;
}

/** Where a motion is other than its brief asks, in words. */
export function againstTheBrief(
  { frames, fps, isTimed, habit }: ReadMotion,
  brief: Pick<BriefContent, 'frames' | 'fps' | 'loop'>,
): Against[] {
  const said: Against[] = [];
  // Of a loop whose last frame repeats the first that frame is no more of it.
  const length = habit === 'repeat' ? frames - 1 : frames;
  if (brief.frames !== null && brief.frames !== length)
    said.push({ rule: 'length', say: `The exercise takes ${brief.frames} frames; this takes ${length}.` });
  if (Math.abs(fps - brief.fps) > 0.05)
    said.push({
      rule: 'rate',
      say: isTimed
        ? `The file is keyed at ${Number(fps.toFixed(2))} frames a second; the exercise runs at ${Number(brief.fps.toFixed(2))}.`
        : `The file says ${Number(fps.toFixed(2))} frames a second; the exercise runs at ${Number(brief.fps.toFixed(2))}, and its frames are taken as such.`,
    });
  if (brief.loop !== 'auto' && brief.loop !== habit)
    said.push({ rule: 'loop', say: `The exercise asks for ${WANTED[brief.loop]}; this ${LOOPS[habit]}.` });
  return said;
}
