import { useEffect, useMemo } from 'react';
import { useDesk } from '../desk-store.ts';
import { FrameClock } from './frame-clock.ts';
import type { FrameSource } from './frame-source.ts';

/** The clock of the desk, on the frames that lie there. Watch first: once there is something to see it plays. */
export function usePlaying(source: FrameSource | undefined, revision: string): FrameClock {
  const clock = useMemo(() => new FrameClock(), []);
  useEffect(() => () => clock.destroy(), [clock]);
  const { first, frames, fps, loop } = source ?? {};
  useEffect(() => {
    if (first === undefined || frames === undefined || fps === undefined || loop === undefined) return;
    clock.span({ first, frames, fps, loop });
  }, [first, frames, fps, loop, clock]);
  const there = source !== undefined;
  useEffect(() => {
    const still = matchMedia('(prefers-reduced-motion: reduce)').matches;
    if (there && !still && useDesk.getState().point === null) clock.play();
  }, [there, revision, clock]);
  return clock;
}
