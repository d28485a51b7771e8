import { addressOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import { pairLengths, shapeOverRest } from '@ypsigraph/core/measure/pictures/pairs-and-shapes';
import { onsetEvents, type ShotEvent } from '@ypsigraph/core/measure/keys/shot-events';
import type { KeyPose } from '@ypsigraph/core/measure/keys/key-poses';
import type { PathFaults } from '@ypsigraph/core/measure/spacing/path-faults';
import type { PointPath } from '@ypsigraph/core/measure/spacing/point-path';
import {
  type PictureFacts,
  type PictureFigure,
  type PictureOptions,
  type PictureTracks,
  pictureFigure,
} from '@ypsigraph/core/track/picture-shot';
import type { FigureFacts, FrameSource, Signal, Travel } from '../frames/frame-source.ts';
import { MotionSource } from '../frames/motion-source.ts';
import type { PaperScene } from '../paper/paper-scene.ts';
import type { ViewRig } from '../paper/view-rig.ts';
import { onsetLabels, type HeardSound } from '../sound/heard-sound.ts';
import type { PictureFrames } from './picture-frames.ts';
import { PictureScene } from './picture-scene.ts';

/** The sound of some pictures, as it lies on an axis; undefined where they have none. */
export const soundOf = (
  { facts: { sound }, revision }: Pick<PictureFrames, 'facts' | 'revision'>,
  axis: Pick<HeardSound, 'first' | 'fps'>,
): HeardSound | undefined => sound && { facts: sound, address: addressOf(ROUTES.sound, { id: revision }), ...axis };

/**
 * Pictures as a source of frames. What its points do is measured on the figure they make, by the same functions as a motion's; without points it
 * is frames alone.
 */
export class PictureSource implements FrameSource {
  readonly frames: number;
  readonly fps: number;
  readonly first: number;
  readonly loop: FrameSource['loop'];
  readonly pointNames: readonly string[];
  readonly folded: boolean;
  readonly figure?: FigureFacts;
  readonly travel: Travel | undefined = undefined;
  readonly leading: number;
  readonly parts: readonly string[];
  readonly flat = true;
  readonly exposed: FrameSource['exposed'];
  readonly sound?: HeardSound;
  /** The figure that its points make. */
  readonly made: PictureFigure | undefined;
  private readonly inner: MotionSource | undefined;
  private readonly ownParts: readonly string[];
  readonly ownSignals: readonly string[];
  private readonly own: ReadonlyMap<string, Signal>;

  constructor(
    readonly pictures: PictureFrames,
    facts: PictureFacts,
    readonly tracks: PictureTracks,
    options: PictureOptions,
  ) {
    this.frames = facts.frames;
    this.fps = facts.fps;
    this.first = options.firstFrame ?? 1;
    const sound = soundOf(pictures, { first: this.first, fps: this.fps });
    if (sound) this.sound = sound;
    const heard = sound && { sound: { first: this.first, onsets: sound.facts.onsets } };
    this.made = pictureFigure(facts, tracks, { ...options, ...heard });
    this.inner = this.made && new MotionSource(this.made.shot);
    // A loop that nobody can tell yet is played as one where the exercise is one.
    const asked = options.loop === 'auto' ? 'none' : (options.loop ?? 'none');
    this.loop = this.inner?.loop ?? asked;
    this.pointNames = this.inner?.pointNames ?? [];
    this.folded = this.inner?.folded ?? false;
    if (this.inner) this.figure = this.inner.figure;
    this.leading = this.inner?.leading ?? -1;
    this.ownParts = this.inner ? ownParts(this.made!, this.inner) : [];
    this.parts = [...new Set(this.ownParts)];
    this.own = this.made ? signalsBetween(this.made, tracks) : new Map<string, Signal>();
    this.ownSignals = [...this.own.keys()];
    const exposures = tracks.exposures ?? facts.exposures;
    this.exposed = exposures.map(({ from, to }) => ({ from: this.first + from, length: to - from + 1 }));
  }

  scene(canvas: HTMLCanvasElement, rig: ViewRig, drawn: () => void): PaperScene {
    return new PictureScene(canvas, rig, drawn, this.pictures, this.made, this.first);
  }

  path(point: number): PointPath {
    return this.inner!.path(point);
  }

  faults(point: number): PathFaults {
    return this.inner!.faults(point);
  }

  speeds(point: number): Float64Array {
    return this.inner!.speeds(point);
  }

  partOf(point: number): string {
    return this.ownParts[point] ?? 'spine';
  }

  signal(point: number, name: string, to?: number): Signal | undefined {
    return this.own.get(name) ?? this.inner?.signal(point, name, to);
  }

  get quantities(): FrameSource['quantities'] {
    return this.inner?.quantities ?? [];
  }

  /** Of a part of the body how much its lines turn; of a point that is none how far it goes. */
  activity(part: string): Float64Array {
    const alone = this.inner ? this.ownParts.findIndex((own, k) => own === part && this.inner!.partOf(k) !== part) : -1;
    if (alone >= 0) return this.speeds(alone);
    return this.inner?.activity(part) ?? new Float64Array(Math.max(0, this.frames - 1));
  }

  /** Those of its figure; without one what is heard. */
  events(): readonly ShotEvent[] {
    return this.inner?.events() ?? (this.sound ? onsetEvents(onsetLabels(this.sound)) : []);
  }

  /** Those of its figure; without one each drawing that is held, at most a few dozen, evenly chosen. */
  keyPoses(): readonly KeyPose[] {
    if (this.inner) return this.inner.keyPoses();
    const every = Math.max(1, Math.ceil(this.exposed!.length / 24));
    return this.exposed!.filter((_, k) => k % every === 0).map(({ from }) => ({ label: from, name: 'pose' }));
  }

  sampleAt(label: number): number {
    if (this.inner) return this.inner.sampleAt(label);
    return Math.min(this.frames - 1, Math.max(0, label - this.first));
  }

  drawSmall(canvas: HTMLCanvasElement, label: number, size: { readonly width: number; readonly height: number }): void {
    void this.pictures
      .thumbnail(this.sampleAt(label))
      .then((bitmap) => {
        const ratio = Math.min(2, devicePixelRatio);
        canvas.width = size.width * ratio;
        canvas.height = size.height * ratio;
        const scale = Math.min(canvas.width / bitmap.width, canvas.height / bitmap.height);
        const [w, h] = [bitmap.width * scale, bitmap.height * scale];
        const context = canvas.getContext('2d')!;
        context.imageSmoothingQuality = 'high';
        context.drawImage(bitmap, (canvas.width - w) / 2, (canvas.height - h) / 2, w, h);
      })
      .catch(() => undefined);
  }
}

/** The part each point belongs to: of the body's by its role; one without a role is a part of its own. */
function ownParts({ shot }: PictureFigure, inner: MotionSource): string[] {
  const played = new Set(Object.values(shot.roles));
  return shot.motion.joints.map(({ name, parent }, joint) =>
    played.has(joint) || parent >= 0 ? inner.partOf(joint) : name,
  );
}

/** What pairs and shapes do, by what they are called on the strip. */
function signalsBetween(
  { tracks, shot }: PictureFigure,
  { pairs, shapes }: Pick<PictureTracks, 'pairs' | 'shapes'>,
): Map<string, Signal> {
  const signals = new Map<string, Signal>();
  for (const pair of pairs) {
    const values = pairLengths(tracks, shot.scale.legLength, pair);
    if (typeof values !== 'string') signals.set(pair.join(' to '), { values, unit: '% of a leg', steps: false });
  }
  shapes.forEach((shape, k) => {
    const over = shapeOverRest(tracks, shape);
    if (typeof over === 'string') return;
    const which = shapes.length > 1 ? ` ${k + 1}` : '';
    signals.set(`stretch${which}`, { values: over.stretch, unit: 'times its rest', steps: false });
    signals.set(`volume${which}`, { values: over.volume, unit: 'times its rest', steps: false });
  });
  return signals;
}
