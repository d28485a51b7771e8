import { unseenParts, useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { pointIndex } from '../frames/frame-source.ts';
import { type AnyLens, hasWhat, type LegendEntry, type LensFrame, type LensInks } from '../lenses/lens.ts';
import { LENSES } from '../lenses/registry.ts';
import { ring, strokeSample } from '../lenses/stick.ts';
import { stillKey } from '../lenses/still.ts';
import { drawMark } from '../marks/draw-mark.ts';
import type { DrawnMark } from '../marks/drawn-mark.ts';
import type { PaperScene } from './paper-scene.ts';

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
  if (lens && !own.has(id)) own.set(id, hasWhat(source, lens.needs) ? lens.prepare(source) : undefined);
  return own.get(id);
}

/** What is laid over the figure, and beneath it: three canvases, so that what stays is not drawn again at each frame. */
export interface OverlayCanvases {
  /** Beneath the figure. */
  readonly under: HTMLCanvasElement;
  /** Over it, as long as view and point stay. */
  readonly still: HTMLCanvasElement;
  /** Over both. */
  readonly over: HTMLCanvasElement;
}

export class PaperOverlay {
  private stillKey: readonly unknown[] = [];

  constructor(
    private readonly canvases: OverlayCanvases,
    private readonly scene: PaperScene,
    private readonly source: FrameSource,
  ) {}

  /**
   * Draws all lenses and marks at a sample.
   *
   * @param marks those that show at a label
   * @param range labels that are played again and again; null for all
   * @returns the legend of the lenses that are on
   */
  draw(
    sample: number,
    inks: LensInks,
    marks: (label: number) => readonly DrawnMark[],
    range: LensFrame['range'] = null,
  ): LegendEntry[] {
    const { scene, source } = this;
    const desk = useDesk.getState();
    const chosen = pointIndex(source, desk.point);
    const frame = {
      scene,
      source,
      sample,
      range,
      point: chosen >= 0 ? chosen : source.leading,
      inks,
      desk,
      unseen: unseenParts(source.parts, desk),
    };
    const on = LENSES.flatMap((lens) => {
      const own = desk.lenses.has(lens.id) ? preparedFor(source, lens.id) : undefined;
      return own === undefined ? [] : [{ lens, own }];
    });
    this.drawStill(frame, on);
    const under = { ...frame, context: cleared(this.canvases.under, scene) };
    const over = { ...frame, context: cleared(this.canvases.over, scene) };
    if (!scene.draws && source.figure) {
      over.context.strokeStyle = inks.ink;
      over.context.lineWidth = 3;
      strokeSample(over, sample);
    }
    const legend = on.flatMap(({ lens, own }) => lens.draw(lens.under ? under : over, own) ?? lens.legend(source, own));
    for (const mark of marks(source.first + sample)) drawMark(over, mark);
    // The chosen point, where no path shows it.
    if (chosen >= 0 && !desk.lenses.has('path'))
      ring(over.context, scene.project(sample, chosen, { x: 0, y: 0, depth: 0 }), 5, inks.ink, inks.sheet);
    return legend;
  }

  /** What stays is drawn anew at the next frame: type has come, for one. */
  forget(): void {
    this.stillKey = [];
  }

  private drawStill(
    frame: Omit<LensFrame, 'context'>,
    on: readonly { readonly lens: AnyLens; readonly own: unknown }[],
  ): void {
    const { desk, inks } = frame;
    const { width, height } = this.scene.size;
    const key = [stillKey(frame), desk.lenses, desk.hidden, desk.solo, inks, width, height];
    if (key.every((value, k) => value === this.stillKey[k])) return;
    this.stillKey = key;
    const context = cleared(this.canvases.still, this.scene);
    for (const { lens, own } of on) lens.drawStill?.({ ...frame, context }, own);
  }
}

/** A canvas as large as the paper, with nothing on it. */
function cleared(canvas: HTMLCanvasElement, scene: PaperScene): CanvasRenderingContext2D {
  const ratio = Math.min(2, devicePixelRatio);
  const { width, height } = scene.size;
  if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
  }
  const context = canvas.getContext('2d')!;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, height);
  return context;
}
