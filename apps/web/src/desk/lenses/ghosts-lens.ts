import { Layers } from 'lucide-react';
import { useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { Lens } from './lens.ts';
import { haloText, NUMBERS } from './stick.ts';

/** Most ghosts on each side of the frame that is shown. */
export const MOST_GHOSTS = 6;

/** Labels of the ghosts before and behind a label, the nearest first. */
export function ghostLabels(
  source: FrameSource,
  label: number,
  by: 'frames' | 'poses' | 'twos',
  count: number,
): { before: number[]; behind: number[] } {
  const last = source.first + source.frames - 1;
  const inside = (own: number): boolean => source.loop !== 'none' || (own >= source.first && own <= last);
  if (by === 'poses') {
    const labels = source.keyPoses().map((pose) => pose.label);
    return {
      before: labels
        .filter((own) => own < label)
        .slice(-count)
        .reverse(),
      behind: labels.filter((own) => own > label).slice(0, count),
    };
  }
  const step = by === 'twos' ? 2 : 1;
  const away = Array.from({ length: count }, (_, k) => (k + 1) * step);
  return {
    before: away.map((k) => label - k).filter(inside),
    behind: away.map((k) => label + k).filter(inside),
  };
}

/** The figure a few frames before and behind, in graphite: what was is drawn through and fades, what comes is dotted. */
export const GHOSTS: Lens<true> = {
  id: 'ghosts',
  name: 'Ghosts before and after',
  key: 'g',
  icon: Layers,
  needs: 'frames',
  under: true,
  prepare: () => true,
  draw(frame) {
    const { context, source, sample, inks, desk, scene } = frame;
    const { before, behind } = ghostLabels(source, source.first + sample, desk.ghostsBy, desk.ghostCount);
    context.lineCap = 'round';
    context.lineJoin = 'round';
    context.strokeStyle = inks.graphite;
    context.font = NUMBERS;
    context.textAlign = 'center';
    const head = source.figure?.shown.roles.head;
    const out = { x: 0, y: 0, depth: 0 };
    for (const [labels, dash] of [
      [before, []],
      [behind, [2, 4]],
    ] as const) {
      labels.forEach((label, k) => {
        const opacity = 0.7 - (0.54 * k) / Math.max(3, desk.ghostCount);
        context.globalAlpha = opacity;
        context.lineWidth = 1.75;
        context.setLineDash([...dash]);
        context.strokeStyle = inks.graphite;
        // A ghost beyond the end of a loop stands where the figure goes on to.
        const at = source.loop === 'none' ? source.sampleAt(label) : label - source.first;
        scene.ghost(frame, at, opacity);
        context.setLineDash([]);
        if (head !== undefined && desk.ghostsBy === 'poses') {
          scene.project(at, head, out);
          haloText(context, String(label), out.x, out.y - 24, inks.graphite, inks.sheet);
        }
      });
    }
    context.globalAlpha = 1;
  },
  legend: ({ pictures }) =>
    pictures && useDesk.getState().ghostsAs === 'blended'
      ? [{ text: 'frames before and after, seen through' }]
      : [
          { text: 'before', sign: 'M1 7H13' },
          { text: 'after', sign: 'M1 7H13', dashed: true },
        ],
};
