import { type Remote, wrap } from 'comlink';
import type { PictureShow } from '@ypsigraph/core/align/align-pictures';
import type { Alignment } from '@ypsigraph/core/align/frame-map';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { AlignWorker } from './align.worker.ts';

let worker: Remote<AlignWorker> | undefined;

const alignWorker = (): Remote<AlignWorker> =>
  (worker ??= wrap<AlignWorker>(new Worker(new URL('./align.worker.ts', import.meta.url), { type: 'module' })));

/** What is worked out when it is asked for can't be sent: it is asked for here. */
const whole = (shot: PreparedShot): PreparedShot => ({
  ...shot,
  played: { motion: shot.played.motion, world: shot.played.world },
});

/** The frame map between two shots' poses, off the page's thread. */
export const alignPoses = (a: PreparedShot, b: PreparedShot): Promise<Alignment | string> =>
  alignWorker().shots(whole(a), whole(b));

/** The frame map between two clips by the likeness of their pictures, off the page's thread. */
export const alignClips = (a: PictureShow, b: PictureShow): Promise<Alignment | string> => alignWorker().pictures(a, b);
