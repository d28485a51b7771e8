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
/** So long after a lost connection it is tried again. */
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

/** What a change makes of the state: what is on its way arrives first, and whose changes count is settled first. */
const toBeSent = (state: Points['state']): Points['state'] => (state === 'saved' ? 'not saved yet' : state);

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
  // How long what is changed waits before it is sent; what the server refused waits until it is changed again.
  const pause = useRef<number | 'until changed'>(PAUSE_MS);
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
      pause.current = PAUSE_MS;
      setState(toBeSent);
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
    pause.current = PAUSE_MS;
    setState(toBeSent);
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
        const conflict = error.problem.status === 409;
        if (now.current === own) pause.current = error.passing ? AGAIN_MS : 'until changed';
        setState(conflict ? 'changed by somebody else' : 'not saved yet');
        if (!error.passing && !conflict) toast.error(error.message);
      }
    },
    [id, setKept],
  );
  useEffect(() => {
    if (!kept || state === 'changed by somebody else' || state === 'saving' || pause.current === 'until changed')
      return;
    const timer = setTimeout(() => void sendNow(kept), pause.current);
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
          pause.current = PAUSE_MS;
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
