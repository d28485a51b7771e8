import type { Under } from '@ypsigraph/contract/shots';
import { type Box, movingBox } from '@ypsigraph/core/track/moving-box';
import type { FrameSource } from '../frames/frame-source.ts';
import type { PaperPoint, PaperScene } from '../paper/paper-scene.ts';
import type { PictureFrames } from './picture-frames.ts';
import { smallLumas } from './small-lumas.ts';

/** Frames that are looked at, on either side. */
const LOOKED_AT = 24;
/** What a joint needs to go, in legs, to be among what moves … */
const MOVES = 0.04;
/** … and how far the body reaches beyond its joints. */
const FLESH = 0.07;
/** A clip in which nothing, or everything, moves is laid so that it is this many legs high. */
const USUAL: Under = { x: 0, y: 0, height: 2.6 };
/** Share of a picture's width or height that is all of it: behind a camera that moves. */
const ALL = 0.97;

/** A box in leg lengths about the middle of the figure, y up. */
export interface FigureBox {
  readonly left: number;
  readonly right: number;
  readonly bottom: number;
  readonly top: number;
}

/**
 * Lays a clip beneath the figure so that what moves on the one lies where the other moves: as high, and with its middle there.
 *
 * @param aspect the picture's width over its height
 */
export function fitUnder(moving: Box | undefined, aspect: number, figure: FigureBox | undefined): Under {
  if (!moving || !figure) return USUAL;
  const high = moving.bottom - moving.top;
  if (high >= ALL || moving.right - moving.left >= ALL || figure.top - figure.bottom < MOVES) return USUAL;
  const height = (figure.top - figure.bottom) / high;
  return {
    height,
    x: (figure.left + figure.right) / 2 - ((moving.left + moving.right) / 2 - 0.5) * height * aspect,
    y: (figure.bottom + figure.top) / 2 - (0.5 - (moving.top + moving.bottom) / 2) * height,
  };
}

/** Where on a clip something moves, by some of its small pictures. */
export async function movingOn(frames: PictureFrames): Promise<Box | undefined> {
  const { facts } = frames;
  const every = Math.max(1, Math.floor(facts.frames / LOOKED_AT));
  const samples = Array.from({ length: Math.ceil(facts.frames / every) }, (_, k) => k * every);
  return movingBox(await smallLumas(frames, samples));
}

/** Where the joints that move go, as they are seen now. */
export function figureBox(source: FrameSource, scene: PaperScene): FigureBox | undefined {
  const middle = scene.middle?.();
  if (!middle || source.pointNames.length === 0) return undefined;
  const leg = 1 / scene.unitsPerPixel;
  const every = Math.max(1, Math.floor(source.frames / LOOKED_AT));
  const out: PaperPoint = { x: 0, y: 0, depth: 0 };
  let [left, right, bottom, top] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let point = 0; point < source.pointNames.length; point++) {
    let [l, r, b, t] = [Infinity, -Infinity, Infinity, -Infinity];
    for (let sample = 0; sample < source.frames; sample += every) {
      scene.project(sample, point, out);
      const [x, y] = [(out.x - middle.x) / leg, (middle.y - out.y) / leg];
      [l, r, b, t] = [Math.min(l, x), Math.max(r, x), Math.min(b, y), Math.max(t, y)];
    }
    if (Math.max(r - l, t - b) < MOVES) continue;
    [left, right, bottom, top] = [Math.min(left, l), Math.max(right, r), Math.min(bottom, b), Math.max(top, t)];
  }
  if (left > right) return undefined;
  return { left: left - FLESH, right: right + FLESH, bottom: bottom - FLESH, top: top + FLESH };
}
