import { expose, transfer } from 'comlink';
import { type Report, reportShot } from '@ypsigraph/core/measure/report';
import { readShot } from '@ypsigraph/core/formats/read-shot';
import { type Measurable, measureMark, met, type Payload } from '@ypsigraph/core/mark/mark';
import type { MarkPlace } from '@ypsigraph/core/mark/mark-tool';
import type { MarkKind } from '@ypsigraph/core/trade/mark-kinds';
import type { PreparedShot, ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import { asSent, fetchBytes, shotOf } from './kept-shots.ts';

/** A shot made ready away from the page's own thread, or why that could not be done, and whether it may be done later. */
export type Prepared = { shot: PreparedShot; warnings: readonly string[] } | { error: string; passing?: true };

/** Draco's decoder without WebAssembly, which the page's content policy does not let in. */
const draco = async (): Promise<unknown> => {
  const { default: made } = await import('three/examples/jsm/libs/draco/gltf/draco_decoder.js');
  return made();
};

/** Reads and poses a motion file; the arrays are handed over, not copied. */
async function prepare(bytes: Uint8Array, options: ShotOptions): Promise<Prepared> {
  try {
    // Who looks at it sees the student's own character.
    const { shot, warnings } = await readShot(bytes, options, { withShape: true, draco });
    const sent = asSent(shot);
    const { played } = sent;
    const buffers = new Set(
      [shot.motion, shot.unsmoothed, played.motion]
        .flatMap(({ rotations, translations }) => [rotations, translations])
        .concat([shot.world, played.world].flatMap(({ positions, rotations }) => [positions, rotations]))
        .map((array) => array.buffer as ArrayBuffer),
    );
    return transfer({ shot: sent, warnings }, [...buffers]);
  } catch (error) {
    return { error: error instanceof Error ? error.message : String(error) };
  }
}

const api = {
  /** Fetches a revision's file and makes its shot ready. */
  async load(address: string, options: ShotOptions): Promise<Prepared> {
    let bytes: Uint8Array;
    try {
      bytes = await fetchBytes(address);
    } catch (error) {
      return { error: (error as Error).message, passing: true };
    }
    return prepare(bytes, options);
  },
  prepare,
  /** What is measured of a file that somebody has just chosen. */
  report: async (bytes: Uint8Array, options: ShotOptions, file: string): Promise<Report> => {
    const { shot, format, warnings } = await readShot(bytes, options);
    return reportShot(shot, { file, format, warnings });
  },
  /** The numbers of a mark at a place of a revision's shot. */
  measure: async (address: string, options: ShotOptions, kind: MarkKind, place: MarkPlace, now?: Payload) =>
    measureMark(kind, await shotOf(address, options), place, now),
  /** How far a revision's shot is from what a mark wants. */
  met: async (address: string, options: ShotOptions, mark: Measurable) => met(mark, await shotOf(address, options)),
};

export type MotionWorker = typeof api;

expose(api);
