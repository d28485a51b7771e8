import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import useSWRImmutable from 'swr/immutable';
import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import type { ExemplarChoice } from '@ypsigraph/contract/briefs';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { usePictures } from '../api/data.ts';
import { loadShot, marksOf } from '../workers/motion.ts';
import type { FrameSource } from './frames/frame-source.ts';
import { MotionSource } from './frames/motion-source.ts';
import { soundOf } from './pictures/picture-source.ts';
import { usePictureSource } from './pictures/use-picture-source.ts';
import { useTracks } from './pictures/use-points.ts';
import type { Tracks } from '@ypsigraph/contract/pictures';

/**
 * The frames of a revision, whatever it was handed in as.
 * @param points those that are on its pictures as they stand on this page; default: those the server has
 */
export function useSource(
  shot: Shot | undefined,
  revision: Revision | undefined,
  points?: Tracks,
): { source?: FrameSource; error?: string } {
  const stored = useTracks(points ? undefined : revision);
  const pictures = usePictureSource(shot, revision, points ?? stored);
  const motion = useMotionSource(shot, revision?.media === 'motion' ? revision : undefined);
  return revision?.media === 'pictures' ? pictures : motion;
}

/** Why a motion could not be made ready, and whether it may be when it is tried again. */
class NotPrepared extends Error {
  constructor(
    message: string,
    readonly passing: boolean,
  ) {
    super(message);
  }
}

/** The frames of a motion: fetched, read and posed once for each way it is taken. */
function useMotionSource(
  shot: Shot | undefined,
  revision: Revision | undefined,
): { source?: MotionSource; error?: string } {
  const clip = revision?.clip ?? undefined;
  const { data: facts, error: silent } = usePictures(clip?.made && !clip.refused ? revision!.id : null);
  const isAsked = clip?.made === true && !clip.refused && facts === undefined && silent === undefined;
  const options = shot && revision && shotOptions(shot.brief, revision);
  const heard = clip && facts?.sound && { sound: { first: clip.firstLabel, onsets: facts.sound.onsets } };
  const key =
    revision && options && !isAsked
      ? ([
          'source',
          revision.id,
          JSON.stringify({ ...options, ...heard }),
          JSON.stringify(shot.brief.exemplar),
        ] as const)
      : null;
  const { data, error } = useSWRImmutable<MotionSource, Error, typeof key>(
    key,
    async ([, id, taken, exemplar]) => {
      const address = addressOf(ROUTES.file, { id });
      const how = JSON.parse(taken) as ShotOptions;
      const prepared = await loadShot(address, how);
      if ('error' in prepared) throw new NotPrepared(prepared.error, prepared.passing === true);
      const chosen = JSON.parse(exemplar) as ExemplarChoice | null;
      const sound =
        clip && facts && soundOf({ facts, revision: id }, { first: clip.firstLabel, fps: prepared.shot.fps });
      return new MotionSource(prepared.shot, marksOf(address, how), chosen, sound);
    },
    { shouldRetryOnError: (e: Error) => e instanceof NotPrepared && e.passing, errorRetryInterval: 2_000 },
  );
  return { ...(data && { source: data }), ...(error && { error: error.message }) };
}
