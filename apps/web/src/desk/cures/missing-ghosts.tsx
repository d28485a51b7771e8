import { useCallback, useContext } from 'react';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { pointIndex } from '../frames/frame-source.ts';
import { type DrawOnPaper, PaperCanvas } from '../paper/paper-canvas.tsx';
import { PaperContext } from '../paper/paper.tsx';
import { useDrawings } from './drawings-store.ts';

/** Radius of a ghosted point, pixels. */
const RADIUS = 6;

/** Where the chosen point would lie on the drawings that are missing, dotted, each with its frame; of the one that is missing at the frame that is shown every point. */
export function MissingGhosts() {
  const { source } = useContext(PaperContext)!;
  const clock = useClock();
  const missing = useDrawings((state) => (state.source === source ? state.missing : undefined));
  const draw = useCallback<DrawOnPaper>(
    (context, scene, colour) => {
      context.strokeStyle = context.fillStyle = colour('--instructor');
      context.lineWidth = 1.5;
      context.font = `11px ${getComputedStyle(context.canvas).fontFamily}`;
      const [a, b] = [
        { x: 0, y: 0, depth: 0 },
        { x: 0, y: 0, depth: 0 },
      ];
      const chosen = pointIndex(source, useDesk.getState().point);
      const leading = chosen >= 0 ? chosen : source.leading;
      const { frame } = clock.get();
      for (const { label, between, share } of missing ?? [])
        source.pointNames.forEach((_, point) => {
          if (point !== leading && label !== Math.round(frame)) return;
          scene.project(source.sampleAt(between[0]), point, a);
          scene.project(source.sampleAt(between[1]), point, b);
          const at = { x: a.x + share * (b.x - a.x), y: a.y + share * (b.y - a.y) };
          if (!Number.isFinite(at.x + at.y)) return;
          context.setLineDash([1.5, 2.5]);
          context.beginPath();
          context.arc(at.x, at.y, RADIUS, 0, 2 * Math.PI);
          context.stroke();
          if (point === leading) context.fillText(String(label), at.x + RADIUS + 2, at.y - 3);
        });
    },
    [missing, source, clock],
  );
  if (!missing || missing.length === 0) return null;
  return <PaperCanvas draw={draw} label="Where drawings are missing" />;
}
