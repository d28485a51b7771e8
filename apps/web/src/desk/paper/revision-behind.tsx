import { useContext, useEffect, useRef } from 'react';
import { useClock } from '../frames/frame-clock.ts';
import type { OnAxis } from '../frames/label-map.ts';
import { drawBehind } from './figure-behind.ts';
import { PaperContext } from './paper.tsx';

/** Another revision's figure behind the one on the desk, on the frame that belongs to the one that is shown. */
export function RevisionBehind({ over }: { over: OnAxis }) {
  const { scene, source, drawn } = useContext(PaperContext)!;
  const canvas = useRef<HTMLCanvasElement>(null);
  const clock = useClock();
  useEffect(() => {
    const draw = (): void => {
      const own = scene.current;
      const context = canvas.current?.getContext('2d');
      const [mine, theirs] = [source.figure?.shown, over.source.figure?.shown];
      if (!own || !context || !mine || !theirs) return;
      const ratio = Math.min(2, devicePixelRatio);
      const { width, height } = own.size;
      Object.assign(context.canvas, { width: Math.round(width * ratio), height: Math.round(height * ratio) });
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      const sample = over.source.sampleAt(Math.round(over.labelMap(clock.get().frame)));
      context.canvas.dataset.frame = String(sample);
      const ink = getComputedStyle(context.canvas).getPropertyValue('--graphite').trim();
      drawBehind(context, own, { shot: mine, sample: own.shown }, { shot: theirs, sample }, ink, 11);
    };
    draw();
    return drawn.subscribe(draw);
  }, [over, scene, source, drawn, clock]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label="The other revision, behind"
      className="absolute inset-0 h-full w-full"
    />
  );
}
