import { Rainbow } from 'lucide-react';
import { SPACING_DEFAULTS } from '@ypsigraph/core/measure/spacing/path-faults';
import type { Lens } from './lens.ts';
import { haloText, NUMBERS } from './stick.ts';

/** Frames to each side of the one shown. */
const REACH = 60;
/** What leaves the curve is drawn so many times as far as it is. */
const LARGER = 3;

/** The curve the neighbours of each frame ask for, and how far the point leaves it: the whiskers are three times as long as they are. */
export const ARCS: Lens<true> = {
  id: 'arcs',
  name: 'Arc: the fitted curve and what leaves it',
  key: 'r',
  icon: Rainbow,
  needs: 'paths',
  prepare: () => true,
  draw({ context, scene, source, sample, point, inks }) {
    const { points } = source.path(point);
    const { decomposition, arc } = source.faults(point);
    const count = source.loop === 'repeat' ? source.frames - 1 : source.frames;
    const from = Math.max(0, Math.min(sample - REACH, count - 2 * REACH));
    const to = Math.min(count, from + 2 * REACH + 1);
    const at = { x: 0, y: 0, depth: 0 };
    const out = { x: 0, y: 0, depth: 0 };
    context.lineCap = 'round';
    context.strokeStyle = inks.graphite;
    context.lineWidth = 2.5;
    context.beginPath();
    for (let i = from; i < to; i++) {
      const k = 3 * i;
      const { residual } = decomposition;
      scene.projectWorld(
        i,
        points[k]! - residual[k]!,
        points[k + 1]! - residual[k + 1]!,
        points[k + 2]! - residual[k + 2]!,
        at,
      );
      if (i === from) context.moveTo(at.x, at.y);
      else context.lineTo(at.x, at.y);
    }
    context.globalAlpha = 0.55;
    context.stroke();
    context.globalAlpha = 1;
    let off = 0;
    context.font = NUMBERS;
    context.textAlign = 'center';
    for (let i = from; i < to; i++) {
      const k = 3 * i;
      const { residual } = decomposition;
      scene.projectWorld(
        i,
        points[k]! - residual[k]!,
        points[k + 1]! - residual[k + 1]!,
        points[k + 2]! - residual[k + 2]!,
        at,
      );
      scene.projectWorld(
        i,
        points[k]! + (LARGER - 1) * residual[k]!,
        points[k + 1]! + (LARGER - 1) * residual[k + 1]!,
        points[k + 2]! + (LARGER - 1) * residual[k + 2]!,
        out,
      );
      const leaves = arc[i]! > SPACING_DEFAULTS.off;
      context.strokeStyle = inks.ink;
      context.lineWidth = leaves ? 2.25 : 1;
      context.beginPath();
      context.moveTo(at.x, at.y);
      context.lineTo(out.x, out.y);
      context.stroke();
      if (!leaves) continue;
      off++;
      const far = Math.hypot(out.x - at.x, out.y - at.y) || 1;
      haloText(
        context,
        String(source.first + i),
        out.x + (12 * (out.x - at.x)) / far,
        out.y + (12 * (out.y - at.y)) / far + 4,
        inks.ink,
        inks.sheet,
      );
    }
    return [
      {
        text:
          off === 0 ? 'nothing leaves the curve' : `leaves the curve at ${off === 1 ? 'one frame' : `${off} frames`}`,
      },
      { text: 'how far, three times as long', sign: 'M7 2V12' },
    ];
  },
  legend: () => [],
};
