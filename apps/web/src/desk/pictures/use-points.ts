import { ROUTES } from '@ypsigraph/contract/routes';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Tracks } from '@ypsigraph/contract/pictures';
import type { Revision } from '@ypsigraph/contract/shots';
import { RequestError, call } from '../../api/client.ts';
import { refreshShot, again, put, useTracksOf } from '../../api/data.ts';
import { useKept } from '../../api/kept.ts';

/** So long nothing is changed before it is sent. */
const PAUSE_MS = 700;
const AGAIN_MS = 4_000;
const MOST_UNDO = 100;

/** The points of a revision's pictures, as they stand on this page. */
export interface Points {
  readonly tracks: Tracks;
  readonly edit: (update: (tracks: Tracks) => Tracks, options?: { readonly goesOn?: boolean }) => void;
  readonly undo: () => void;
  readonly canUndo: boolean;
  /** What → of what was changed. */
  readonly state: 'saved' | 'saving' | 'not saved yet' | 'changed by somebody else';
  /** Takes what somebody else has made of them, or puts one's own in its place. */
  readonly settle: (whose: 'theirs' | 'mine') => void;
}

/** The tracks the server has of a revision; those of a motion are none. */
export function useTracks(revision: Revision | undefined): Tracks | undefined {
  return useTracksOf(revision).data;
}

/**
 * Points of a revision's pictures that can be changed: every change is seen at once, can be undone, and is sent after a moment; what could not be
 * sent waits in this browser.
 */
export function usePoints(revision: Revision): Points | undefined {
  const server = useTracks(revision);
  const [kept, setKept] = useKept<Tracks>(`points:${revision.id}`);
  const [state, setState] = useState<Points['state']>('saved');
  const past = useRef<Tracks[]>([]);
  const [canUndo, setCanUndo] = useState(false);
  const tracks = kept ?? server;
  const now = useRef(tracks);
  useEffect(() => {
    now.current = tracks;
  });

  const edit = useCallback<Points['edit']>(
    (update, { goesOn = false } = {}) => {
      const before = now.current;
      if (!before) return;
      const next = update(before);
      if (next === before) return;
      if (!goesOn) past.current = [...past.current.slice(1 - MOST_UNDO), before];
      setCanUndo(past.current.length > 0);
      now.current = next;
      setState('not saved yet');
      setKept(next);
    },
    [setKept],
  );
  const undo = useCallback(() => {
    const before = past.current.pop();
    if (!before || !now.current) return;
    const next = { ...before, version: now.current.version };
    setCanUndo(past.current.length > 0);
    now.current = next;
    setState('not saved yet');
    setKept(next);
  }, [setKept]);

  const id = revision.id;
  const sendNow = useCallback(
    async (own: Tracks): Promise<void> => {
      setState('saving');
      try {
        const shot = await call(ROUTES.setTracks, { id }, own);
        const version = shot.revisions.find((r) => r.id === id)?.tracks ?? own.version + 1;
        const stored = { ...own, version };
        await put(ROUTES.tracks, { id }, stored, { version: String(version) });
        const latest = now.current;
        const changed = latest !== undefined && latest !== own;
        // What was changed meanwhile is made from what has been kept now.
        if (changed) now.current = { ...latest, version };
        setKept(changed ? now.current : undefined);
        setState(changed ? 'not saved yet' : 'saved');
        await refreshShot(shot);
      } catch (error) {
        if (!(error instanceof RequestError)) throw error;
        setState(error.problem.status === 409 ? 'changed by somebody else' : 'not saved yet');
        if (!error.passing && error.problem.status !== 409) toast.error(error.message);
        if (error.passing) setTimeout(() => now.current === own && setState('not saved yet'), AGAIN_MS);
      }
    },
    [id, setKept],
  );
  useEffect(() => {
    if (!kept || state === 'changed by somebody else' || state === 'saving') return;
    const timer = setTimeout(() => void sendNow(kept), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [kept, state, sendNow]);

  const settle = useCallback<Points['settle']>(
    (whose) => {
      void call(ROUTES.tracks, { id }).then(async (theirs) => {
        await put(ROUTES.tracks, { id }, theirs, { version: String(theirs.version) });
        const own = now.current;
        if (whose === 'theirs' || !own) {
          setKept(undefined);
          setState('saved');
          await again(ROUTES.shot);
        } else {
          setKept({ ...own, version: theirs.version });
          setState('not saved yet');
        }
      });
    },
    [id, setKept],
  );
  return useMemo(
    () => tracks && { tracks, edit, undo, canUndo, state, settle },
    [tracks, edit, undo, canUndo, state, settle],
  );
}
