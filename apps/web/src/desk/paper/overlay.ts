import { unseenParts, useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { pointIndex } from '../frames/frame-source.ts';
import type { LegendEntry, LensFrame, LensInks } from '../lenses/lens.ts';
import { LENSES } from '../lenses/registry.ts';
import { ring, strokeSample } from '../lenses/stick.ts';
import { drawMark, type DrawnMark } from '../marks/draw-mark.ts';
import type { PaperScene } from './scene.ts';

/** Colours of the overlay, read from the page's own tokens when its theme changes. */
export function readInks(element: Element): LensInks {
  const style = getComputedStyle(element);
  const token = (name: string): string => style.getPropertyValue(name).trim();
  return {
    ink: token('--ink'),
    graphite: token('--graphite'),
    sheet: token('--sheet'),
    left: token('--left'),
    right: token('--right'),
    instructor: token('--instructor-line'),
    student: token('--student'),
    wash: token('--wash'),
  };
}

/** What the lenses have worked out of a source: once, when each is first on. */
const prepared = new WeakMap<FrameSource, Map<string, unknown>>();

export function preparedFor(source: FrameSource, id: string): unknown {
  const own = prepared.get(source) ?? new Map<string, unknown>();
  prepared.set(source, own);
  const lens = LENSES.find((one) => one.id === id);
  if (lens && !own.has(id)) own.set(id, lens.needs === 'paths' || source.figure ? lens.prepare(source) : undefined);
  return own.get(id);
}

export interface Overlay {
  readonly canvas: HTMLCanvasElement;
  readonly scene: PaperScene;
  readonly source: FrameSource;
  readonly inks: LensInks;
  /** Marks that show at a label. */
  readonly marks: (label: number) => readonly DrawnMark[];
}

/** Draws everything that lies over the figure at a frame, and gives the legend of the lenses that are on. */
export function drawOverlay({ canvas, scene, source, inks, marks }: Overlay, sample: number): LegendEntry[] {
  const ratio = Math.min(2, devicePixelRatio);
  const { width, height } = scene.size;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  const context = canvas.getContext('2d')!;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, height);
  const desk = useDesk.getState();
  const chosen = pointIndex(source, desk.point);
  const frame: LensFrame = {
    context,
    scene,
    source,
    sample,
    point: chosen >= 0 ? chosen : source.leading,
    inks,
    desk,
    unseen: unseenParts(source.parts, desk),
  };
  if (!scene.drawsFigures && source.figure) {
    context.strokeStyle = inks.ink;
    context.lineWidth = 3;
    strokeSample(frame, sample);
  }
  const legend: LegendEntry[] = [];
  for (const lens of LENSES) {
    if (!desk.lenses.has(lens.id)) continue;
    const own = preparedFor(source, lens.id);
    if (own === undefined) continue;
    legend.push(...(lens.draw(frame, own) ?? lens.legend(source, own)));
  }
  for (const mark of marks(source.first + sample)) drawMark(frame, mark);
  // The chosen point, where no path shows it.
  if (chosen >= 0 && !desk.lenses.has('path'))
    ring(context, scene.project(sample, chosen, { x: 0, y: 0, depth: 0 }), 5, inks.ink, inks.sheet);
  return legend;
}
