import { useDeferredValue, useEffect, useMemo } from 'react';
import useSWRImmutable from 'swr/immutable';
import { pictureFacts, pictureOptions, Pictures, type Tracks } from '@ypsigraph/contract/pictures';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { get, type RequestError } from '../../api/client.ts';
import { PictureFrames } from './picture-frames.ts';
import { PictureSource } from './picture-source.ts';

/** Pictures that are stored at an address, to be shown frame by frame; null where there are none. */
export function usePictureFrames(address: string | null): { frames?: PictureFrames; error?: string } {
  const { data, error } = useSWRImmutable<Pictures, RequestError>(
    address,
    async (path: string) => Pictures.parse(await get(path)),
    {
      errorRetryInterval: 2_000,
    },
  );
  const frames = useMemo(() => (data && address ? new PictureFrames(data, address) : undefined), [data, address]);
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
  const { frames, error } = usePictureFrames(there ? `/api/revisions/${revision.id}/pictures` : null);
  const brief = shot?.brief;
  // While points are being placed the paper comes first, and what is measured of them a moment later.
  const settled = useDeferredValue(tracks);
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
