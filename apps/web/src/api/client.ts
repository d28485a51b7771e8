import { Problem } from '@ypsigraph/contract/problem';
import { REQUEST_HEADER } from '@ypsigraph/contract/vocabulary';

/** A request that failed, in words for the person at the page. */
export class RequestError extends Error {
  constructor(
    readonly problem: Problem,
    /** Whether the same request may go through later: the connection or the database was away. */
    readonly passing: boolean,
  ) {
    super(problem.detail ? `${problem.title} ${problem.detail}` : problem.title);
  }
}

const AWAY: Problem = { type: 'connection', title: 'The connection was lost. What you typed is kept.', status: 0 };

/** Reads an answer that is not a success. */
export function toRequestError(status: number, text: string): RequestError {
  try {
    const problem = Problem.parse(JSON.parse(text));
    return new RequestError(problem, status === 503 || status === 502 || status === 504);
  } catch {
    const passing = status === 0 || status >= 500;
    return new RequestError(
      passing ? { ...AWAY, status } : { type: 'about:blank', title: `The server answered ${status}.`, status },
      passing,
    );
  }
}

let person = '1';

/** Whose page this is: the server refuses what somebody else, who has signed in meanwhile, did not write. */
export const asWho = (): string => person;
export function speakAs(id: string | undefined): void {
  person = id ?? '1';
}

/**
 * Sends a request to the server.
 * @throws RequestError
 */
export async function send<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      headers: {
        ...(body !== undefined && { 'content-type': 'application/json' }),
        ...(method !== 'GET' && { [REQUEST_HEADER]: asWho() }),
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
  } catch {
    throw new RequestError(AWAY, true);
  }
  const text = await response.text();
  if (!response.ok) throw toRequestError(response.status, text);
  return (text === '' ? undefined : JSON.parse(text)) as T;
}

/**
 * Sends a form with files.
 * @throws RequestError
 */
export async function sendForm<T>(method: string, path: string, form: FormData): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, { method, headers: { [REQUEST_HEADER]: asWho() }, body: form });
  } catch {
    throw new RequestError(AWAY, true);
  }
  const text = await response.text();
  if (!response.ok) throw toRequestError(response.status, text);
  return JSON.parse(text) as T;
}

/** For SWR. */
export const get = <T>(path: string): Promise<T> => send<T>('GET', path);
