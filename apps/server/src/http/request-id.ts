import { AsyncLocalStorage } from 'node:async_hooks';
import { randomUUID } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';

/** Header by which a request is known, to whoever asks and in every log. */
const HEADER = 'x-request-id';
/** What a proxy before this server may have called it. */
const PLAIN = /^[\w.:-]{1,80}$/;

const storage = new AsyncLocalStorage<string>();

/** What the request is called that is being answered; null where none is. */
export const requestId = (): string | null => storage.getStore() ?? null;

/** Gives each request its name: the one that it comes with, or one of its own. It is answered with it. */
export function nameRequest(request: IncomingMessage, response: ServerResponse, next: () => void): void {
  const given = request.headers[HEADER];
  const id = typeof given === 'string' && PLAIN.test(given) ? given : randomUUID();
  request.id = id;
  response.setHeader('X-Request-Id', id);
  storage.run(id, next);
}
