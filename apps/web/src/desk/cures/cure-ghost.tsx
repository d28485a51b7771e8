import { drawGhost } from '../paper/figure-behind.ts';
import { CureGrip } from './cure-grip.tsx';
import { type DrawFigure, FigureCanvas } from '../paper/figure-canvas.tsx';
import type { OnAxis } from '../frames/label-map.ts';

const dotted: DrawFigure = (context, scene, own, other, colour) =>
  drawGhost(context, scene, own, other, colour('--instructor'), colour('--sheet'));

/** The cured figure over the student’s, dotted where it is elsewhere. */
export const CureGhost = ({ cured }: { cured: OnAxis }) => (
  <>
    <FigureCanvas other={cured} draw={dotted} label="The cure, dotted over the figure" />
    <CureGrip cured={cured} />
  </>
);
