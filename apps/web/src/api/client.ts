import { Problem } from '@ypsigraph/contract/problem';
import {
  addressOf,
  type AnswerOf,
  type AskedQuery,
  type ParamsOf,
  type Route,
  type SentBody,
} from '@ypsigraph/contract/route';
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

/** A file or several of a form are sent as they are; everything else as JSON. */
const isForm = (body: unknown): body is FormData => typeof FormData !== 'undefined' && body instanceof FormData;

/**
 * Sends a request to the server, by the address of its route.
 * @throws RequestError
 */
export async function send(method: string, address: string, body?: unknown): Promise<unknown> {
  let response: Response;
  try {
    response = await fetch(address, {
      method,
      headers: {
        ...(body !== undefined && !isForm(body) && { 'content-type': 'application/json' }),
        ...(method !== 'GET' && { [REQUEST_HEADER]: asWho() }),
      },
      ...(body !== undefined && { body: isForm(body) ? body : JSON.stringify(body) }),
    });
  } catch {
    throw new RequestError(AWAY, true);
  }
  const text = await response.text();
  if (!response.ok) throw toRequestError(response.status, text);
  return text === '' ? undefined : JSON.parse(text);
}

/** What a route is sent besides the names in its address: a body where it takes one, or a form with files. */
type Sent<R> = SentBody<R> extends undefined ? [form?: FormData] : [body: SentBody<R>];

/**
 * Asks something of a route of the server.
 * @example await call(ROUTES.judgeMark, { id: mark.id }, { state: 'cleared' }) // the mark as it now is
 * @throws RequestError
 */
export async function call<R extends Route>(route: R, params: ParamsOf<R>, ...[body]: Sent<R>): Promise<AnswerOf<R>> {
  return answered(route, await send(route.method, addressOf(route, params), body));
}

/** What SWR keeps an answer under: the route itself, the names in its address, and its query. */
export type Key<R extends Route = Route> = readonly [route: R, params: ParamsOf<R>, query?: AskedQuery<R>];

/** Fetches what stands under a key, for SWR. */
export const get = async <R extends Route>([route, params, query]: Key<R>): Promise<AnswerOf<R>> =>
  answered(route, await send(route.method, addressOf(route, params, query as object | undefined)));

/** An answer as its route's. While the page is being built it is held against the contract. */
function answered<R extends Route>(route: R, answer: unknown): AnswerOf<R> {
  const checked = CHECKED ? route.more.answer?.safeParse(answer) : undefined;
  if (checked && !checked.success)
    throw new Error(`${route.method} ${route.path} does not answer as the contract says: ${checked.error.message}`);
  return answer as AnswerOf<R>;
}

/** Set when the pages are built. */
declare const process: { readonly env: { readonly NODE_ENV?: string } };
const CHECKED = process.env.NODE_ENV !== 'production';
