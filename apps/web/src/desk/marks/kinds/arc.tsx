import { arcThrough } from '@ypsigraph/core/mark/arc-curve';
import { dot } from '../../lenses/stick.ts';
import { STROKE } from './fields.tsx';
import type { MarkKindView } from './mark-kind-view.ts';

export const ARC_VIEW: MarkKindView<'arc'> = {
  about: 'the curve it goes along',
  sign: <path {...STROKE} d="M-5 3C-3-4 3-4 5 3" />,
  Fields: () => (
    <p className="text-xs text-graphite">
      Pull the round points on the paper to the arc you want; with a point in focus the arrow keys do it.
    </p>
  ),
  /** The arc that is wanted, in dashes, with the points it is drawn by. */
  draw({ context, scene, sample, inks }, _, { wanted: { through } }) {
    const line = arcThrough(through);
    const at = { x: 0, y: 0, depth: 0 };
    context.strokeStyle = inks.instructor;
    context.lineWidth = 2;
    context.setLineDash([7, 5]);
    context.beginPath();
    for (let k = 0; k < line.length; k += 3) {
      scene.projectWorld(sample, line[k]!, line[k + 1]!, line[k + 2]!, at);
      if (k === 0) context.moveTo(at.x, at.y);
      else context.lineTo(at.x, at.y);
    }
    context.stroke();
    context.setLineDash([]);
    for (let k = 0; k < through.length; k += 3) {
      scene.projectWorld(sample, through[k]!, through[k + 1]!, through[k + 2]!, at);
      dot(context, at, 3.5, inks.sheet, inks.instructor);
    }
  },
  grips: ({ wanted: { through } }) =>
    Array.from({ length: through.length / 3 }, (_, k) => ({
      id: String(k),
      label: `Point ${k + 1} of the wanted arc: drag it, or use the arrow keys`,
      place: through.slice(3 * k, 3 * k + 3) as unknown as readonly [number, number, number],
      pull: (place) => ({ through: through.map((v, i) => (Math.floor(i / 3) === k ? place[i % 3]! : v)) }),
    })),
  line: ({ through }) => arcThrough(through),
};
