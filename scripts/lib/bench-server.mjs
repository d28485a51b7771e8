import { percentile } from './demo-server.mjs';

/**
 * How much longer a request for the docket takes while one process that does everything reads a recording.
 * @param school see `onBenchSchool`
 * @param text the recording, a BVH file
 * @returns ratios of the middle and of the slow requests (95 of 100 are faster)
 */
export async function docketWhileReading({ server, instructor, handIn, stateOf }, text) {
  const docket = async () => {
    const start = performance.now();
    const response = await fetch(`${server.address}/api/docket`, { headers: { cookie: instructor } });
    await response.arrayBuffer();
    return performance.now() - start;
  };
  // So often as people ask, not as fast as can be: what is wanted is how long one waits.
  const asked = async (goesOn) => {
    const times = [];
    while (await goesOn(times.length)) {
      times.push(await docket());
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    return times;
  };
  await asked((n) => n < 60);
  const quiet = await asked((n) => n < 200);
  const { revision } = await handIn(text);
  while ((await stateOf(revision)) === 'queued') await new Promise((resolve) => setTimeout(resolve, 20));
  const busy = await asked(async () => (await stateOf(revision)) === 'reading');
  const state = await stateOf(revision);
  if (state !== 'read') throw new Error(`the recording was ${state}`);
  const ratio = (share) => percentile(busy, share) / percentile(quiet, share);
  return { middle: ratio(0.5), slow: ratio(0.95), requests: busy.length };
}
