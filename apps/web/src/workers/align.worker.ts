import { expose } from 'comlink';
import { alignPictures, type PictureShow } from '@ypsigraph/core/align/align-pictures';
import { type Alignment, alignShots } from '@ypsigraph/core/align/frame-map';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';

const api = {
  /** See `alignShots` of the core. */
  shots: (a: PreparedShot, b: PreparedShot): Alignment | string => alignShots(a, b),
  /** See `alignPictures` of the core. */
  pictures: (a: PictureShow, b: PictureShow): Alignment | string => alignPictures(a, b),
};

export type AlignWorker = typeof api;

expose(api);
