import { readShot } from '@ypsigraph/core/formats/read-shot';
import type { PreparedShot, ShotOptions } from '@ypsigraph/core/motion/prepared-shot';

/** Shots that a worker measures on, the last used last: the page has those it shows, so these are the worker's own. */
const kept = new Map<string, Promise<PreparedShot>>();
const MOST_KEPT = 4;

/** A shot to measure on; its file comes out of the browser's own store the second time. */
export function shotOf(address: string, options: ShotOptions): Promise<PreparedShot> {
  const key = `${address} ${JSON.stringify(options)}`;
  const shot = kept.get(key) ?? fetchBytes(address).then(async (bytes) => (await readShot(bytes, options)).shot);
  kept.delete(key);
  kept.set(key, shot);
  shot.catch(() => kept.delete(key));
  for (const oldest of kept.keys()) if (kept.size > MOST_KEPT) kept.delete(oldest);
  return shot;
}

export async function fetchBytes(address: string): Promise<Uint8Array> {
  const response = await fetch(address);
  if (!response.ok) throw new Error(`the file could not be fetched (${response.status})`);
  return new Uint8Array(await response.arrayBuffer());
}

/** A shot as it can be sent: what is worked out when it is asked for is asked for here. */
export const asSent = (shot: PreparedShot): PreparedShot => ({
  ...shot,
  played: { motion: shot.played.motion, world: shot.played.world },
});
