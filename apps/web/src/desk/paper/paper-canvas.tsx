import { useContext, useEffect, useRef } from 'react';
import type { PaperScene } from './paper-scene.ts';
import { PaperContext } from './paper.tsx';

/** Draws something that lies on a paper, in pixels of the paper, with colours of the page by their names. */
export type DrawOnPaper = (
  context: CanvasRenderingContext2D,
  scene: PaperScene,
  colour: (name: string) => string,
) => void;

interface Props {
  /** The same function as long as it draws the same. */
  readonly draw: DrawOnPaper;
  readonly label: string;
}

/** A canvas of a paper, drawn anew whenever the paper is. */
export function PaperCanvas({ draw, label }: Props) {
  const { scene, drawn } = useContext(PaperContext)!;
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const redraw = (): void => {
      const own = scene.current;
      const context = canvas.current?.getContext('2d');
      if (!own || !context) return;
      const ratio = Math.min(2, devicePixelRatio);
      const { width, height } = own.size;
      Object.assign(context.canvas, { width: Math.round(width * ratio), height: Math.round(height * ratio) });
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      const style = getComputedStyle(context.canvas);
      draw(context, own, (name) => style.getPropertyValue(name).trim());
    };
    redraw();
    return drawn.subscribe(redraw);
  }, [draw, scene, drawn]);
  return (
    <canvas ref={canvas} role="img" aria-label={label} className="pointer-events-none absolute inset-0 h-full w-full" />
  );
}
