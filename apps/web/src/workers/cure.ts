import { type Remote, wrap } from 'comlink';
import type { CureWorker } from './cure.worker.ts';

let worker: Remote<CureWorker> | undefined;

/** What makes cures, off the page's thread and out of the way of what measures for marks. */
export const cureWorker = (): Remote<CureWorker> =>
  (worker ??= wrap<CureWorker>(new Worker(new URL('./cure.worker.ts', import.meta.url), { type: 'module' })));
