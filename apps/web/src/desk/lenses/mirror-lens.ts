import { FlipHorizontal2 } from 'lucide-react';
import { partners } from '@ypsigraph/core/measure/cycle/mirror';
import { ofLeg } from '@ypsigraph/core/say/words';
import type { Lens, LensFrame } from './lens.ts';
import { dot, figureShape, haloText, WORDS } from './stick.ts';

interface Mirror {
  /** The joint on the other side. */
  readonly partner: readonly number[];
  /** Half a cycle, in frames that are shown. */
  readonly half: number;
}

/** Joints farther than this from their mirror, %L, are told. */
const SEEN = 2;

/** The sample half a cycle later, which may lie between two. */
const opposite = ({ source }: LensFrame, sample: number, half: number): number => {
  const period = source.loop === 'repeat' ? source.frames - 1 : source.frames;
  return Math.round(sample + half) % period;
};

/** The pose half a cycle away, mirrored onto this one: where the two steps differ is told. */
export const MIRROR: Lens<Mirror> = {
  id: 'mirror',
  name: 'Mirrored pair: the pose half a cycle away, over this one',
  key: 'w',
  icon: FlipHorizontal2,
  needs: 'figure',
  prepare({ figure, loop, frames }) {
    const { shown } = figure!;
    if (loop === 'none' || shown.roles.hips === undefined || shown.roles['thigh.L'] === undefined) return undefined;
    const cycles = Math.max(1, figure!.measured.cycles);
    const period = (loop === 'repeat' ? frames - 1 : frames) / cycles;
    return { partner: partners(shown), half: period / 2 };
  },
  draw(frame, { partner, half }) {
    const { context, scene, source, sample, inks } = frame;
    const { shown } = source.figure!;
    const { left } = shown.axes;
    const n = shown.motion.joints.length;
    const p = shown.world.positions;
    const hips = shown.roles.hips!;
    const other = opposite(frame, sample, half);
    const now = 3 * (sample * n + hips);
    const then = 3 * (other * n + hips);
    const mirrored = new Float64Array(3);
    /** Where the other pose's joint of the other side is, mirrored in the figure's middle and put at these hips. */
    const place = (joint: number): Float64Array => {
      const k = 3 * (other * n + (partner[joint]! >= 0 ? partner[joint]! : joint));
      let across = 0;
      for (let c = 0; c < 3; c++) across += (p[k + c]! - p[then + c]!) * left[c]!;
      for (let c = 0; c < 3; c++) mirrored[c] = p[now + c]! + (p[k + c]! - p[then + c]!) - 2 * across * left[c]!;
      return mirrored;
    };
    context.strokeStyle = inks.graphite;
    context.lineWidth = 1.75;
    context.setLineDash([6, 3]);
    const shape = figureShape(frame, (joint, out) => {
      const at = place(joint);
      scene.projectWorld(sample, at[0]!, at[1]!, at[2]!, out);
    });
    context.stroke(shape);
    context.setLineDash([]);
    let worst = { joint: -1, size: 0 };
    for (let joint = 0; joint < n; joint++) {
      // What is carried at one side has no mirror.
      if (partner[joint]! < 0) continue;
      const at = place(joint);
      const k = 3 * (sample * n + joint);
      const size = (100 * Math.hypot(at[0]! - p[k]!, at[1]! - p[k + 1]!, at[2]! - p[k + 2]!)) / shown.scale.legLength;
      if (size > worst.size) worst = { joint, size };
    }
    const label = source.first + other;
    context.font = WORDS;
    context.textAlign = 'left';
    const top = scene.project(sample, shown.roles.head ?? hips, { x: 0, y: 0, depth: 0 });
    haloText(context, `frame ${label}, mirrored`, top.x + 34, top.y - 14, inks.graphite, inks.sheet);
    if (worst.size < SEEN) return;
    const here = scene.project(sample, worst.joint, { x: 0, y: 0, depth: 0 });
    dot(context, here, 4, inks.sheet, inks.ink);
    const name = shown.motion.joints[worst.joint]!.name;
    haloText(context, `${name}: ${ofLeg(worst.size)} off`, here.x + 8, here.y - 8, inks.ink, inks.sheet);
  },
  legend: () => [{ text: 'the pose half a cycle away, mirrored', sign: 'M1 7H13', dashed: true }],
};
