import type { OnAxis } from '../frames/label-map.ts';
import { drawBehind } from './figure-behind.ts';
import { type DrawFigure, FigureCanvas } from './figure-canvas.tsx';

const behind: DrawFigure = (context, scene, own, other, colour) =>
  drawBehind(context, scene, own, other, colour('--graphite'), 11);

/** Another revision's figure behind the one on the desk, on the frame that belongs to the one that is shown. */
export const RevisionBehind = ({ over }: { over: OnAxis }) => (
  <FigureCanvas other={over} draw={behind} label="The other revision, behind" />
);
