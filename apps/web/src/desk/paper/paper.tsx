import { createContext, type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { Listeners } from '../../kit/listeners.ts';
import { useTheme } from '../../kit/theme.ts';
import { useDrawings } from '../cures/drawings-store.ts';
import { unseenParts, useDesk } from '../desk-store.ts';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import { canBePlaced, type FrameSource, pointIndex } from '../frames/frame-source.ts';
import type { LegendEntry } from '../lenses/lens.ts';
import type { DrawnMark } from '../marks/drawn-mark.ts';

import { readPalette } from './inks.ts';
import { LensChoices } from './lens-choices.tsx';
import { Legend } from './legend.tsx';
import { MarkGrips } from './mark-grips.tsx';
import { PaperOverlay, readInks } from './overlay.ts';
import { usePaperHand } from './paper-hand.ts';
import type { PaperScene } from './paper-scene.ts';
import { shownLabel } from '../frames/exposing.ts';
import { IDENTITY, type OnAxis } from '../frames/label-map.ts';
import type { OnOneAxis } from '../frames/use-alignment.ts';
import type { PictureScene } from '../pictures/picture-scene.ts';
import { PlacingLayer } from '../pictures/placing-layer.tsx';
import type { Points } from '../pictures/use-points.ts';
import type { ViewRig } from './view-rig.ts';
import { cameraOf } from '../views.tsx';
import { ShotFrame } from './shot-frame.tsx';
import { Wipe } from './wipe.tsx';

/** The marks to draw at a label; the same function as long as they are the same. */
export type MarksAt = (label: number) => readonly DrawnMark[];

const NOTHING = (): void => undefined;
const NO_MARKS: MarksAt = () => [];
const FIRST_FRAME = 'first frame';

/** What a paper shows. */
interface Shows {
  readonly source: FrameSource;
  /** Which revision this is, written on the paper when there are several. */
  readonly caption?: string | undefined;
  /** How it lies on the desk's axis, where not by label. */
  readonly axis?: Pick<OnOneAxis, 'labelMap'> & Partial<OnOneAxis>;
}

/** What is done on the one paper of several that is worked on: there the lenses' choices stand, and what a mark wants can be pulled. */
export interface AtHand {
  /** A pencil line that was drawn, in the file's own axes; undefined where none can be. */
  readonly onPencil: ((points: number[]) => void) | undefined;
  /** Points that are being put on its pictures. */
  readonly points: Points | undefined;
  /** Another revision that is laid over it. */
  readonly over: OnAxis | undefined;
  /** What lies beneath the figure, and what lies over it. */
  readonly beneath: ReactNode;
  readonly ghost: ReactNode;
}

interface Props {
  readonly shows: Shows;
  readonly rig: ViewRig;
  readonly marksAt?: MarksAt;
  readonly atHand?: AtHand;
  readonly children?: ReactNode;
}

/** What something that lies on the paper knows of it. */
export interface OnPaper {
  readonly scene: React.RefObject<PaperScene | undefined>;
  readonly source: FrameSource;
  /** Told whenever the figure was drawn. */
  readonly drawn: Listeners;
}
export const PaperContext = createContext<OnPaper | undefined>(undefined);

/** The figure on paper, with what the lenses lay over it. Drag turns the view, shift-drag moves it, the wheel zooms. */
export function Paper({ shows, rig, marksAt = NO_MARKS, atHand, children }: Props) {
  const { source, caption, axis } = shows;
  const { labelMap = IDENTITY, says } = axis ?? {};
  const { onPencil, points, over, beneath, ghost } = atHand ?? {};
  const clock = useClock();
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const under = useRef<HTMLCanvasElement>(null);
  const still = useRef<HTMLCanvasElement>(null);
  const above = useRef<HTMLCanvasElement>(null);
  const scene = useRef<PaperScene>(undefined);
  const marks = useRef(marksAt);
  const onAxis = useRef(labelMap);
  const repose = useRef(NOTHING);
  const drawn = useMemo(() => new Listeners(), []);
  const inks = useRef<ReturnType<typeof readInks>>(undefined);
  const [legend, setLegend] = useState<readonly LegendEntry[]>([]);
  const [flat, setFlat] = useState(false);
  const theme = useTheme();
  const silhouette = useDesk(({ lenses }) => lenses.has('silhouette'));
  const hidden = useDesk((state) => state.hidden);
  const solo = useDesk((state) => state.solo);
  const ride = useDesk((state) => state.ride);
  const twice = useDesk((state) => state.twice);

  useEffect(() => {
    marks.current = marksAt;
    scene.current?.draw();
  }, [marksAt]);

  useEffect(() => {
    onAxis.current = labelMap;
    repose.current();
  }, [labelMap]);

  useEffect(() => {
    const box = frame.current!;
    inks.current = readInks(box);
    const made: PaperScene = source.scene(canvas.current!, rig, () => {
      const { range } = clock.get();
      const own = range && ([onAxis.current(range[0]), onAxis.current(range[1])] as const);
      const found = overlay.draw(made.shown, inks.current!, marks.current, own);
      drawn.tell();
      // For whoever measures how long it took until something was seen.
      if (performance.getEntriesByName(FIRST_FRAME).length === 0) performance.mark(FIRST_FRAME);
      setLegend((known) => (same(known, found) ? known : found));
    });
    const canvases = { under: under.current!, still: still.current!, over: above.current! };
    const overlay = new PaperOverlay(canvases, made, source);
    scene.current = made;
    setFlat(!made.draws);
    // At once: a hand may be on the paper already.
    made.resize(box.clientWidth, box.clientHeight);
    const pose = (): void => {
      const { frame, lap } = clock.get();
      made.pose(source.sampleAt(shownLabel(source, Math.round(onAxis.current(frame)))), lap);
    };
    pose();
    repose.current = pose;
    const resize = new ResizeObserver(([entry]) => made.resize(entry!.contentRect.width, entry!.contentRect.height));
    resize.observe(box);
    const redraw = (): void => made.draw();
    const stops = [clock.subscribe(pose), rig.subscribe(redraw), useDesk.subscribe(pose), useDrawings.subscribe(pose)];
    void document.fonts.ready.then(() => {
      overlay.forget();
      redraw();
    });
    return () => {
      for (const stop of stops) stop();
      resize.disconnect();
      made.dispose();
    };
  }, [source, rig, clock, drawn]);

  useEffect(() => {
    inks.current = readInks(frame.current!);
    scene.current?.colour(readPalette(frame.current!), silhouette);
  }, [silhouette, theme, source]);
  const view = useDesk((state) => state.view);
  const aspect = cameraOf(source)?.aspect;
  const plainFigure = useDesk((state) => state.plainFigure);
  useEffect(() => scene.current?.asCharacter?.(!plainFigure), [plainFigure, source]);
  useEffect(() => scene.current?.hideParts(unseenParts(source.parts, { hidden, solo })), [hidden, solo, source]);
  useEffect(() => {
    if (!scene.current) return;
    scene.current.ride = pointIndex(source, ride);
    scene.current.draw();
  }, [ride, source]);

  const comparedBy = useDesk((state) => state.comparedBy);
  useEffect(() => {
    if (comparedBy === 'wiped' || comparedBy === 'blended') scene.current?.lay?.(over, comparedBy);
    else scene.current?.lay?.(undefined, 'blended');
  }, [over, comparedBy, source]);
  useEffect(() => {
    const { loop, frames } = source;
    scene.current?.travel(twice ? source.travel : undefined, loop === 'repeat' ? frames - 1 : frames);
  }, [twice, source]);

  const laid = useMemo((): OnPaper => ({ scene, source, drawn }), [source, drawn]);
  const hand = usePaperHand({ rig, scene, source, onPencil });
  return (
    <figure
      ref={frame}
      className="relative m-0 h-full min-h-0 min-w-0 flex-1 overflow-hidden bg-sheet"
      data-testid="paper"
    >
      {beneath && <PaperContext.Provider value={laid}>{beneath}</PaperContext.Provider>}
      <canvas ref={under} aria-hidden className="absolute inset-0 h-full w-full" />
      <canvas
        ref={canvas}
        aria-label={`The figure${caption ? ` of ${caption}` : ''}`}
        role="img"
        className={`absolute inset-0 h-full w-full ${beneath ? 'opacity-80' : ''}`}
      />
      <canvas ref={still} aria-hidden className="absolute inset-0 h-full w-full" />
      <canvas
        ref={above}
        aria-hidden
        className={`absolute inset-0 h-full w-full touch-none ${onPencil ? 'cursor-cell' : 'cursor-crosshair'}`}
        {...hand}
      />
      {caption && (
        <figcaption className="absolute top-2 right-3 left-3 truncate font-display text-sm text-graphite">
          {caption}
          {labelMap !== IDENTITY && <OwnFrame source={source} labelMap={labelMap} />}
          {says && (
            <span className="ml-2 font-sans text-xs" title={says}>
              {says}
            </span>
          )}
        </figcaption>
      )}
      {flat && (
        <p
          role="status"
          className="absolute right-3 bottom-2 max-w-72 rounded-md bg-sheet/85 px-2 py-1 text-xs text-graphite"
        >
          This browser draws no WebGL: the figure is shown as lines. Everything else works.
        </p>
      )}
      {points && canBePlaced(source) && (
        <PlacingLayer
          source={source}
          scene={scene as React.RefObject<PictureScene | undefined>}
          rig={rig}
          drawn={drawn}
          points={points}
        />
      )}
      {ghost && <PaperContext.Provider value={laid}>{ghost}</PaperContext.Provider>}
      {atHand && <MarkGrips scene={scene} source={source} drawn={drawn} />}
      {view === 'shot' && aspect !== undefined && <ShotFrame aspect={aspect} />}
      {over && comparedBy === 'wiped' && <Wipe />}
      {children}
      <Legend entries={legend}>{atHand && <LensChoices source={source} />}</Legend>
    </figure>
  );
}

/** Which frame of its own is shown, where that is another than the desk's. */
function OwnFrame({ source, labelMap }: OnAxis) {
  const frame = useClockValue((state) => source.sampleAt(Math.round(labelMap(state.frame))));
  return <span className="frame-number ml-2 text-xs">frame {source.first + frame}</span>;
}

const same = (a: readonly LegendEntry[], b: readonly LegendEntry[]): boolean =>
  a.length === b.length && a.every(({ text }, k) => text === b[k]!.text);
