import { useEffect, useRef, useState } from 'react';
import { jointIndex } from '@ypsigraph/core/motion/motion';
import { useClock } from '../frames/frame-clock.ts';
import type { MotionSource } from '../frames/motion-source.ts';
import { useDesk } from '../desk-store.ts';
import { useTheme } from '../../kit/theme.ts';
import { readPalette } from './inks.ts';
import { drawPath, type PathSummary } from './path-lens.ts';
import { type PaperPoint, Stage } from './stage.ts';
import type { ViewRig } from './view-rig.ts';

interface Props {
  readonly source: MotionSource;
  readonly rig: ViewRig;
  /** Which revision this is, written on the paper when there are several. */
  readonly caption?: string;
}

/** A press that moves less than this many pixels is a click. */
const CLICK_SLOP = 4;

/** The figure on paper, with what the lenses lay over it. Drag turns the view, shift-drag moves it, the wheel zooms. */
export function Paper({ source, rig, caption }: Props) {
  const clock = useClock();
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const overlay = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage>(undefined);
  const [summary, setSummary] = useState<PathSummary>();
  const { joint, path, space, ride, silhouette, hidden } = useDesk();
  const theme = useTheme();

  useEffect(() => {
    const box = frame.current!;
    const report = (found: PathSummary): void =>
      setSummary((known) => (known && sameSummary(known, found) ? known : found));
    const draw = (): void => drawOverlay(overlay.current!, box, made, source, clock.get().frame, report);
    const made = new Stage(canvas.current!, rig, draw);
    stage.current = made;
    made.show(source.shot);
    const pose = (): void => made.pose(source.sampleAt(clock.get().frame));
    pose();
    const resize = new ResizeObserver(() => made.resize(box.clientWidth, box.clientHeight));
    resize.observe(box);
    const redraw = (): void => made.draw();
    const stops = [clock.subscribe(pose), rig.subscribe(redraw), useDesk.subscribe(redraw)];
    void document.fonts.ready.then(redraw);
    return () => {
      for (const stop of stops) stop();
      resize.disconnect();
      made.dispose();
    };
  }, [source, rig, clock]);

  useEffect(() => stage.current?.colour(readPalette(frame.current!), silhouette), [silhouette, theme, source]);
  useEffect(() => stage.current?.hideParts(hidden), [hidden, source]);
  useEffect(() => {
    if (!stage.current) return;
    stage.current.ride = ride;
    stage.current.draw();
  }, [ride, source]);

  const hand = usePaperHand(rig, stage);
  const chosen = joint !== null && jointIndex(source.shot.motion, joint) >= 0;
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
        className="absolute inset-0 h-full w-full cursor-crosshair touch-none"
        {...hand}
      />
      {caption && (
        <figcaption className="absolute top-2 left-3 font-display text-sm text-graphite">{caption}</figcaption>
      )}
      {path && chosen && summary && <Legend joint={joint} summary={summary} space={space} />}
      {path && !chosen && (
        <p className="absolute bottom-2 left-3 rounded-md bg-sheet/85 px-2 py-1 text-xs text-graphite">
          Click a joint of the figure to see its path.
        </p>
      )}
    </figure>
  );
}

const sameSummary = (a: PathSummary, b: PathSummary): boolean =>
  a.arc === b.arc && a.spacing === b.spacing && a.pops === b.pops;

/** Turning, moving and zooming the view, and choosing a joint by a click. */
function usePaperHand(rig: ViewRig, stage: React.RefObject<Stage | undefined>) {
  const press = useRef<{ x: number; y: number; moved: boolean }>(undefined);
  return {
    onPointerDown: (event: React.PointerEvent<HTMLCanvasElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      press.current = { x: event.clientX, y: event.clientY, moved: false };
    },
    onPointerMove: (event: React.PointerEvent<HTMLCanvasElement>) => {
      const at = press.current;
      if (!at) return;
      const dx = event.clientX - at.x;
      const dy = event.clientY - at.y;
      if (!at.moved && Math.hypot(dx, dy) < CLICK_SLOP) return;
      press.current = { x: event.clientX, y: event.clientY, moved: true };
      if (event.shiftKey || event.buttons === 4) {
        const { width, height } = stage.current!.size;
        const unit = rig.unitsPerPixel(stage.current!.bounds, width, height);
        rig.pan(dx * unit, -dy * unit);
      } else {
        rig.orbit(dx * -0.4, dy * 0.4);
        useDesk.getState().set({ view: 'free' });
      }
    },
    onPointerUp: (event: React.PointerEvent<HTMLCanvasElement>) => {
      const at = press.current;
      press.current = undefined;
      if (!at || at.moved) return;
      const box = event.currentTarget.getBoundingClientRect();
      const found = stage.current?.jointAt(event.clientX - box.left, event.clientY - box.top);
      const joints = stage.current?.figure?.shot.motion.joints;
      if (found !== undefined && joints) useDesk.getState().set({ joint: joints[found]!.name, path: true });
    },
    onWheel: (event: React.WheelEvent) => rig.zoomBy(Math.exp(-event.deltaY * 0.0012)),
  };
}

function Legend({ joint, summary, space }: { joint: string; summary: PathSummary; space: 'world' | 'screen' }) {
  const clean = summary.arc === 0 && summary.spacing === 0;
  return (
    <div
      className="pointer-events-none absolute bottom-2 left-3 flex flex-wrap items-center gap-x-4 gap-y-1 rounded-md bg-sheet/85 px-2 py-1 text-xs"
      data-testid="path-legend"
    >
      <span className="font-semibold">{joint}</span>
      <span className="text-graphite">{space === 'world' ? 'in space' : 'as seen'}</span>
      {clean && <span>keeps to its arc and spacing</span>}
      <Sign count={summary.arc} text="off its arc" path="M7 1.5L12.5 7L7 12.5L1.5 7Z" />
      <Sign count={summary.spacing} text="off its spacing" path="M4 2V12M8 2V12" />
      <Sign count={summary.pops} text="one frame out of place" path="M2 3L10 11M10 3L2 11" />
    </div>
  );
}

function Sign({ count, text, path }: { count: number; text: string; path: string }) {
  if (count === 0) return null;
  return (
    <span className="inline-flex items-center gap-1">
      <svg width="14" height="14" aria-hidden>
        <path d={path} fill="none" stroke="currentColor" strokeWidth="1.5" />
      </svg>
      {text}: {count}
    </span>
  );
}

function drawOverlay(
  canvas: HTMLCanvasElement,
  box: HTMLElement,
  stage: Stage,
  source: MotionSource,
  label: number,
  report: (summary: PathSummary) => void,
): void {
  const ratio = Math.min(2, devicePixelRatio);
  const { width, height } = stage.size;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  const context = canvas.getContext('2d')!;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, height);
  const { joint: name, path, space } = useDesk.getState();
  const joint = name === null ? -1 : jointIndex(source.shot.motion, name);
  if (joint < 0) return;
  const style = getComputedStyle(box);
  const ink = style.getPropertyValue('--ink').trim();
  const sheet = style.getPropertyValue('--sheet').trim();
  const sample = source.sampleAt(label);
  if (path) {
    const soft = style.getPropertyValue('--graphite').trim();
    const found = drawPath(context, stage, source, { joint, sample, space, ink, soft, sheet });
    report(found);
    canvas.dataset.offArc = String(found.arc);
    canvas.dataset.pops = String(found.pops);
    return;
  }
  const at: PaperPoint = stage.project(sample, joint, { x: 0, y: 0, depth: 0 });
  context.beginPath();
  context.arc(at.x, at.y, 5, 0, 2 * Math.PI);
  context.strokeStyle = sheet;
  context.lineWidth = 4;
  context.stroke();
  context.strokeStyle = ink;
  context.lineWidth = 1.75;
  context.stroke();
}
