import { quantityOfId } from '@ypsigraph/core/quantity/drawn-quantity';
import { quantitiesOf, type QuantityOf, quantitySignal } from '@ypsigraph/core/quantity/measure-quantity';
import { QUANTITY_KINDS } from '@ypsigraph/core/quantity/quantities';
import type { ExemplarChoice } from '@ypsigraph/contract/briefs';
import { aroundContacts, findContacts } from '@ypsigraph/core/motion/feet/contacts';
import { judgePath, type PathFaults } from '@ypsigraph/core/measure/spacing/path-faults';
import { jointPath, pathSteps, type PointPath } from '@ypsigraph/core/measure/spacing/point-path';
import { asPlayed, type PreparedShot, sampleAt, withoutRestInFront } from '@ypsigraph/core/motion/prepared-shot';
import { jointParts } from '@ypsigraph/core/measure/parts';
import { activityRows } from '@ypsigraph/core/measure/attention/activity';
import { type KeyPose, keyPoses } from '@ypsigraph/core/measure/keys/key-poses';
import { jointTurn } from '@ypsigraph/core/motion/joint-turn';
import { type ShotEvent, shotEvents } from '@ypsigraph/core/measure/keys/shot-events';
import { FigureScene } from '../paper/figure-scene.ts';
import type { PaperScene } from '../paper/paper-scene.ts';
import type { ViewRig } from '../paper/view-rig.ts';
import type { HeardSound } from '../sound/heard-sound.ts';
import { drawSmallFigure } from '../poses/small-figure.ts';
import { exercisePoint } from './exercise-point.ts';
import { measureMark, met } from '@ypsigraph/core/mark/mark';
import {
  type FigureFacts,
  type FrameSource,
  isSignal,
  type MarkMeasures,
  type Signal,
  type SignalName,
  type Travel,
} from './frame-source.ts';

/**
 * A motion shot as a source of frames: every frame of the file is shown, and what is measured is told on the frames that show it.  Paths are
 * worked out when they are first asked for, and kept.
 */
export class MotionSource implements FrameSource {
  readonly flat = false;
  readonly ownSignals: readonly string[] = [];
  readonly frames: number;
  readonly fps: number;
  readonly first: number;
  readonly loop: PreparedShot['loop'];
  readonly pointNames: readonly string[];
  private readonly paths = new Map<number, PointPath>();
  private readonly judged = new Map<number, PathFaults>();
  private readonly steps = new Map<number, Float64Array>();

  private readonly signals = new Map<string, Signal | undefined>();
  private rows: ReadonlyMap<string, Float64Array> | undefined;
  private told: readonly QuantityOf[] | undefined;

  /** As it is shown: every frame of the file. */
  readonly shot: PreparedShot;
  readonly folded: boolean;
  readonly figure: FigureFacts;
  readonly travel: Travel | undefined;
  readonly leading: number;
  readonly parts: readonly string[];
  private readonly partsOfPoints: readonly string[];

  /**
   * @param marks what measures for marks: the page itself, where there is no worker to do it
   * @param exemplar the one its brief has chosen
   * @param sound what is heard with it: that of the clip which came with it
   */
  constructor(
    readonly measured: PreparedShot,
    marks: MarkMeasures = inThePage(measured),
    readonly exemplar: ExemplarChoice | null = null,
    readonly sound?: HeardSound,
  ) {
    const shot = withoutRestInFront(asPlayed(measured));
    this.shot = shot;
    // Where the worker can't have the file, the page measures itself: slower under a dragging hand, and never not at all.
    const here = inThePage(measured);
    this.figure = {
      shown: shot,
      measured,
      measure: (...asked) => marks.measure(...asked).catch(() => here.measure(...asked)),
      met: (mark) => marks.met(mark).catch(() => here.met(mark)),
    };
    this.leading = exercisePoint(shot);
    this.partsOfPoints = jointParts(shot);
    this.parts = [...new Set(this.partsOfPoints)];
    this.folded = measured.exposures.blocking || measured.motion.frames !== shot.motion.frames;
    this.frames = shot.motion.frames;
    this.fps = shot.fps;
    this.first = shot.firstFrame;
    this.loop = shot.loop;
    this.travel = travelOf(measured);
    this.pointNames = shot.motion.joints.map((joint) => joint.name);
  }

  get exposed(): FrameSource['exposed'] {
    const { lengths } = this.measured.exposures;
    if (lengths.length === this.frames) return undefined;
    let from = this.first;
    return lengths.map((length) => ({ from: (from += length) - length, length }));
  }

  scene(canvas: HTMLCanvasElement, rig: ViewRig, drawn: () => void): PaperScene {
    const made = new FigureScene(canvas, rig, drawn);
    made.show(this.shot);
    return made;
  }

  drawSmall(canvas: HTMLCanvasElement, label: number, size: { readonly width: number; readonly height: number }): void {
    drawSmallFigure(canvas, this.shot, this.sampleAt(label), (joint) => this.partOf(joint), size);
  }

  path(point: number): PointPath {
    return remember(this.paths, point, () => jointPath(this.shot, point));
  }

  faults(point: number): PathFaults {
    return remember(this.judged, point, () => {
      const { measured } = this;
      const faults = judgePath(
        jointPath(measured, point),
        measured.scale.legLength,
        measured.fps,
        aroundContacts(measured, point),
      );
      return this.folded ? this.onShownFrames(faults) : faults;
    });
  }

  /** Faults of measured poses on the frames at which each begins to stand; of blocking, which has no path, none. */
  private onShownFrames({ decomposition, spacing, arc, pops, besidePops }: PathFaults): PathFaults {
    const { measured, frames, first } = this;
    const none = measured.exposures.blocking;
    // Of the frames that are shown: a rest pose in front is none of them.
    const starts = measured.exposures.starts.map((at) => at - measured.exposures.front);
    const spread = (values: Float64Array): Float64Array => {
      const shown = new Float64Array(frames);
      if (!none) starts.forEach((at, sample) => (shown[at] = values[sample] ?? 0));
      return shown;
    };
    const residual = new Float64Array(3 * frames);
    const valid = new Uint8Array(frames);
    for (let label = first; label < first + frames; label++) {
      const sample = sampleAt(measured, label);
      valid[label - first] = decomposition.valid[sample] ?? 0;
      residual.set(decomposition.residual.subarray(3 * sample, 3 * sample + 3), 3 * (label - first));
    }
    return {
      decomposition: {
        residual,
        valid,
        along: spread(decomposition.along),
        across: spread(decomposition.across),
        step: spread(decomposition.step),
      },
      spacing: spread(spacing),
      arc: spread(arc),
      pops: none ? [] : pops.map((sample) => starts[sample] ?? sample),
      besidePops: new Set(none ? [] : [...besidePops].map((sample) => starts[sample] ?? sample)),
    };
  }

  speeds(point: number): Float64Array {
    const { legLength } = this.shot.scale;
    return remember(this.steps, point, () => pathSteps(this.path(point)).map((step) => (100 * step) / legLength));
  }

  partOf(point: number): string {
    return this.partsOfPoints[point] ?? 'spine';
  }

  /** What of the figure's parts can be told of it; its points have their own signals. */
  get quantities(): readonly QuantityOf[] {
    return (this.told ??= quantitiesOf(this.shot).filter(
      ({ quantity, of }) =>
        QUANTITY_KINDS[quantity].of !== 'points' && typeof quantitySignal(this.shot, quantity, of) !== 'string',
    ));
  }

  signal(point: number, name: string, to = this.shot.roles.hips ?? 0): Signal | undefined {
    const own = quantityOfId(name);
    if (own) {
      const values = quantitySignal(this.shot, own.quantity, own.of);
      return typeof values === 'string' ? undefined : { values, unit: QUANTITY_KINDS[own.quantity].unit, steps: false };
    }
    if (!isSignal(name)) return undefined;
    const key = name === 'distance' ? `${name} ${point} ${to}` : `${name} ${point}`;
    return remember(this.signals, key, () => this.makeSignal(point, name, to));
  }

  private makeSignal(point: number, name: SignalName, to: number): Signal | undefined {
    const { shot } = this;
    const { axes, scale, world, motion } = shot;
    if (name === 'speed') return { values: this.speeds(point), unit: '% of a leg a frame', steps: true };
    if (name === 'turn' || name === 'turn in the world')
      return { values: jointTurn(shot, point, name === 'turn' ? 'local' : 'world'), unit: '°', steps: false };
    if (name === 'distance' && to === point) return undefined;
    const n = motion.joints.length;
    const values = new Float64Array(this.frames);
    for (let f = 0; f < this.frames; f++) {
      let square = 0;
      let height = 0;
      for (let c = 0; c < 3; c++) {
        const own = world.positions[3 * (f * n + point) + c]!;
        height += own * axes.up[c]!;
        square += (own - world.positions[3 * (f * n + to) + c]!) ** 2;
      }
      values[f] = (100 * (name === 'height' ? height : Math.sqrt(square))) / scale.legLength;
    }
    return { values, unit: '% of a leg', steps: false };
  }

  activity(part: string): Float64Array {
    if (!this.rows) {
      const groups = this.parts.map((own) =>
        this.partsOfPoints.flatMap((other, joint) => (other === own ? [joint] : [])),
      );
      const rows = activityRows(this.shot, groups);
      this.rows = new Map(this.parts.map((own, k) => [own, rows[k]!]));
    }
    return this.rows.get(part) ?? new Float64Array(Math.max(0, this.frames - 1));
  }

  keyPoses(): readonly KeyPose[] {
    return keyPoses(this.measured);
  }

  events(): readonly ShotEvent[] {
    return shotEvents(this.measured);
  }

  sampleAt(label: number): number {
    const period = this.loop === 'repeat' ? this.frames - 1 : this.frames;
    const at = label - this.first;
    if (at >= 0 && at < this.frames) return at;
    if (this.loop === 'none') return at < 0 ? 0 : this.frames - 1;
    return ((at % period) + period) % period;
  }
}

function remember<K, V>(known: Map<K, V>, key: K, make: () => V): V {
  if (!known.has(key)) known.set(key, make());
  return known.get(key) as V;
}

const inThePage = (measured: PreparedShot): MarkMeasures => ({
  measure: async (kind, place, now) => measureMark(kind, measured, place, now),
  met: async (mark) => met(mark, measured),
});

/** How a cycle on the spot would go over the ground its feet leave behind; of one that travels, how far it has come each time. */
function travelOf(measured: PreparedShot): Travel | undefined {
  if (measured.loop === 'none' || measured.exposures.blocking) return undefined;
  const { groundVelocity, advance } = findContacts(measured);
  const { stride } = measured.exposures;
  const perFrame = groundVelocity.map((v) => -v / stride) as [number, number, number];
  const period = measured.period * stride;
  const perLap = perFrame.map((v, c) => v * period + advance[c]!) as [number, number, number];
  // Less than a tenth of a leg in a cycle is no going.
  return Math.hypot(...perLap) > 0.1 * measured.scale.legLength ? { perFrame, perLap } : undefined;
}
