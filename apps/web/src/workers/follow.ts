import { proxy, type Remote, wrap } from 'comlink';
import type { FollowEnd, FollowStep, FollowTask, FollowWorker } from './follow.worker.ts';

export type { FollowEnd, FollowStep } from './follow.worker.ts';

let worker: Remote<FollowWorker> | undefined;

const followWorker = (): Remote<FollowWorker> =>
  (worker ??= wrap<FollowWorker>(new Worker(new URL('./follow.worker.ts', import.meta.url), { type: 'module' })));

/** Follows a point through frames, off the page's thread; see the worker. */
export const followPoint = (
  task: FollowTask,
  pictureOf: (sample: number) => Promise<Blob>,
  tell: (step: FollowStep) => void,
): Promise<FollowEnd> =>
  followWorker().follow(
    task,
    proxy(pictureOf),
    proxy(async (step: FollowStep) => tell(step)),
  );

/** Ends what is being followed at the next frame. */
export const stopFollowing = (): Promise<void> => followWorker().stop();
