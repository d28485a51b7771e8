import { writeWebm } from '../../kit/write-webm.ts';
import type { FrameClock } from '../frames/frame-clock.ts';
import { framesText } from '../margin/frames-text.ts';
import type { PlacedMark } from '../marks/placed-marks.ts';
import { readInks } from '../paper/overlay.ts';
import { type HeardSound, secondsAt } from '../sound/heard-sound.ts';
import { axisOn, captionLines } from './caption.ts';

/** What a film of a review shows. */
export interface Reviewed {
  /** What stands beneath the picture: exercise, student and revision. */
  readonly title: string;
  readonly marks: readonly Pick<PlacedMark, 'kind' | 'from' | 'to' | 'words'>[];
  readonly sound: HeardSound | undefined;
}

/** Longest side of the film, points of colour. */
const WIDEST = 1280;
/** Height of what stands beneath the picture, at the size of the page. */
const CAPTION = 92;
/** A picture that does not come within this is filmed as it is, milliseconds. */
const PATIENCE_MS = 8_000;

/**
 * A review to watch, as a WebM clip: the paper with its lenses and marks at every frame, its number, where it lies on the axis, and the words of
 * the marks that are about it; with its sound, where it has one. The shot is stepped through on the desk while it is made, and stands again where it stood.
 *
 * @param paper the paper on the page
 * @param tell how much of it is done, 0 to 1
 * @throws Error where the browser writes no such clip, or the work was ended
 */
export async function reviewFilm(
  clock: FrameClock,
  paper: Element,
  { title, marks, sound }: Reviewed,
  tell: (share: number) => void,
  signal: AbortSignal,
): Promise<Blob> {
  const { first, last, fps, frame: stood } = clock.get();
  const frames = last - first + 1;
  const seen = paper.getBoundingClientRect();
  const scale = Math.min(2, WIDEST / seen.width);
  const inks = readInks(paper);
  const ground = getComputedStyle(paper).backgroundColor;
  const [sans, mono] = ['--font-sans', '--font-mono'].map((name) => getComputedStyle(paper).getPropertyValue(name));
  try {
    return await writeWebm(
      {
        width: scale * seen.width,
        height: scale * (seen.height + CAPTION),
        fps,
        frames,
        sound: sound && (await heardFrom(sound, first, frames / fps)),
        async draw(context, sample) {
          const label = first + sample;
          clock.seek(label);
          await painted(paper, signal);
          context.setTransform(scale, 0, 0, scale, 0, 0);
          context.fillStyle = inks.sheet;
          context.fillRect(0, 0, seen.width, seen.height + CAPTION);
          context.fillStyle = ground;
          context.fillRect(0, 0, seen.width, seen.height);
          for (const canvas of paper.querySelectorAll('canvas')) {
            const { x, y, width, height } = canvas.getBoundingClientRect();
            if (canvas.width > 0 && canvas.height > 0 && getComputedStyle(canvas).visibility !== 'hidden')
              context.drawImage(canvas, x - seen.x, y - seen.y, width, height);
          }
          // The caption: the axis with its mark, the frame's number, whose it is, and what is said of it.
          const { at, y } = axisOn(sample, frames, seen.width, seen.height);
          context.fillStyle = inks.wash;
          context.fillRect(0, y, seen.width, 6);
          context.fillStyle = inks.ink;
          context.fillRect(at - 2, y - 2, 4, 10);
          context.font = `600 20px ${mono}`;
          context.textBaseline = 'alphabetic';
          context.textAlign = 'right';
          context.fillText(String(label), seen.width - 12, seen.height + 36);
          context.font = `12px ${sans}`;
          context.fillStyle = inks.graphite;
          context.fillText(title, seen.width - 12, seen.height + 54);
          context.textAlign = 'left';
          context.fillStyle = inks.instructor;
          context.font = `14px ${sans}`;
          const about = marks.filter(({ from, to }) => label >= from && label <= to);
          const texts = about.map((mark) => `${mark.kind}, ${framesText(mark)}: ${mark.words}`);
          captionLines(texts, seen.width - 240, (text) => context.measureText(text).width).forEach((line, k) =>
            context.fillText(line, 12, seen.height + 34 + 18 * k),
          );
        },
      },
      tell,
      signal,
    );
  } finally {
    clock.seek(stood);
  }
}

const nextPaint = (): Promise<unknown> => new Promise(requestAnimationFrame);

/** Waits until a frame is drawn: of pictures until its own has come. */
async function painted(paper: Element, signal: AbortSignal): Promise<void> {
  const until = performance.now() + PATIENCE_MS;
  await nextPaint();
  await nextPaint();
  while (paper.querySelector('canvas[data-sharp="false"]') && performance.now() < until) {
    signal.throwIfAborted();
    await nextPaint();
  }
}

/** A sound from a label on, as long as the film. */
async function heardFrom(sound: HeardSound, first: number, seconds: number): Promise<AudioBuffer | undefined> {
  const answer = await fetch(sound.address);
  if (!answer.ok) throw new Error('The sound of the shot can’t be had just now.');
  const rate = 48_000;
  const context = new OfflineAudioContext(2, Math.ceil(seconds * rate), rate);
  const buffer = await context.decodeAudioData(await answer.arrayBuffer());
  const source = context.createBufferSource();
  source.buffer = buffer;
  source.connect(context.destination);
  const at = secondsAt(sound, first);
  // What sounds before the first frame is left out; where the sound begins later it is silent until then.
  source.start(Math.max(0, -at), sound.facts.startsAt + Math.max(0, at));
  return context.startRendering();
}
