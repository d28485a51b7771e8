import { expose, transfer } from 'comlink';
import { readMotion } from '@ypsigraph/core/formats/read-motion';
import { type PreparedShot, prepareShot, type ShotOptions } from '@ypsigraph/core/motion/prepared-shot';

/** A shot made ready away from the page's own thread, or why that could not be done. */
export type Prepared = { shot: PreparedShot; warnings: readonly string[] } | { error: string };

/** Reads and poses a motion file; the arrays are handed over, not copied. */
function prepare(bytes: Uint8Array, options: ShotOptions): Prepared {
  try {
    const { motion, warnings } = readMotion(bytes);
    const shot = prepareShot(motion, options);
    // What is worked out when it is asked for can't be sent: it is asked for here.
    const played = { motion: shot.played.motion, world: shot.played.world };
    const buffers = new Set(
      [shot.motion, shot.unsmoothed, played.motion]
        .flatMap(({ rotations, translations }) => [rotations, translations])
        .concat([shot.world, played.world].flatMap(({ positions, rotations }) => [positions, rotations]))
        .map((array) => array.buffer as ArrayBuffer),
    );
    return transfer({ shot: { ...shot, played }, warnings }, [...buffers]);
  } catch (error) {
    return { error: error instanceof Error ? error.message : String(error) };
  }
}

const api = {
  /** Fetches a revision's file and makes its shot ready. */
  async load(address: string, options: ShotOptions): Promise<Prepared> {
    const response = await fetch(address);
    if (!response.ok) return { error: `the file could not be fetched (${response.status})` };
    return prepare(new Uint8Array(await response.arrayBuffer()), options);
  },
  prepare,
};

export type MotionWorker = typeof api;

expose(api);
