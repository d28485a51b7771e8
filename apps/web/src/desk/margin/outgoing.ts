import { useCallback, useEffect, useRef } from 'react';
import type { Mark } from '@ypsigraph/contract/marks';
import { addressOf, type ParamsOf, type Route, type SentBody } from '@ypsigraph/contract/route';
import { RequestError, send } from '../../api/client.ts';
import { refreshMark } from '../../api/data.ts';
import { useKept } from '../../api/kept.ts';

const RETRY_MS = 3_000;

/** One request whose content must not be lost: made again until the server has answered it one way or the other. */
export interface Pending {
  readonly key: string;
  readonly path: string;
  /** Default POST. */
  readonly method?: 'POST' | 'PATCH';
  readonly body: unknown;
}

/** What a mark's route is asked, as it is kept until it has arrived. */
export const asked = <R extends Route>(
  route: R,
  params: ParamsOf<R>,
  body: SentBody<R>,
): Pick<Pending, 'method' | 'path' | 'body'> => ({
  method: route.method as 'POST' | 'PATCH',
  path: addressOf(route, params),
  body,
});

/** What pages that are gone did not get rid of is sent from here. */
const append = (own: Pending[] | undefined, left: readonly Pending[][]): Pending[] => [...(own ?? []), ...left.flat()];

/**
 * Things written for a shot that have not reached the server yet. They survive a reload and a lost connection, and are tried again
 * until they arrive; one the server refuses for a reason is given back with it.
 */
export function useOutgoing(shotId: string, onRefused: (pending: Pending, error: RequestError) => void) {
  const [waiting, setWaiting] = useKept<Pending[]>(`outgoing:${shotId}`, append);
  const list = waiting ?? [];
  const current = useRef(list);
  const refused = useRef(onRefused);
  const busy = useRef(false);
  useEffect(() => {
    current.current = list;
    refused.current = onRefused;
  });

  const flush = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    try {
      while (current.current.length > 0) {
        const [next, ...rest] = current.current as [Pending, ...Pending[]];
        try {
          await refreshMark(shotId, (await send(next.method ?? 'POST', next.path, next.body)) as Mark);
        } catch (error) {
          // Somebody else has signed in meanwhile: it waits for whose it is.
          if (!(error instanceof RequestError) || error.passing || error.problem.type === 'another-person') return;
          refused.current(next, error);
        }
        current.current = current.current.filter(({ key }) => key !== next.key);
        setWaiting(rest.length > 0 ? current.current : undefined);
      }
    } finally {
      busy.current = false;
    }
  }, [setWaiting, shotId]);

  const add = useCallback(
    (pending: Pending) => {
      current.current = [...current.current, pending];
      setWaiting(current.current);
      void flush();
    },
    [flush, setWaiting],
  );

  useEffect(() => {
    if (list.length === 0) return;
    const timer = setInterval(() => void flush(), RETRY_MS);
    const online = (): void => void flush();
    window.addEventListener('online', online);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', online);
    };
  }, [list.length, flush]);

  return { waiting: list, add };
}
