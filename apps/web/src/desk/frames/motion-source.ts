import { aroundContacts } from '@ypsigraph/core/motion/feet/contacts';
import { judgePath, type PathFaults } from '@ypsigraph/core/measure/spacing/spacing-and-arcs';
import { jointPath, pathSteps, type PointPath } from '@ypsigraph/core/measure/spacing/point-path';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { FrameSource } from './frame-source.ts';

/** A motion shot as a source of frames. Paths are worked out when they are first asked for, and kept. */
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

  constructor(readonly shot: PreparedShot) {
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
    return remember(this.judged, point, () =>
      judgePath(this.path(point), this.shot.scale.legLength, this.fps, aroundContacts(this.shot, point)),
    );
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
