import { Scale } from 'lucide-react';
import { centreOfMass } from '@ypsigraph/core/motion/centre-of-mass';
import { findContacts } from '@ypsigraph/core/motion/feet/contacts';
import { footPoints, putPoint } from '@ypsigraph/core/motion/feet/foot-points';
import { sampleAt } from '@ypsigraph/core/motion/prepared-shot';
import type { Lens } from './lens.ts';
import { dot, haloText, WORDS } from './stick.ts';

interface Balance {
  /** Path of the body's centre of mass, x, y, z a frame that is shown. */
  readonly centre: Float64Array;
}

/** The body's centre of mass (published segment masses) and the plumb line from it: over the feet that stand, or beside them. */
export const BALANCE: Lens<Balance> = {
  id: 'balance',
  name: 'Balance: the centre of mass over what carries it',
  key: 'b',
  icon: Scale,
  needs: 'figure',
  prepare(source) {
    const { shown } = source.figure!;
    const centre = centreOfMass(shown.motion.joints, shown.roles, shown.world, source.frames);
    return centre && { centre };
  },
  draw({ context, scene, source, sample, inks }, { centre }) {
    const { measured, shown } = source.figure!;
    const { up } = shown.axes;
    const contacts = findContacts(measured);
    const own = sampleAt(measured, source.first + sample);
    const wraps = measured.loop !== 'none';
    const planted = (['L', 'R'] as const).filter((side) =>
      (contacts.feet[side] ?? []).some(
        ({ from, to }) => (own >= from && own <= to) || (wraps && own + measured.period <= to),
      ),
    );
    const at = { x: 0, y: 0, depth: 0 };
    const p = new Float64Array(3);
    let low = Infinity;
    let high = -Infinity;
    let line = -Infinity;
    for (const side of planted) {
      const points = footPoints(measured, side);
      if (!points) continue;
      for (const point of [points.heel, ...points.front]) {
        putPoint(shown, sample, point, p, 0);
        scene.projectWorld(sample, p[0]!, p[1]!, p[2]!, at);
        low = Math.min(low, at.x);
        high = Math.max(high, at.x);
        line = Math.max(line, at.y);
      }
    }
    const k = 3 * sample;
    const [x, y, z] = [centre[k]!, centre[k + 1]!, centre[k + 2]!];
    const height = x * up[0] + y * up[1] + z * up[2] - contacts.ground;
    const foot = { x: 0, y: 0, depth: 0 };
    scene.projectWorld(sample, x - height * up[0], y - height * up[1], z - height * up[2], foot);
    scene.projectWorld(sample, x, y, z, at);
    context.strokeStyle = inks.ink;
    context.lineWidth = 1.25;
    context.setLineDash([3, 3]);
    context.beginPath();
    context.moveTo(at.x, at.y);
    context.lineTo(foot.x, foot.y);
    context.stroke();
    context.setLineDash([]);
    dot(context, at, 5, inks.sheet, inks.ink);
    dot(context, at, 2, inks.ink, inks.ink);
    context.font = WORDS;
    context.textAlign = 'center';
    if (planted.length === 0) {
      haloText(context, 'in the air', foot.x, foot.y + 16, inks.ink, inks.sheet);
      return;
    }
    const over = foot.x >= low - 1 && foot.x <= high + 1;
    context.lineWidth = 4;
    context.strokeStyle = inks.ink;
    context.beginPath();
    context.moveTo(low, line + 5);
    context.lineTo(high, line + 5);
    context.stroke();
    dot(context, { x: foot.x, y: line + 5, depth: 0 }, 4, over ? inks.ink : inks.sheet, inks.ink);
    const off = over ? '' : foot.x < low ? 'behind, as seen from here' : 'ahead, as seen from here';
    haloText(context, over ? 'over its support' : off, foot.x, line + 22, inks.ink, inks.sheet);
  },
  legend: () => [{ text: 'centre of mass, and the plumb line from it to the support' }],
};
