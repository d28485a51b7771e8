import { ROUTES } from '@ypsigraph/contract/routes';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { ClipPlace, Revision, Shot, Under } from '@ypsigraph/contract/shots';
import type { Role } from '@ypsigraph/contract/vocabulary';
import { RequestError, call } from '../../api/client.ts';
import { refreshShot } from '../../api/data.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { type ClipBeside, useClipBeside } from './clip-beside.ts';

/** So long nothing is moved before it is kept, milliseconds. */
const SETTLES_MS = 500;

/** Where what came with a motion lies on its axis, and may be moved to. */
export interface Placed {
  readonly place: ClipPlace;
  readonly mayMove: boolean;
  move(place: ClipPlace): void;
}

/** The clip of a motion, with where it lies as it stands on this page. */
export interface PlacedClip extends ClipBeside, Placed {
  /** How it lies beneath the figure: as somebody said, or as this page has found; null until it has. */
  readonly under: Under | null;
  onFitted(under: Under): void;
}

/**
 * The clip that came with a motion, and its sound; each undefined where none did, or what was made of it is not there. Where it is moved is kept by
 * itself.
 */
export function useClip(
  shot: Shot,
  revision: Revision,
  motion: FrameSource | undefined,
  role: Role,
): { readonly clip: PlacedClip | undefined; readonly soundAlone: Placed | undefined } {
  const { id } = revision;
  const mayMove = role !== 'student' || revision.state === 'handed in';
  const [moved, setMoved] = useState<{ readonly of: string; readonly place: ClipPlace }>();
  const [fitted, setFitted] = useState<{ readonly of: string; readonly under: Under }>();
  const own = moved?.of === id ? moved.place : undefined;
  useEffect(() => {
    if (!own || !mayMove) return;
    const timer = setTimeout(() => {
      call(ROUTES.placeClip, { id }, own)
        .then(refreshShot)
        .catch((error: unknown) => {
          if (!(error instanceof RequestError)) throw error;
          toast.error(error.problem.title, { description: error.problem.detail });
        });
    }, SETTLES_MS);
    return () => clearTimeout(timer);
  }, [own, mayMove, id]);
  const beside = useClipBeside(shot, revision, motion, own?.firstLabel);
  const move = useCallback(
    (place: ClipPlace) => {
      setMoved({ of: id, place });
      // Looked for anew, as the figure is seen now.
      if (!place.under) setFitted(undefined);
    },
    [id],
  );
  const onFitted = useCallback((under: Under) => setFitted({ of: id, under }), [id]);
  const there = revision.clip;
  return useMemo(() => {
    const { firstLabel, under } = own ?? there ?? { firstLabel: 0, under: null };
    const placed = { place: { firstLabel, under }, mayMove, move };
    if (!beside) return { clip: undefined, soundAlone: there && motion?.sound ? placed : undefined };
    const found = fitted?.of === id ? fitted.under : null;
    return { clip: { ...beside, ...placed, under: under ?? found, onFitted }, soundAlone: undefined };
  }, [beside, there, motion, own, fitted, id, mayMove, move, onFitted]);
}
