import useSWRImmutable from 'swr/immutable';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { loadShot } from '../workers/motion.ts';
import { MotionSource } from './frames/motion-source.ts';

/** The frames of a revision: fetched, read and posed once for each way it is taken. */
export function useSource(
  shot: Shot | undefined,
  revision: Revision | undefined,
): { source?: MotionSource; error?: string } {
  const key =
    shot && revision
      ? ([
          'source',
          revision.id,
          revision.firstFrame,
          revision.loop,
          JSON.stringify(revision.roles),
          shot.brief.kind,
        ] as const)
      : null;
  const { data, error } = useSWRImmutable<MotionSource, Error, typeof key>(
    key,
    async ([, id, firstFrame, loop, roles, kind]) => {
      const prepared = await loadShot(`/api/revisions/${id}/file`, {
        firstFrame,
        loop,
        kind,
        roles: JSON.parse(roles) as Record<string, string | null>,
      });
      if ('error' in prepared) throw new Error(prepared.error);
      return new MotionSource(prepared.shot);
    },
    { shouldRetryOnError: (e: Error) => /fetch/i.test(e.message), errorRetryInterval: 2_000 },
  );
  return { ...(data && { source: data }), ...(error && { error: error.message }) };
}
