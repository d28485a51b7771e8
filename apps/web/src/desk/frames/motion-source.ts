import { aroundContacts } from '@ypsigraph/core/motion/feet/contacts';
import { judgePath, type PathFaults } from '@ypsigraph/core/measure/spacing/path-faults';
import { jointPath, pathSteps, type PointPath } from '@ypsigraph/core/measure/spacing/point-path';
import { asPlayed, type PreparedShot, sampleAt } from '@ypsigraph/core/motion/prepared-shot';
import type { FrameSource } from './frame-source.ts';

/**
 * A motion shot as a source of frames: every frame of the file is shown, and what is measured is told on the frames that show it.  Paths are
 * worked out when they are first asked for, and kept.
 */
export class MotionSource implements FrameSource {
  readonly kind = 'motion';
  readonly frames: number;
  readonly fps: number;
  readonly first: number;
  readonly loop: PreparedShot['loop'];
  readonly pointNames: readonly string[];
  private readonly paths = new Map<number, PointPath>();
  private readonly judged = new Map<number, PathFaults>();
  private readonly steps = new Map<number, Float64Array>();

  /** As it is shown: every frame of the file. */
  readonly shot: PreparedShot;
  /** Poses are held, or one stands too long: fewer are measured than are shown. */
  readonly folded: boolean;

  constructor(readonly measured: PreparedShot) {
    const shot = asPlayed(measured);
    this.shot = shot;
    this.folded = measured.exposures.blocking || measured.motion.frames !== shot.motion.frames;
    this.frames = shot.motion.frames;
    this.fps = shot.fps;
    this.first = shot.firstFrame;
    this.loop = shot.loop;
    this.pointNames = shot.motion.joints.map((joint) => joint.name);
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
    const { starts } = measured.exposures;
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

  sampleAt(label: number): number {
    const period = this.loop === 'repeat' ? this.frames - 1 : this.frames;
    const at = label - this.first;
    if (at >= 0 && at < this.frames) return at;
    if (this.loop === 'none') return at < 0 ? 0 : this.frames - 1;
    return ((at % period) + period) % period;
  }
}

function remember<V>(known: Map<number, V>, key: number, make: () => V): V {
  let value = known.get(key);
  if (value === undefined) known.set(key, (value = make()));
  return value;
}
