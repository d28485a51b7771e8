// A review by what a school that was just set up answers: from two invitations to a motion and a clip that are sent back.
import { request } from 'node:https';

const HOST = 'desk.example';
const PASSWORD = 'harbour lights 47';
const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * A review through the proxy: two invitations, an exercise, a motion and then a clip, each sent back.
 * @param said what was printed, with the two invitations in it
 * @param ask how the proxy is asked
 * @returns who is signed in, by their cookies
 */
export async function review({ expectThat, said, motion, ask }) {
  const [teaches, learns] = [...said.matchAll(/https:\/\/[^\s/]+\/invitation\/[\w-]+/g)].map(([address]) => address);
  const come = async (address) => {
    const token = address.split('/').at(-1);
    const answer = await ask('POST', `/api/invitations/${token}`, undefined, { password: PASSWORD });
    expectThat(
      'an invitation is taken through the proxy, over HTTPS',
      answer.status === 200,
      `${answer.status} ${answer.text.slice(0, 200)}`,
    );
    return (answer.headers['set-cookie'] ?? []).map((cookie) => cookie.split(';')[0]).join('; ');
  };
  const [instructor, student] = [await come(teaches), await come(learns)];
  const [cohort] = (await ask('GET', '/api/cohorts', instructor)).json();
  const [brief] = (await ask('GET', '/api/briefs', instructor)).json();
  const due = new Date(Date.now() + 1e8).toISOString();
  const set = (await ask('POST', '/api/assignments', instructor, { brief: brief.id, cohort: cohort.id, due })).json();
  for (const [name, bytes] of [
    ['walk.bvh', Buffer.from(motion)],
    ['walk.gif', smallGif(24, 64)],
  ]) {
    const handed = await ask(
      'POST',
      `/api/assignments/${set.id}/revisions`,
      student,
      form({ stage: 'smoothing' }, name, bytes),
    );
    expectThat(`${name} is handed in`, handed.status === 201, `${handed.status} ${handed.text.slice(0, 200)}`);
    if (handed.status !== 201) return undefined;
    const { shot, revision } = handed.json();
    let reading;
    for (let k = 0; k < 60 && reading?.state !== 'read' && reading?.state !== 'failed'; k++) {
      await sleep(500);
      reading = (await ask('GET', `/api/shots/${shot}`, instructor)).json().revisions.at(-1).reading;
    }
    expectThat(
      `${name} is read by the worker`,
      reading?.state === 'read',
      `${reading?.state} ${reading?.reason ?? ''}`,
    );
    const back = await ask('POST', `/api/revisions/${revision}/send-back`, instructor, {
      words: 'Mind the hand at 9.',
      asked: '',
    });
    expectThat(`${name} is sent back`, back.status === 200, `${back.status}`);
  }
  return { instructor, student };
}

/** A GIF of frames that differ by one pixel (GIF89a, W3C). */
function smallGif(frames, side) {
  const word = (value) => [value & 255, value >> 8];
  const head = [...Buffer.from('GIF89a'), ...word(side), ...word(side), 0x80, 0, 0, 0, 0, 0, 255, 255, 255];
  const frame = (k) => [
    0x21,
    0xf9,
    4,
    0,
    ...word(4),
    0,
    0,
    0x2c,
    ...word(k),
    ...word(k),
    ...word(1),
    ...word(1),
    0,
    2,
    2,
    0x4c,
    1,
    0,
  ];
  return Buffer.from([...head, ...Array.from({ length: frames }, (_, k) => frame(k)).flat(), 0x3b]);
}

function form(fields, fileName, bytes) {
  const line = `soak${Date.now()}`;
  const parts = Object.entries(fields).map(([name, value]) =>
    Buffer.from(`--${line}\r\nContent-Disposition: form-data; name="${name}"\r\n\r\n${value}\r\n`),
  );
  const head = Buffer.from(
    `--${line}\r\nContent-Disposition: form-data; name="file"; filename="${fileName}"\r\nContent-Type: application/octet-stream\r\n\r\n`,
  );
  return {
    type: `multipart/form-data; boundary=${line}`,
    bytes: Buffer.concat([...parts, head, bytes, Buffer.from(`\r\n--${line}--\r\n`)]),
  };
}

/** How a proxy is asked, whose certificate is only for trying. @param host its address */
export const proxyAt = (host) => (method, path, cookie, body) => {
  const isForm = body?.bytes !== undefined;
  const bytes = body === undefined ? undefined : isForm ? body.bytes : Buffer.from(JSON.stringify(body));
  const headers = {
    host: HOST,
    'x-ypsigraph': '1',
    ...(cookie && { cookie }),
    ...(bytes && { 'content-type': isForm ? body.type : 'application/json', 'content-length': bytes.length }),
  };
  return new Promise((resolve, reject) => {
    const sent = request(
      { host, port: 443, servername: HOST, rejectUnauthorized: false, method, path, headers },
      (response) => {
        let text = '';
        response.setEncoding('utf8').on('data', (chunk) => (text += chunk));
        response.on('end', () =>
          resolve({ status: response.statusCode, headers: response.headers, text, json: () => JSON.parse(text) }),
        );
      },
    );
    sent.on('error', reject);
    sent.end(bytes);
  });
};

/** That nobody who reads a log learns an invitation from it. */
export function expectNoInvitation({ expectThat, said, log }) {
  const tokens = [...said.matchAll(/\/invitation\/([\w-]+)/g)].map(([, token]) => token);
  expectThat(
    'no log holds an invitation',
    log.length > 0 && tokens.length > 0 && !tokens.some((token) => log.includes(token)),
  );
}
