import { useContext, useEffect, useRef } from 'react';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { pointIndex } from '../frames/frame-source.ts';
import { PaperContext } from '../paper/paper.tsx';
import { useDrawings } from './drawings-store.ts';

/** Radius of a ghosted point, pixels. */
const RADIUS = 6;

/** Where the chosen point would lie on the drawings that are missing, dotted, each with its frame; of the one that is missing at the frame that is shown every point. */
export function MissingGhosts() {
  const { scene, source, drawn } = useContext(PaperContext)!;
  const missing = useDrawings((state) => (state.source === source ? state.missing : undefined));
  const canvas = useRef<HTMLCanvasElement>(null);
  const clock = useClock();
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
      context.strokeStyle = context.fillStyle = style.getPropertyValue('--instructor');
      context.lineWidth = 1.5;
      context.font = `11px ${style.fontFamily}`;
      const [a, b] = [
        { x: 0, y: 0, depth: 0 },
        { x: 0, y: 0, depth: 0 },
      ];
      const chosen = pointIndex(source, useDesk.getState().point);
      const leading = chosen >= 0 ? chosen : source.leading;
      const { frame } = clock.get();
      for (const { label, between, share } of missing ?? [])
        source.pointNames.forEach((_, point) => {
          // All of a drawing where it is missing; elsewhere the point it is about.
          if (point !== leading && label !== Math.round(frame)) return;
          own.project(source.sampleAt(between[0]), point, a);
          own.project(source.sampleAt(between[1]), point, b);
          const at = { x: a.x + share * (b.x - a.x), y: a.y + share * (b.y - a.y) };
          if (!Number.isFinite(at.x + at.y)) return;
          context.setLineDash([1.5, 2.5]);
          context.beginPath();
          context.arc(at.x, at.y, RADIUS, 0, 2 * Math.PI);
          context.stroke();
          if (point === leading) context.fillText(String(label), at.x + RADIUS + 2, at.y - 3);
        });
    };
    redraw();
    return drawn.subscribe(redraw);
  }, [missing, scene, source, drawn, clock]);
  if (!missing || missing.length === 0) return null;
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label="Where drawings are missing"
      className="pointer-events-none absolute inset-0 h-full w-full"
    />
  );
}
