import { useMemo } from 'react';
import { pictureFacts } from '@ypsigraph/contract/pictures';
import type { Clip, Revision, Shot } from '@ypsigraph/contract/shots';
import { NO_TRACKS } from '@ypsigraph/core/track/picture-shot';
import type { FrameSource } from '../frames/frame-source.ts';
import { IDENTITY, type LabelMap } from '../frames/label-map.ts';
import { PictureSource } from './picture-source.ts';
import { usePictureFrames } from './use-picture-source.ts';

/** The clip that came with a motion, on the motion's own axis. */
export interface ClipBeside {
  readonly clip: Clip;
  readonly source: FrameSource;
  /** The label of its own that is seen at a label of the motion. */
  readonly labelMap: LabelMap;
}

/** Rates that differ by less than this share are one. */
const ONE_RATE = 0.01;

/**
 * Which frame of a clip belongs to a label of the motion. Where both run at one rate they go on frame by frame; else the clip shows what it shows at
 * that time, so that one on twelve frames a second stands for two of twenty-four.
 *
 * @param firstLabel label at which the clip's first frame is seen, and begins
 * @returns the clip's own label, which is `firstLabel` at its first frame
 *
 * @example clipLabel(1, 12, 24)(4) // 2: its second frame stands from 3 to 4
 */
export const clipLabel = (firstLabel: number, clipFps: number, fps: number): LabelMap =>
  Math.abs(clipFps / fps - 1) < ONE_RATE
    ? IDENTITY
    : (label) => firstLabel + Math.floor(((label - firstLabel) * clipFps) / fps + 1e-6);

/**
 * The clip of a motion's revision; undefined where it has none, or its pictures are not there.
 * @param movedTo label to which its first frame was moved on this page
 */
export function useClipBeside(
  shot: Shot,
  revision: Revision | undefined,
  motion: FrameSource | undefined,
  movedTo?: number,
): ClipBeside | undefined {
  const clip = revision?.clip ?? undefined;
  const pictures = clip?.made && !clip.refused ? revision!.id : null;
  const { frames } = usePictureFrames(pictures);
  const firstLabel = movedTo ?? clip?.firstLabel;
  const source = useMemo(() => {
    // A sound alone has no frames.
    if (!frames || frames.facts.frames === 0 || firstLabel === undefined) return undefined;
    const options = { kind: 'any', firstFrame: firstLabel, loop: 'none' } as const;
    return new PictureSource(frames, pictureFacts(frames.facts, shot.brief), NO_TRACKS, options);
  }, [frames, firstLabel, shot.brief]);
  return useMemo(
    () =>
      clip && source && motion
        ? { clip, source, labelMap: clipLabel(source.first, source.fps, motion.fps) }
        : undefined,
    [clip, source, motion],
  );
}
