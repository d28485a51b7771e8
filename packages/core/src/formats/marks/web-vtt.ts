import { type FrameMark, linesOf, type MarkedShot, secondsOf } from './frame-mark.ts';

/**
 * Marks as cues that stand while a clip of the shot plays (W3C, *WebVTT: The Web Video Text Tracks Format*). A cue is a mark: its name is the mark's
 * id, and it stands from the beginning of its first frame to the end of its last.
 *
 * @example writeWebVtt([mark], { name: 'Night round', file: 'walk.bvh', fps: 24, first: 1, frames: 25 })
 */
export function writeWebVtt(marks: readonly FrameMark[], shot: MarkedShot): string {
  const cues = [...marks]
    .sort((a, b) => a.from - b.from || a.to - b.to)
    .map((mark) => {
      const [begins, ends] = secondsOf(mark, shot).map((seconds) => Math.max(0, seconds)) as [number, number];
      const text = linesOf(mark)
        .flatMap((line) => line.split(/\s*\n\s*/))
        .filter((line) => line !== '');
      return `${mark.id}\n${clock(begins)} --> ${clock(Math.max(ends, begins + 0.001))}\n${text.map(escaped).join('\n')}\n`;
    });
  return `WEBVTT - ${oneLine(shot.name)}\n\n${cues.join('\n')}`;
}

/** Hours, minutes, seconds and thousandths. */
function clock(seconds: number): string {
  const all = Math.round(1000 * seconds);
  const two = (value: number): string => String(value).padStart(2, '0');
  const parts = [Math.floor(all / 3_600_000), Math.floor(all / 60_000) % 60, Math.floor(all / 1000) % 60].map(two);
  return `${parts.join(':')}.${String(all % 1000).padStart(3, '0')}`;
}

const ESCAPES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;' };
/** A line of a cue: it holds no arrow of its own, and no tag. */
const escaped = (text: string): string => text.replace(/[&<>]/g, (letter) => ESCAPES[letter]!);
const oneLine = (text: string): string => text.replace(/-->/g, '→').replace(/\s+/g, ' ').trim();
