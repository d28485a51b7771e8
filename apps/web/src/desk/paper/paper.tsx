import { useEffect, useRef, useState } from 'react';
import { useTheme } from '../../kit/theme.ts';
import { unseenParts, useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { type FrameSource, pointIndex } from '../frames/frame-source.ts';
import type { LegendEntry } from '../lenses/lens.ts';
import type { Draft } from '../margin/draft.ts';
import type { DrawnMark } from '../marks/draw-mark.ts';
import { readPalette } from './inks.ts';
import { Legend } from './legend.tsx';
import { drawOverlay, readInks } from './overlay.ts';
import { usePaperHand } from './paper-hand.ts';
import { PaperScene } from './scene.ts';
import { shownLabel } from '../frames/exposing.ts';
import type { ViewRig } from './view-rig.ts';

/** The marks to draw at a label; the same function as long as they are the same. */
export type MarksAt = (label: number) => readonly DrawnMark[];

interface Props {
  readonly source: FrameSource;
  readonly rig: ViewRig;
  readonly marksAt: MarksAt;
  /** Which revision this is, written on the paper when there are several. */
  readonly caption?: string;
  /** A pencil line that was drawn, in the file's own axes; left out where none can be. */
  readonly onPencil?: ((points: number[]) => void) | undefined;
  /** The mark that is being written: the points of its wanted arc can be pulled. */
  readonly draft?: Draft | undefined;
  readonly setDraft: (draft: Draft) => void;
}

/** The figure on paper, with what the lenses lay over it. Drag turns the view, shift-drag moves it, the wheel zooms. */
export function Paper({ source, rig, marksAt, caption, onPencil, draft, setDraft }: Props) {
  const clock = useClock();
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const overlay = useRef<HTMLCanvasElement>(null);
  const scene = useRef<PaperScene>(undefined);
  const marks = useRef(marksAt);
  const inks = useRef<ReturnType<typeof readInks>>(undefined);
  const [legend, setLegend] = useState<readonly LegendEntry[]>([]);
  const [flat, setFlat] = useState(false);
  const theme = useTheme();
  const silhouette = useDesk(({ lenses }) => lenses.has('silhouette'));
  const hidden = useDesk((state) => state.hidden);
  const solo = useDesk((state) => state.solo);
  const ride = useDesk((state) => state.ride);

  useEffect(() => {
    marks.current = marksAt;
    scene.current?.draw();
  }, [marksAt]);

  useEffect(() => {
    const box = frame.current!;
    inks.current = readInks(box);
    const made: PaperScene = new PaperScene(canvas.current!, rig, () => {
      const at = { canvas: overlay.current!, scene: made, source, inks: inks.current!, marks: marks.current };
      const found = drawOverlay(at, made.shown);
      setLegend((known) => (same(known, found) ? known : found));
    });
    scene.current = made;
    setFlat(!made.drawsFigures);
    if (source.figure) made.show(source.figure.shown);
    const pose = (): void => made.pose(source.sampleAt(shownLabel(source, clock.get().frame)));
    pose();
    const resize = new ResizeObserver(([entry]) => made.resize(entry!.contentRect.width, entry!.contentRect.height));
    resize.observe(box);
    const redraw = (): void => made.draw();
    const stops = [clock.subscribe(pose), rig.subscribe(redraw), useDesk.subscribe(pose)];
    void document.fonts.ready.then(redraw);
    return () => {
      for (const stop of stops) stop();
      resize.disconnect();
      made.dispose();
    };
  }, [source, rig, clock]);

  useEffect(() => {
    inks.current = readInks(frame.current!);
    scene.current?.colour(readPalette(frame.current!), silhouette);
  }, [silhouette, theme, source]);
  useEffect(() => scene.current?.hideParts(unseenParts(source.parts, { hidden, solo })), [hidden, solo, source]);
  useEffect(() => {
    if (!scene.current) return;
    scene.current.ride = pointIndex(source, ride);
    scene.current.draw();
  }, [ride, source]);

  const hand = usePaperHand({ rig, scene, source, onPencil, draft, setDraft });
  return (
    <figure
      ref={frame}
      className="relative m-0 h-full min-h-0 min-w-0 flex-1 overflow-hidden bg-sheet"
      data-testid="paper"
    >
      <canvas
        ref={canvas}
        aria-label={`The figure${caption ? ` of ${caption}` : ''}`}
        role="img"
        className="absolute inset-0 h-full w-full"
      />
      <canvas
        ref={overlay}
        aria-hidden
        className={`absolute inset-0 h-full w-full touch-none ${onPencil ? 'cursor-cell' : 'cursor-crosshair'}`}
        {...hand}
      />
      {caption && (
        <figcaption className="absolute top-2 left-3 font-display text-sm text-graphite">{caption}</figcaption>
      )}
      {flat && (
        <p
          role="status"
          className="absolute top-2 right-3 max-w-72 rounded-md bg-sheet/85 px-2 py-1 text-xs text-graphite"
        >
          This browser draws no WebGL: the figure is shown as lines. Everything else works.
        </p>
      )}
      <Legend entries={legend} />
    </figure>
  );
}

const same = (a: readonly LegendEntry[], b: readonly LegendEntry[]): boolean =>
  a.length === b.length && a.every(({ text }, k) => text === b[k]!.text);
