import type { PictureFigure } from '@ypsigraph/core/track/picture-shot';
import { useDesk } from '../desk-store.ts';
import type { OnAxis } from '../frames/label-map.ts';
import { GHOSTS_AS } from '../lenses/ghosts-lens.ts';
import type { LensFrame } from '../lenses/lens.ts';
import type { Palette } from '../paper/inks.ts';
import type { PaperPoint, PaperScene } from '../paper/paper-scene.ts';
import type { ViewRig } from '../paper/view-rig.ts';
import { MaskOf } from './mask-of.ts';
import type { PictureFrames } from './picture-frames.ts';

/** Share of the paper that the picture fills. */
const FILLS = 0.97;
/** A frame that has not come after so long is not waited for, milliseconds. */
const LATE_MS = 400;

/** A paper with pictures on it: drawn flat, moved and brought nearer, turned over or round. */
export class PictureScene implements PaperScene {
  ride = -1;
  readonly draws = true;
  readonly turns = false;
  readonly travels = false;
  private readonly context: CanvasRenderingContext2D;
  private sample = 0;
  private ink = '';
  private silhouette = false;
  private width = 1;
  private height = 1;
  private queued = 0;
  private late: ReturnType<typeof setTimeout> | undefined;
  private seen = 0;
  private key = '';
  private readonly stop: () => void;
  private over: { readonly on: OnAxis; readonly frames: PictureFrames; readonly by: 'wiped' | 'blended' } | undefined;
  private stopOver: (() => void) | undefined;
  private readonly masks = new MaskOf();

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly rig: ViewRig,
    private readonly drawn: () => void,
    private readonly frames: PictureFrames,
    private readonly figure: PictureFigure | undefined,
    /** Label of the first frame. */
    private readonly first: number,
  ) {
    this.context = canvas.getContext('2d')!;
    this.stop = frames.subscribe(() => this.draw());
  }

  get shown(): number {
    return this.sample;
  }

  get size(): { width: number; height: number } {
    return { width: this.width, height: this.height };
  }

  /** Pixels of the picture that a leg is long; of a picture without a figure a third of its height. */
  private get leg(): number {
    return this.figure?.shot.scale.legLength ?? this.frames.facts.height / 3;
  }

  get unitsPerPixel(): number {
    return 1 / (this.view().scale * this.leg);
  }

  get viewKey(): number {
    return this.seen;
  }

  draw(): void {
    if (this.queued) return;
    this.queued = requestAnimationFrame(() => this.drawNow());
    // A browser that is busy elsewhere may leave a frame out: then it is drawn without one.
    this.late = setTimeout(() => this.drawNow(), LATE_MS);
  }

  pose(sample: number): void {
    this.sample = sample;
    this.draw();
  }

  travel(): void {
    // Pictures show where they were drawn.
  }

  colour({ ink }: Palette, silhouette: boolean): void {
    this.ink = ink.getStyle();
    this.silhouette = silhouette;
    this.draw();
  }

  hideParts(): void {
    this.draw();
  }

  resize(width: number, height: number): void {
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
    const ratio = Math.min(2, devicePixelRatio);
    const [across, down] = [Math.round(this.width * ratio), Math.round(this.height * ratio)];
    // Set anew it would be blank until it is drawn.
    if (this.canvas.width !== across || this.canvas.height !== down)
      Object.assign(this.canvas, { width: across, height: down });
    this.draw();
  }

  project(sample: number, point: number, out: PaperPoint): PaperPoint {
    const [x, y] = this.placeOf(sample, point);
    return this.onPaper(x, y, out, sample);
  }

  projectWorld(sample: number, x: number, y: number, _z: number, out: PaperPoint): PaperPoint {
    const [px, py] = this.onPicture(x, y);
    return this.onPaper(px, py, out, sample);
  }

  placeUnder(x: number, y: number): [number, number, number] {
    const [px, py] = this.pictureAt(x, y);
    if (this.figure) return [...this.figure.fromPicture(px, py, this.sample), 0];
    return [px, this.frames.facts.height - py, 0];
  }

  projectDrawn(sample: number, x: number, y: number, _z: number, out: PaperPoint): PaperPoint {
    const { height } = this.frames.facts;
    const [px, py] = this.figure?.camera.seen(x, y, this.sample) ?? [x, y];
    return this.onPaper(px, height - py, out, sample);
  }

  /** From the picture's lower left corner, as the camera of the first frame would see it. */
  drawnUnder(x: number, y: number): [number, number, number] {
    const [px, py] = this.pictureAt(x, y);
    const up = this.frames.facts.height - py;
    return [...(this.figure?.camera.steady(px, up, this.sample) ?? ([px, up] as const)), 0];
  }

  /** The place on the picture, in its own pixels, that lies under a place of the paper. */
  pictureAt(x: number, y: number): [x: number, y: number] {
    const { facts } = this.frames;
    const { a, b, c, d, e, f } = this.matrix();
    const area = a * d - b * c;
    const [dx, dy] = [x - e, y - f];
    const [sx, sy] = [(d * dx - c * dy) / area, (a * dy - b * dx) / area];
    return [Math.min(facts.width, Math.max(0, sx)), Math.min(facts.height, Math.max(0, sy))];
  }

  /** Where a place of the picture, in its own pixels, falls on the paper. */
  paperAt(x: number, y: number): [x: number, y: number] {
    const { a, b, c, d, e, f } = this.matrix();
    return [a * x + c * y + e, b * x + d * y + f];
  }

  pointAt(x: number, y: number, reach = 22): number | undefined {
    if (!this.figure) return undefined;
    const out: PaperPoint = { x: 0, y: 0, depth: 0 };
    let best: number | undefined;
    let least = reach;
    for (const joint of this.figure.joints) {
      this.project(this.sample, joint, out);
      const distance = Math.hypot(out.x - x, out.y - y);
      if (distance < least) [least, best] = [distance, joint];
    }
    return best;
  }

  /** Another frame, seen through this one as through a second sheet; or only its lines, those of frames to come dotted. */
  ghost({ source, desk, inks }: LensFrame, sample: number, opacity: number): void {
    const own = source.sampleAt(source.first + sample);
    const bitmap = this.frames.beside(own);
    if (!bitmap) return;
    this.context.save();
    if (GHOSTS_AS.of(desk) === 'lines') {
      this.context.globalAlpha = Math.min(1, 1.35 * opacity);
      this.paint(this.masks.of(bitmap, { of: 'lines', dotted: sample > this.sample, colour: inks.graphite }), own);
    } else {
      this.context.globalAlpha = 0.75 * opacity;
      // Where both are paper it stays paper.
      this.context.globalCompositeOperation = 'darken';
      this.paint(bitmap, own);
    }
    this.context.restore();
  }

  lay(over: OnAxis | undefined, by: 'wiped' | 'blended'): void {
    this.stopOver?.();
    const frames = over?.source.pictures;
    this.over = over && frames && { on: over, frames, by };
    this.stopOver = frames?.subscribe(() => this.draw());
    this.draw();
  }

  /** The other revision at the label that belongs to this one's, as large as it. */
  private paintOver(): void {
    if (!this.over) return;
    const { on, frames, by } = this.over;
    const bitmap = frames.at(on.source.sampleAt(Math.round(on.labelMap(this.first + this.sample))));
    if (!bitmap) return;
    const { context } = this;
    context.save();
    if (by === 'blended') context.globalAlpha = 0.5;
    else {
      const ratio = Math.min(2, devicePixelRatio);
      const at = useDesk.getState().wipeAt * this.width;
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.beginPath();
      context.rect(0, 0, at, this.height);
      context.clip();
    }
    this.paint(bitmap, this.sample);
    context.restore();
  }

  /** Only what another frame has otherwise than this one, dark on the sheet. */
  difference(sample: number): void {
    const bitmap = this.frames.beside(sample);
    if (!bitmap) return;
    this.context.save();
    this.context.globalCompositeOperation = 'difference';
    this.paint(bitmap, sample);
    this.context.fillStyle = '#fff';
    this.transform();
    this.context.fillRect(0, 0, this.frames.facts.width, this.frames.facts.height);
    this.context.restore();
  }

  dispose(): void {
    this.stop();
    this.stopOver?.();
    cancelAnimationFrame(this.queued);
    clearTimeout(this.late);
  }

  private drawNow(): void {
    cancelAnimationFrame(this.queued);
    clearTimeout(this.late);
    this.queued = 0;
    const { context } = this;
    this.noteView();
    const ratio = Math.min(2, devicePixelRatio);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, this.width, this.height);
    const bitmap = this.frames.at(this.sample);
    this.canvas.dataset.frame = String(this.sample);
    this.canvas.dataset.sharp = String(this.frames.isSharp(this.sample));
    if (bitmap) {
      context.save();
      // Faint pencil is made stronger: what is nearly white is left as it is.
      const { stronger } = useDesk.getState();
      if (stronger) context.filter = 'contrast(2.6) brightness(0.82)';
      if (this.silhouette) this.paint(this.masks.of(bitmap, { of: 'outline', colour: this.ink }), this.sample);
      else this.paint(bitmap, this.sample);
      context.restore();
    }
    this.paintOver();
    this.drawn();
  }

  private paint(bitmap: CanvasImageSource, sample: number): void {
    const { width, height } = this.frames.facts;
    this.transform();
    // Riding, another frame lies where what is ridden on stays.
    if (this.ride >= 0 && sample !== this.sample) {
      const [x, y] = this.placeOf(sample, this.ride);
      const [nx, ny] = this.placeOf(this.sample, this.ride);
      this.context.translate(nx - x, ny - y);
    }
    this.context.imageSmoothingQuality = 'high';
    this.context.drawImage(bitmap, 0, 0, width, height);
  }

  private transform(): void {
    const ratio = Math.min(2, devicePixelRatio);
    const { a, b, c, d, e, f } = this.matrix();
    this.context.setTransform(ratio * a, ratio * b, ratio * c, ratio * d, ratio * e, ratio * f);
  }

  /** Where a point of the figure is on the picture that is shown, in its pixels. */
  private placeOf(sample: number, point: number): [number, number] {
    const { figure, frames } = this;
    if (!figure || point < 0) return [frames.facts.width / 2, frames.facts.height / 2];
    const { motion, world } = figure.shot.played;
    const at = 3 * (sample * motion.joints.length + point);
    return figure.toPicture(world.positions[at]!, world.positions[at + 1]!, this.sample);
  }

  private onPicture(x: number, y: number): [number, number] {
    if (this.figure) return this.figure.toPicture(x, y, this.sample);
    return [x, this.frames.facts.height - y];
  }

  private onPaper(x: number, y: number, out: PaperPoint, sample: number): PaperPoint {
    let [px, py] = [x, y];
    if (this.ride >= 0 && sample !== this.sample) {
      const [rx, ry] = this.placeOf(sample, this.ride);
      const [nx, ny] = this.placeOf(this.sample, this.ride);
      [px, py] = [x - rx + nx, y - ry + ny];
    }
    [out.x, out.y] = this.paperAt(px, py);
    out.depth = 0;
    return out;
  }

  /** How large the picture is, and how far it is moved, pixels of the paper. */
  private view(): { scale: number; x: number; y: number } {
    const { width, height } = this.frames.facts;
    const across = useDesk.getState().turned % 2 === 1 ? [height, width] : [width, height];
    const fit = FILLS * Math.min(this.width / across[0]!, this.height / across[1]!);
    const scale = fit * this.rig.zoom;
    return { scale, x: this.rig.panX * scale * this.leg, y: -this.rig.panY * scale * this.leg };
  }

  /** From the picture's pixels to the paper's. */
  private matrix(): { a: number; b: number; c: number; d: number; e: number; f: number } {
    const { width, height } = this.frames.facts;
    const { mirrored, turned } = useDesk.getState();
    const { scale, x, y } = this.view();
    const angle = (turned * Math.PI) / 2;
    const [cos, sin] = [Math.round(Math.cos(angle)), Math.round(Math.sin(angle))];
    const flip = mirrored ? -1 : 1;
    const [a, b, c, d] = [flip * scale * cos, scale * sin, -flip * scale * sin, scale * cos];
    // The middle of the picture, or what is ridden on as it was at the first frame, lies in the middle of the paper.
    let [mx, my] = [width / 2, height / 2];
    if (this.ride >= 0) {
      const [rx, ry] = this.placeOf(this.sample, this.ride);
      const [fx, fy] = this.placeOf(0, this.ride);
      [mx, my] = [mx + rx - fx, my + ry - fy];
    }
    return { a, b, c, d, e: this.width / 2 + x - a * mx - c * my, f: this.height / 2 + y - b * mx - d * my };
  }

  private noteView(): void {
    const { a, b, c, d, e, f } = this.matrix();
    const key = [a, b, c, d, e, f, this.figure?.camera.moves ? this.sample : ''].join();
    if (key === this.key) return;
    this.key = key;
    this.seen++;
  }
}
