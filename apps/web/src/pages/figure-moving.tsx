import { useEffect, useMemo } from 'react';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { useDesk } from '../desk/desk-store.ts';
import { ClockContext, FrameClock } from '../desk/frames/frame-clock.ts';
import { MotionSource } from '../desk/frames/motion-source.ts';
import { readsBestFrom } from '../desk/paper/best-view.ts';
import { Paper } from '../desk/paper/paper.tsx';
import { ViewRig } from '../desk/paper/view-rig.ts';
import { Guard } from '../kit/guard.tsx';
import { Button } from '../kit/button.tsx';

const NO_MARKS = (): readonly never[] => [];
const NOTHING = (): void => undefined;

/** A figure as it moves in a file, seen from where its exercise reads best: whether it is the right one is seen at once. */
export function FigureMoving({ shot }: { shot: PreparedShot }) {
  const source = useMemo(() => new MotionSource(shot), [shot]);
  const clock = useMemo(() => new FrameClock(), []);
  const rig = useMemo(() => new ViewRig(), []);
  useEffect(() => () => clock.destroy(), [clock]);
  useEffect(() => {
    const view = readsBestFrom(shot.kind);
    useDesk.getState().begin(view, shot.kind);
    rig.look(view);
    const { first, frames, fps, loop } = source;
    clock.span({ first, frames, fps, loop });
    if (!matchMedia('(prefers-reduced-motion: reduce)').matches) clock.play();
  }, [source, shot.kind, clock, rig]);
  return (
    <ClockContext.Provider value={clock}>
      <div className="relative h-60 rounded-md border border-edge" data-testid="figure-moving">
        <Guard what="the figure">
          <Paper source={source} rig={rig} marksAt={NO_MARKS} setDraft={NOTHING} />
        </Guard>
        <Button className="absolute top-1.5 right-1.5 !min-h-6 text-xs" onClick={() => clock.toggle()}>
          Play, or hold still
        </Button>
      </div>
    </ClockContext.Provider>
  );
}
