import { Slash } from 'lucide-react';
import type { Role } from '@ypsigraph/core/motion/role';
import type { Lens } from './lens.ts';

const SPINE: readonly Role[] = ['hips', 'spine', 'chest', 'neck', 'head'];
/** How far the line goes on beyond hips and head, as a share of its own length. */
const BEYOND = 0.45;

/** One curve through hips, spine and head, drawn on beyond both: the line of action. */
export const ACTION: Lens<readonly number[]> = {
  id: 'action',
  name: 'Line of action',
  key: 'v',
  icon: Slash,
  needs: 'figure',
  prepare({ figure }) {
    const joints = SPINE.flatMap((role) => figure!.shown.roles[role] ?? []);
    return joints.length >= 3 ? joints : undefined;
  },
  draw({ context, scene, sample, inks }, joints) {
    const places = joints.map((joint) => ({ ...scene.project(sample, joint, { x: 0, y: 0, depth: 0 }) }));
    const [first, second] = places as [(typeof places)[0], (typeof places)[0]];
    const [before, last] = places.slice(-2) as [typeof first, typeof first];
    const length = Math.hypot(last.x - first.x, last.y - first.y);
    const beyond = (from: typeof first, to: typeof first): typeof first => {
      const far = Math.hypot(to.x - from.x, to.y - from.y) || 1;
      const k = (BEYOND * length) / far;
      return { x: to.x + k * (to.x - from.x), y: to.y + k * (to.y - from.y), depth: 0 };
    };
    const line = [beyond(second, first), ...places, beyond(before, last)];
    context.beginPath();
    context.moveTo(line[0]!.x, line[0]!.y);
    // Through the middles of its legs, so that it bends nowhere sharply.
    for (let k = 1; k < line.length - 1; k++) {
      const [at, next] = [line[k]!, line[k + 1]!];
      context.quadraticCurveTo(at.x, at.y, (at.x + next.x) / 2, (at.y + next.y) / 2);
    }
    context.lineTo(line.at(-1)!.x, line.at(-1)!.y);
    context.lineCap = 'round';
    context.strokeStyle = inks.sheet;
    context.lineWidth = 6;
    context.stroke();
    context.strokeStyle = inks.ink;
    context.lineWidth = 2.5;
    context.stroke();
  },
  legend: () => [{ text: 'line of action through hips, spine and head', sign: 'M2 12Q8 8 12 2' }],
};
