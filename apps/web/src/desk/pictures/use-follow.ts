import { useCallback, useState } from 'react';
import { toast } from 'sonner';
import { followPoint, type FollowStep, stopFollowing } from '../../workers/follow.ts';
import type { FrameClock } from '../frames/frame-clock.ts';
import { followedTo, placeOf, samplesAhead } from './edit-points.ts';
import type { PlacedSource } from '../frames/frame-source.ts';
import type { Points } from './use-points.ts';

/** So often what was followed is shown while it goes on. */
const SHOWN_MS = 120;

export interface Following {
  /** The point that is being followed; undefined where none is. */
  readonly busy: string | undefined;
  readonly follow: (name: string, direction: 1 | -1) => void;
  readonly stop: () => void;
}

/** Following a point from the frame that is shown, on or back, and saying how it ended. */
export function useFollow(source: PlacedSource | undefined, points: Points | undefined, clock: FrameClock): Following {
  const [busy, setBusy] = useState<string>();
  const follow = useCallback(
    (name: string, direction: 1 | -1): void => {
      if (!source || !points || busy) return;
      const point = points.tracks.points.find((own) => own.name === name);
      const sample = source.sampleAt(clock.get().frame);
      const at = point && placeOf(point, sample);
      if (!point || !at) {
        toast(`Put “${name}” on this frame first: it is followed from there.`);
        return;
      }
      const samples = samplesAhead(point, sample, direction, source.frames);
      if (samples.length < 2) {
        toast(
          direction > 0
            ? 'There is no frame on from here that a hand has not placed.'
            : 'There is no frame back from here that a hand has not placed.',
        );
        return;
      }
      setBusy(name);
      clock.pause();
      let waiting: FollowStep[] = [];
      let shown = performance.now();
      let first = true;
      const show = (): void => {
        if (waiting.length === 0) return;
        const steps = waiting;
        waiting = [];
        points.edit((tracks) => followedTo(tracks, name, steps), { goesOn: !first });
        first = false;
        const last = steps.at(-1)!;
        if (last.confidence >= 0.5) clock.seek(source.first + last.sample);
      };
      const { width } = source.pictures.facts;
      const scale = source.pictures.facts.shown.width / width;
      void followPoint(
        { samples, x: at.x, y: at.y, scale },
        (own) => source.pictures.blob(own),
        (step) => {
          waiting.push(step);
          if (performance.now() - shown < SHOWN_MS) return;
          shown = performance.now();
          show();
        },
      )
        .then((end) => {
          const lost = waiting.find(({ confidence }) => confidence < 0.5)?.sample;
          show();
          if (end === 'lost' && lost !== undefined) {
            clock.seek(source.first + lost);
            toast(
              `“${name}” is lost at frame ${source.first + lost}: put it there by hand, and follow it on from there.`,
            );
          }
          if (end === 'nothing there')
            toast(`There is nothing at “${name}” to hold on to: put it on a corner, an end or a spot.`);
        })
        .catch((error: unknown) => toast.error(error instanceof Error ? error.message : 'It could not be followed.'))
        .finally(() => setBusy(undefined));
    },
    [source, points, clock, busy],
  );
  return { busy, follow, stop: () => void stopFollowing() };
}
