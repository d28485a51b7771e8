import type { NextFunction, Request, Response } from 'express';
import { AsyncLocalStorage } from 'node:async_hooks';
import { isBehind, type Position } from './read-replica.ts';

/** Where a browser keeps how far the database was when its person last changed something: whichever server is asked next reads no less. */
const COOKIE = 'written';
const FOR_SECONDS = 60;
const WRITTEN = /(?:^|;\s*)written=([0-9A-F]{1,8}%2F[0-9A-F]{1,8})(?:;|$)/;

const asked = new AsyncLocalStorage<{ position: Position | undefined; reads: boolean }>();

/** What the person who asks has written themselves is there from this position on; undefined where nothing is known. */
export const seenPosition = (): Position | undefined => asked.getStore()?.position;

/** Whether what is done now is done for a request that changes nothing. */
export const readsOnly = (): boolean => asked.getStore()?.reads === true;

/** The later of two positions. */
export const later = (a: Position | undefined, b: Position | undefined): Position | undefined =>
  a === undefined ? b : b === undefined || !isBehind(a, b) ? a : b;

/** Reads from each request how far its person has written, and whether it changes anything. */
export function readPosition(request: Request, _: Response, next: NextFunction): void {
  const [, written] = WRITTEN.exec(request.headers.cookie ?? '') ?? [];
  asked.run({ position: written && decodeURIComponent(written), reads: isReading(request) }, next);
}

/**
 * Notes in the answer of each request that writes how far the database was. It stands behind whatever else changes how an answer is sent: those
 * send its head first.
 *
 * @param now the database's position now
 */
export function notePosition(now: () => Promise<Position | undefined>) {
  return (request: Request, response: Response, next: NextFunction): void => {
    if (!isReading(request)) noteBefore(response, now, request.secure);
    next();
  };
}

const isReading = ({ method }: Request): boolean => method === 'GET' || method === 'HEAD';

/** Sets the position on an answer just before it is sent: by then everything has been committed. */
function noteBefore(response: Response, now: () => Promise<Position | undefined>, secure: boolean): void {
  const end = response.end.bind(response) as (...args: unknown[]) => Response;
  response.end = ((...args: unknown[]) => {
    response.end = end as Response['end'];
    // What failed has written nothing, and may have failed because nothing can be asked now.
    if (response.headersSent || response.statusCode >= 500) return end(...args);
    void now()
      .catch(() => undefined)
      .then((position) => {
        if (position !== undefined)
          response.appendHeader(
            'Set-Cookie',
            `${COOKIE}=${encodeURIComponent(position)}; Path=/api; Max-Age=${FOR_SECONDS}; HttpOnly; SameSite=Lax${secure ? '; Secure' : ''}`,
          );
        end(...args);
      });
    return response;
  }) as Response['end'];
}
