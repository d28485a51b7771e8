import { useCallback, useContext } from 'react';
import { useClock } from '../frames/frame-clock.ts';
import type { OnAxis } from '../frames/label-map.ts';
import type { Posed } from './figure-behind.ts';
import { type DrawOnPaper, PaperCanvas } from './paper-canvas.tsx';
import type { PaperScene } from './paper-scene.ts';
import { PaperContext } from './paper.tsx';

/** Draws another figure with one's own: both at the frames that are shown, with colours of the page by their names. */
export type DrawFigure = (
  context: CanvasRenderingContext2D,
  scene: PaperScene,
  own: Posed,
  other: Posed,
  colour: (name: string) => string,
) => void;

interface Props {
  /** The other figure, on the frame that belongs to the one that is shown. */
  readonly other: OnAxis;
  readonly draw: DrawFigure;
  readonly label: string;
}

/** A canvas of a paper on which another figure is drawn whenever its own one is. */
export function FigureCanvas({ other, draw, label }: Props) {
  const { source } = useContext(PaperContext)!;
  const clock = useClock();
  const drawBoth = useCallback<DrawOnPaper>(
    (context, scene, colour) => {
      const [mine, theirs] = [source.figure?.shown, other.source.figure?.shown];
      if (!mine || !theirs) return;
      const sample = other.source.sampleAt(Math.round(other.labelMap(clock.get().frame)));
      context.canvas.dataset.frame = String(sample);
      draw(context, scene, { shot: mine, sample: scene.shown }, { shot: theirs, sample }, colour);
    },
    [other, draw, source, clock],
  );
  return <PaperCanvas draw={drawBoth} label={label} />;
}
