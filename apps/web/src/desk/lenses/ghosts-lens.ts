import { Layers } from 'lucide-react';
import { choice } from '../choice.ts';
import { useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { Lens } from './lens.ts';
import { haloText, NUMBERS } from './stick.ts';

/** Most ghosts on each side of the frame that is shown. */
const MOST = 6;

const BY = choice({
  id: 'ghosts by',
  label: 'Ghosts by',
  first: 'frames',
  options: { frames: 'ghosts by frames', twos: 'ghosts on twos', poses: 'ghosts by key poses' },
});
const EACH_SIDE = choice<string>({
  id: 'ghosts each side',
  label: 'Ghosts on each side',
  first: '3',
  options: Object.fromEntries(Array.from({ length: MOST }, (_, k) => [String(k + 1), `${k + 1} each side`])),
});
/** Of pictures: seen through one another, or nothing but their lines. */
export const GHOSTS_AS = choice({
  id: 'ghosts as',
  label: 'Ghosts as',
  first: 'blended',
  options: { blended: 'seen through', lines: 'lines only' },
  offered: ({ pictures }) => pictures !== undefined,
});

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
  choices: [BY, EACH_SIDE, GHOSTS_AS],
  prepare: () => true,
  draw(frame) {
    const { context, source, sample, inks, desk, scene } = frame;
    const [by, count] = [BY.of(desk), Number(EACH_SIDE.of(desk))];
    const { before, behind } = ghostLabels(source, source.first + sample, by, count);
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
        const opacity = 0.7 - (0.54 * k) / Math.max(3, count);
        context.globalAlpha = opacity;
        context.lineWidth = 1.75;
        context.setLineDash([...dash]);
        context.strokeStyle = inks.graphite;
        // A ghost beyond the end of a loop stands where the figure goes on to.
        const at = source.loop === 'none' ? source.sampleAt(label) : label - source.first;
        scene.ghost(frame, at, opacity);
        context.setLineDash([]);
        if (head !== undefined && by === 'poses') {
          scene.project(at, head, out);
          haloText(context, String(label), out.x, out.y - 24, inks.graphite, inks.sheet);
        }
      });
    }
    context.globalAlpha = 1;
  },
  legend: ({ pictures }) =>
    pictures && GHOSTS_AS.of(useDesk.getState()) === 'blended'
      ? [{ text: 'frames before and after, seen through' }]
      : [
          { text: 'before', sign: 'M1 7H13' },
          { text: 'after', sign: 'M1 7H13', dashed: true },
        ],
};
