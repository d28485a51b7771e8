import { useDeferredValue, useEffect, useMemo } from 'react';
import { pictureFacts, pictureOptions, type Tracks } from '@ypsigraph/contract/pictures';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { usePictures } from '../../api/data.ts';
import { PictureFrames } from './picture-frames.ts';
import { PictureSource } from './picture-source.ts';

/** The pictures of a revision, to be shown frame by frame; null where there are none. */
export function usePictureFrames(revision: string | null): { frames?: PictureFrames; error?: string } {
  const { data, error } = usePictures(revision);
  const frames = useMemo(() => (data && revision ? new PictureFrames(data, revision) : undefined), [data, revision]);
  useEffect(() => () => frames?.end(), [frames]);
  return { ...(frames && { frames }), ...(error && { error: error.message }) };
}

/** The pictures of a revision as a source of frames, with the points that are on them now. */
export function usePictureSource(
  shot: Shot | undefined,
  revision: Revision | undefined,
  tracks: Tracks | undefined,
): { source?: PictureSource; error?: string } {
  const there = revision?.media === 'pictures' && (revision.reading.state === 'read' || revision.tracks > 0);
  const { frames, error } = usePictureFrames(there ? revision.id : null);
  const brief = shot?.brief;
  // While points are being placed the paper comes first, and what is measured of them a moment later.
  const settled = useDeferredValue(tracks) ?? tracks;
  const { firstFrame, loop } = revision ?? {};
  const source = useMemo(() => {
    if (!frames || !brief || !settled || firstFrame === undefined || loop === undefined) return undefined;
    return new PictureSource(
      frames,
      pictureFacts(frames.facts, brief),
      settled,
      pictureOptions(brief, { firstFrame, loop, roles: {} }),
    );
  }, [frames, brief, settled, firstFrame, loop]);
  const failed = revision?.reading.state === 'failed' ? (revision.reading.reason ?? 'it could not be read') : error;
  return { ...(source && { source }), ...(failed && !source && { error: failed }) };
}
