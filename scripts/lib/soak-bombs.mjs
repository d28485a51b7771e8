// Clips that would keep everybody waiting: those past the bounds are refused at once, one just within them holds nobody's motion up.

const word = (value) => [value & 255, value >> 8];

/** A GIF of frames of one pixel on a screen of so many (GIF89a, W3C): small, and vast once it is decoded. */
export function gif(frames, side) {
  const head = [...Buffer.from('GIF89a'), ...word(side), ...word(side), 0x80, 0, 0, 0, 0, 0, 255, 255, 255];
  const frame = (k) => [
    ...[0x21, 0xf9, 4, 0, ...word(2), 0, 0],
    ...[0x2c, ...word(k % side), ...word(k % side), ...word(1), ...word(1), 0, 2, 2, 0x4c, 1, 0],
  ];
  return Buffer.from([...head, ...Array.from({ length: frames }, (_, k) => frame(k)).flat(), 0x3b]);
}

const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** @param soak students: those with an assignment to hand in for, at least three */
export async function bombs({ insist, comeIn, students, motion, expectThat }) {
  const form = (bytes, name) => () => {
    const data = new FormData();
    data.set('stage', 'smoothing');
    data.set('file', new Blob([bytes]), name);
    return data;
  };
  const [first, second, third] = await Promise.all(
    students.slice(0, 3).map(async ({ id, student }) => ({ id, cookie: await comeIn(student) })),
  );
  const handIn = ({ id, cookie }, bytes, name) =>
    insist(cookie, 'POST', `/api/assignments/${id}/revisions`, form(bytes, name));
  const began = Date.now();
  const refused = await handIn(first, gif(9_000, 4096), 'walk.gif');
  expectThat(
    'a GIF of 9,000 frames of 4096² is refused in words before it is decoded',
    refused.status === 422 && /pictures of 4096/.test(refused.body.detail),
    `${refused.status} ${refused.body.detail}`,
  );
  const looked = Date.now() - began;
  // Just within what is taken: it is decoded for a minute or two.
  const large = await handIn(first, gif(230, 4096), 'walk.gif');
  expectThat('one of 230 frames is taken', large.status === 201, `${large.status} ${large.body?.detail ?? ''}`);
  const reading = async ({ cookie }, { body }) =>
    (await insist(cookie, 'GET', `/api/shots/${body.shot}`)).body.revisions.at(-1).reading;
  const waited = [];
  for (const [k, who] of [second, third, second, third].entries()) {
    const from = Date.now();
    const handed = await handIn(who, `${motion}${'\n'.repeat(k + 1)}`, 'walk.bvh');
    if (handed.status !== 201) {
      expectThat('a motion is taken beside it', false, `${handed.status} ${JSON.stringify(handed.body)}`);
      continue;
    }
    while (!['read', 'failed'].includes((await reading(who, handed)).state)) await sleep(100);
    waited.push(Date.now() - from);
    await insist(who.cookie, 'POST', `/api/revisions/${handed.body.revision}/withdraw`);
  }
  const own = await reading(first, large);
  expectThat(
    'motions are read while it is decoded',
    waited.length === 4 && (own.state === 'reading' || own.state === 'queued'),
    `the slowest of ${waited.length} took ${(Math.max(...waited) / Math.max(1, looked)).toFixed(1)} times as long as the refusal; the clip is ${own.state}${own.progress === null ? '' : `, ${Math.round(100 * own.progress)} %`}`,
  );
  const until = Date.now() + 15 * 60_000;
  let last = own;
  while (!['read', 'failed'].includes(last.state) && Date.now() < until) {
    await sleep(1_000);
    last = await reading(first, large);
  }
  expectThat(
    'and it is read in the end, or given up in words',
    ['read', 'failed'].includes(last.state),
    `${last.state} ${last.reason ?? ''}`,
  );
}
