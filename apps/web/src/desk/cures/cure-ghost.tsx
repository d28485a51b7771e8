import { useContext, useEffect, useRef } from 'react';
import { useClock } from '../frames/frame-clock.ts';
import { drawGhost } from '../paper/figure-behind.ts';
import { PaperContext } from '../paper/paper.tsx';
import type { CuredFrames } from './use-cured.ts';

/** The cured figure over the student’s, dotted: on the frame that belongs to the one that is shown. */
export function CureGhost({ cured }: { cured: CuredFrames }) {
  const { scene, source, drawn } = useContext(PaperContext)!;
  const canvas = useRef<HTMLCanvasElement>(null);
  const clock = useClock();
  useEffect(() => {
    const draw = (): void => {
      const own = scene.current;
      const context = canvas.current?.getContext('2d');
      const [mine, theirs] = [source.figure?.shown, cured.source.figure?.shown];
      if (!own || !context || !mine || !theirs) return;
      const ratio = Math.min(2, devicePixelRatio);
      const { width, height } = own.size;
      Object.assign(context.canvas, { width: Math.round(width * ratio), height: Math.round(height * ratio) });
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      const sample = cured.source.sampleAt(Math.round(cured.labelMap(clock.get().frame)));
      context.canvas.dataset.frame = String(sample);
      const style = getComputedStyle(context.canvas);
      const [ink, sheet] = ['--instructor', '--sheet'].map((name) => style.getPropertyValue(name).trim());
      drawGhost(context, own, { shot: mine, sample: own.shown }, { shot: theirs, sample }, ink!, sheet!);
    };
    draw();
    return drawn.subscribe(draw);
  }, [cured, scene, source, drawn, clock]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label="The cure, dotted over the figure"
      className="pointer-events-none absolute inset-0 h-full w-full"
    />
  );
}
