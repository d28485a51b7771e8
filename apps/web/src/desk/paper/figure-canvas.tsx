import { useContext, useEffect, useRef } from 'react';
import { useClock } from '../frames/frame-clock.ts';
import type { OnAxis } from '../frames/label-map.ts';
import type { Posed } from './figure-behind.ts';
import type { PaperScene } from './paper-scene.ts';
import { PaperContext } from './paper.tsx';

/** Draws another figure with one's own: both at the frames that are shown, with colours of the page by their names. */
export type DrawFigure = (
  context: CanvasRenderingContext2D,
  scene: PaperScene,
  own: Posed,
  other: Posed,
  colour: (name: string) => string,
) => void;

interface Props {
  /** The other figure, on the frame that belongs to the one that is shown. */
  readonly other: OnAxis;
  readonly draw: DrawFigure;
  readonly label: string;
}

/** A canvas of a paper on which another figure is drawn whenever its own one is. */
export function FigureCanvas({ other, draw, label }: Props) {
  const { scene, source, drawn } = useContext(PaperContext)!;
  const canvas = useRef<HTMLCanvasElement>(null);
  const clock = useClock();
  useEffect(() => {
    const redraw = (): void => {
      const own = scene.current;
      const context = canvas.current?.getContext('2d');
      const [mine, theirs] = [source.figure?.shown, other.source.figure?.shown];
      if (!own || !context || !mine || !theirs) return;
      const ratio = Math.min(2, devicePixelRatio);
      const { width, height } = own.size;
      Object.assign(context.canvas, { width: Math.round(width * ratio), height: Math.round(height * ratio) });
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      const sample = other.source.sampleAt(Math.round(other.labelMap(clock.get().frame)));
      context.canvas.dataset.frame = String(sample);
      const style = getComputedStyle(context.canvas);
      const colour = (name: string): string => style.getPropertyValue(name).trim();
      draw(context, own, { shot: mine, sample: own.shown }, { shot: theirs, sample }, colour);
    };
    redraw();
    return drawn.subscribe(redraw);
  }, [other, draw, scene, source, drawn, clock]);
  return (
    <canvas ref={canvas} role="img" aria-label={label} className="pointer-events-none absolute inset-0 h-full w-full" />
  );
}
