import { addressOf, route } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import { z } from 'zod';
import { call, get, RequestError, send, toRequestError } from '../src/api/client.ts';

const problem = { type: 'conflict', title: 'This exercise is closed.', status: 409, detail: 'Ask for it.' };

/** Lets every request be answered so, and keeps what was asked. */
function answering(answer: () => Promise<Response>): { asked: () => [string, RequestInit] } {
  let last: [string, RequestInit] | undefined;
  globalThis.fetch = ((path: string, init: RequestInit) => {
    last = [path, init];
    return answer();
  }) as typeof fetch;
  return { asked: () => last! };
}

const caught = async (work: Promise<unknown>): Promise<RequestError> => {
  try {
    await work;
  } catch (error) {
    if (error instanceof RequestError) return error;
    throw error;
  }
  throw new Error('it went through');
};

describe('a request', () => {
  test('that changes something carries the header no form can send; one that only asks does not', async () => {
    const { asked } = answering(async () => new Response('{"done":true}'));
    expect(await send('POST', '/api/x', { a: 1 })).toEqual({ done: true });
    expect(asked()[1]).toMatchObject({
      method: 'POST',
      body: '{"a":1}',
      headers: { 'x-ypsigraph': '1', 'content-type': 'application/json' },
    });
    await send('GET', '/api/x');
    expect(asked()[1].headers).toEqual({});
  });

  test('that is refused is said in the server’s words, and is not tried again', async () => {
    answering(async () => new Response(JSON.stringify(problem), { status: 409 }));
    const error = await caught(send('POST', '/api/x', {}));
    expect(error.problem).toEqual(problem);
    expect(error.message).toBe('This exercise is closed. Ask for it.');
    expect(error.passing).toBe(false);
  });

  test.each([
    ['the connection', () => Promise.reject(new TypeError('failed to fetch'))],
    ['the database', async () => new Response(JSON.stringify({ ...problem, status: 503 }), { status: 503 })],
    ['a proxy', async () => new Response('<html>bad gateway</html>', { status: 502 })],
  ] as const)('that fails because %s is away may go through later', async (_, answer) => {
    answering(answer);
    expect((await caught(send('POST', '/api/x', {}))).passing).toBe(true);
  });

  test('with nothing in its answer is nothing', async () => {
    answering(async () => new Response(''));
    expect(await send('DELETE', '/api/x')).toBeUndefined();
  });
});

test('an answer that is no problem document still says something', () => {
  expect(toRequestError(418, 'teapot').message).toContain('418');
  expect(toRequestError(0, '').message).toContain('What you typed is kept');
});

describe('a route', () => {
  const ID = '00000000-0000-4000-8000-000000000000';
  const DOOR = route('POST', '/api/doors/:door/keys/:key', 'signed in', {
    words: ['key'],
    body: z.object({ turns: z.number() }),
    answer: z.object({ open: z.boolean() }),
  });

  test('is asked at its address, with what it is sent, and answers as it says', async () => {
    const { asked } = answering(async () => new Response('{"open":true}'));
    expect(await call(DOOR, { door: ID, key: 'a/b' }, { turns: 2 })).toEqual({ open: true });
    expect(asked()).toMatchObject([`/api/doors/${ID}/keys/a%2Fb`, { method: 'POST', body: '{"turns":2}' }]);
  });

  test('that answers otherwise than it says is noticed while the pages are built', async () => {
    answering(async () => new Response('{"open":"yes"}'));
    await expect(call(DOOR, { door: ID, key: 'x' }, { turns: 1 })).rejects.toThrow(
      'POST /api/doors/:door/keys/:key does not answer as the contract says',
    );
  });

  test('is asked with its query, of which nothing is said that is not there; a form goes as it is', async () => {
    expect(addressOf(ROUTES.folio, { id: ID }, { cohort: undefined })).toBe(`/api/people/${ID}/folio`);
    const { asked } = answering(async () => new Response('{"messages":[],"next":null,"all":0}'));
    await get([ROUTES.pictureFrames, { id: ID, size: 'small' }, { from: 3, to: 9 }]);
    expect(asked()[0]).toBe(`/api/revisions/${ID}/pictures/small?from=3&to=9`);
    const form = new FormData();
    await send('POST', addressOf(ROUTES.addBriefFile, { brief: ID }), form);
    expect(asked()[1]).toMatchObject({ body: form, headers: { 'x-ypsigraph': '1' } });
    expect(asked()[1].headers).not.toHaveProperty('content-type');
  });
});
