import { type Remote, transfer, wrap } from 'comlink';
import type { Report } from '@ypsigraph/core/measure/report';
import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import type { MarkMeasures } from '../desk/frames/frame-source.ts';
import type { MotionWorker, Prepared } from './motion.worker.ts';

let worker: Remote<MotionWorker> | undefined;

const motionWorker = (): Remote<MotionWorker> =>
  (worker ??= wrap<MotionWorker>(new Worker(new URL('./motion.worker.ts', import.meta.url), { type: 'module' })));

/** Fetches a motion file and makes its shot ready, off the page's thread. */
export const loadShot = (address: string, options: ShotOptions): Promise<Prepared> =>
  motionWorker().load(address, options);

/** What measures for the marks on a shot, off the page's thread. */
export const marksOf = (address: string, options: ShotOptions): MarkMeasures => ({
  measure: (kind, place, now) => motionWorker().measure(address, options, kind, place, now),
  met: (mark) => motionWorker().met(address, options, mark),
});

/** Measures a file the person has just chosen, off the page's thread. */
export async function reportFile(file: File, options: ShotOptions): Promise<Report> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  return motionWorker().report(transfer(bytes, [bytes.buffer]), options, file.name);
}

/** Reads and poses a file the person has just chosen. */
export async function prepareFile(file: File, options: ShotOptions): Promise<Prepared> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  return motionWorker().prepare(transfer(bytes, [bytes.buffer]), options);
}
