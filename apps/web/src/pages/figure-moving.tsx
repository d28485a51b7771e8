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

interface Props {
  readonly shot: PreparedShot;
  /** Whether it can be stepped through, frame by frame. */
  readonly steps?: boolean;
  /** Where it is what the page is about. */
  readonly tall?: boolean;
  /** Another figure on the same frames, or, until there is one, what is said in its place. */
  readonly beside?: Beside | undefined;
}

interface Beside {
  readonly shot: PreparedShot | string;
  /** What is written on each of the two. */
  readonly captions: readonly [own: string, other: string];
}

/** A figure as it moves in a file, seen from where its exercise reads best: whether it is the right one is seen at once. */
export function FigureMoving({ shot, steps = false, tall = false, beside }: Props) {
  const source = useMemo(() => new MotionSource(shot), [shot]);
  const other = typeof beside?.shot === 'object' ? beside.shot : undefined;
  const otherSource = useMemo(() => other && new MotionSource(other), [other]);
  const clock = useMemo(() => new FrameClock(), []);
  const rig = useMemo(() => new ViewRig(), []);
  useEffect(() => () => clock.destroy(), [clock]);
  useEffect(() => {
    const view = shot.isFlat ? 'side' : readsBestFrom(shot.kind);
    useDesk.getState().begin(view, shot.kind);
    rig.look(view);
    const { first, frames, fps, loop } = source;
    clock.span({ first, frames, fps, loop });
    if (!matchMedia('(prefers-reduced-motion: reduce)').matches) clock.play();
  }, [source, shot.kind, shot.isFlat, clock, rig]);
  return (
    <ClockContext.Provider value={clock}>
      <div
        className="rounded-md border border-edge"
        data-testid="figure-moving"
        onKeyDown={(event) => {
          const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
          if (step === undefined || !steps) return;
          event.preventDefault();
          clock.step(step);
        }}
      >
        <div className={`relative flex divide-x divide-edge ${tall ? 'h-[26rem]' : 'h-60'}`}>
          <Guard what="the figure">
            <Paper shows={{ source, caption: beside?.captions[0] }} rig={rig} />
          </Guard>
          {otherSource && (
            <Guard what="the other figure">
              <Paper shows={{ source: otherSource, caption: beside?.captions[1] }} rig={rig} />
            </Guard>
          )}
          {typeof beside?.shot === 'string' && (
            <p className="m-auto min-w-0 flex-1 p-4 text-center text-sm text-graphite">{beside.shot}</p>
          )}
        </div>
        <div className="flex justify-end gap-1 border-t border-edge p-1">
          {steps && (
            <>
              <Button className="!min-h-6 text-xs" aria-label="A frame back" onClick={() => clock.step(-1)}>
                −1
              </Button>
              <Button className="!min-h-6 text-xs" aria-label="A frame on" onClick={() => clock.step(1)}>
                +1
              </Button>
            </>
          )}
          <Button className="!min-h-6 text-xs" onClick={() => clock.toggle()}>
            Play or pause
          </Button>
        </div>
      </div>
    </ClockContext.Provider>
  );
}
