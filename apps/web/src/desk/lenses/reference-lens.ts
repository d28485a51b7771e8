import { UserRound } from 'lucide-react';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { prepareShot, type PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { PaperPoint } from '../paper/paper-scene.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { Lens } from './lens.ts';

const periodOf = ({ loop, frames }: Pick<FrameSource, 'loop' | 'frames'>): number =>
  loop === 'repeat' ? frames - 1 : frames;

/** The sample of an exemplar that belongs to one of the shot: of loops at the same share of the cycle, of anything else the same frame. */
export function inPace(source: FrameSource, theirs: PreparedShot, sample: number): number {
  const loops = source.loop !== 'none' && theirs.loop !== 'none';
  if (!loops) return Math.min(theirs.motion.frames - 1, Math.max(0, sample));
  return Math.floor((sample / periodOf(source)) * theirs.period) % theirs.period;
}

/** The exercise's exemplar behind the figure, its hips where the figure's are: of a loop at the same share of the cycle. */
export const REFERENCE: Lens<PreparedShot> = {
  id: 'reference',
  name: 'Exemplar of the exercise, behind or beside',
  key: 'y',
  icon: UserRound,
  needs: 'figure',
  under: true,
  prepare({ figure }) {
    const { kind } = figure!.measured;
    const exemplar = kind === 'any' ? undefined : EXEMPLARS[kind];
    return exemplar && prepareShot(exemplar.make({}, {}), { kind });
  },
  draw({ context, scene, source, sample, inks, desk }, exemplar) {
    if (desk.exemplar === 'beside') return [];
    const { shown } = source.figure!;
    const [own, theirs] = [shown, exemplar];
    const at = inPace(source, theirs, sample);
    const n = theirs.motion.joints.length;
    const p = theirs.world.positions;
    const top = theirs.roles.hips ?? 0;
    const hips = 3 * (at * n + top);
    const mine = 3 * (sample * own.motion.joints.length + (own.roles.hips ?? 0));
    const size = own.scale.legLength / theirs.scale.legLength;
    const places: PaperPoint[] = theirs.motion.joints.map((_, joint) => {
      const k = 3 * (at * n + joint);
      // Along each figure's own left, up and forward, so that neither its axes nor its size matter.
      const away = (axis: readonly number[]): number =>
        size * [0, 1, 2].reduce((sum, c) => sum + (p[k + c]! - p[hips + c]!) * axis[c]!, 0);
      const [l, u, f] = [away(theirs.axes.left), away(theirs.axes.up), away(theirs.axes.forward)];
      const [x, y, z] = [0, 1, 2].map(
        (c) => own.world.positions[mine + c]! + l * own.axes.left[c]! + u * own.axes.up[c]! + f * own.axes.forward[c]!,
      ) as [number, number, number];
      return scene.projectWorld(sample, x, y, z, { x: 0, y: 0, depth: 0 });
    });
    context.beginPath();
    theirs.motion.joints.forEach(({ parent }, joint) => {
      if (parent < 0 || joint === top) return;
      context.moveTo(places[parent]!.x, places[parent]!.y);
      context.lineTo(places[joint]!.x, places[joint]!.y);
    });
    context.lineCap = 'round';
    context.strokeStyle = inks.graphite;
    context.globalAlpha = 0.32;
    context.lineWidth = 9;
    context.stroke();
    context.globalAlpha = 1;
  },
  legend: () => [{ text: 'the exemplar, its hips where these are' }],
};
