import type { z } from 'zod';
import type { Noted } from './audit.ts';
import type { Role } from './vocabulary.ts';

/** Whom a route lets in, before anything is known of the thing it is about. */
export type Audience = 'anyone' | 'signed in' | readonly Role[];

export type Method = 'GET' | 'POST' | 'PATCH' | 'DELETE';

/** Names in an address: `'id' | 'upload'` of `/api/assignments/:id/uploads/:upload`. */
type Names<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | Names<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never;

type Maybe = z.ZodType | undefined;

interface Described<Name extends string, Query extends Maybe, Body extends Maybe, Answer extends Maybe> {
  /** What the address names, where access depends on it: only people of its cohort, and of students only its owner. */
  readonly concerns?: 'cohort' | 'assignment' | 'shot' | 'revision' | 'mark' | 'person';
  /** Names in the address that are no ids of the database's: words of their own. */
  readonly words?: readonly Name[];
  readonly query?: Query;
  readonly body?: Body;
  /** What a success answers with; left out of files and streams. */
  readonly answer?: Answer;
  /** Of a success, where it is not 200. */
  readonly status?: 201 | 204;
  /** What is written down of it: who did what. */
  readonly noted?: Noted;
}

/** All that server and page know of a route. Made by {@link route}; two are the same route only if they are the same object. */
export class Route<
  Path extends string = string,
  Query extends Maybe = Maybe,
  Body extends Maybe = Maybe,
  Answer extends Maybe = Maybe,
> {
  constructor(
    readonly method: Method,
    readonly path: Path,
    readonly audience: Audience,
    readonly more: Described<Names<Path>, Query, Body, Answer>,
  ) {}

  get concerns() {
    return this.more.concerns;
  }

  get status(): number {
    return this.more.status ?? 200;
  }

  /** Names in the address, in order. */
  get names(): string[] {
    return [...this.path.matchAll(/:(\w+)/g)].map(([, name]) => name!);
  }
}

/**
 * A route of the server.
 * @example route('POST', '/api/marks/:id/verdict', STAFF, { concerns: 'mark', body: MarkVerdict, answer: Mark })
 */
export const route = <
  const Path extends string,
  Query extends Maybe = undefined,
  Body extends Maybe = undefined,
  Answer extends Maybe = undefined,
>(
  method: Method,
  path: Path,
  audience: Audience,
  more: Described<Names<Path>, Query, Body, Answer> = {},
): Route<Path, Query, Body, Answer> => new Route(method, path, audience, more);

/** What an address names: `{ id: string }`. */
export type ParamsOf<R> =
  R extends Route<infer Path, Maybe, Maybe, Maybe> ? { readonly [K in Names<Path>]: string } : never;
/** The query as the server reads it, and as the page says it. */
export type QueryOf<R> =
  R extends Route<string, infer Q, Maybe, Maybe> ? (Q extends z.ZodType ? z.output<Q> : undefined) : never;
export type AskedQuery<R> =
  R extends Route<string, infer Q, Maybe, Maybe> ? (Q extends z.ZodType ? z.input<Q> : undefined) : never;
/** The body as the server reads it, and as the page sends it. */
export type BodyOf<R> =
  R extends Route<string, Maybe, infer B, Maybe> ? (B extends z.ZodType ? z.output<B> : undefined) : never;
export type SentBody<R> =
  R extends Route<string, Maybe, infer B, Maybe> ? (B extends z.ZodType ? z.input<B> : undefined) : never;
/** What a success answers with. */
export type AnswerOf<R> =
  R extends Route<string, Maybe, Maybe, infer A> ? (A extends z.ZodType ? z.output<A> : void) : never;

/**
 * The address of a route with its names and its query filled in; what is undefined or null in a query is left out.
 * @example addressOf(ROUTES.folio, { id: 'b6…' }, { cohort: undefined }) // '/api/people/b6…/folio'
 */
export function addressOf(
  { path }: Pick<Route, 'path'>,
  params: Readonly<Record<string, string>> = {},
  query: object | undefined = undefined,
): string {
  const address = path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name]!));
  const asked = Object.entries(query ?? {}).flatMap(([name, value]) =>
    value === undefined || value === null ? [] : [`${name}=${encodeURIComponent(String(value))}`],
  );
  return [address, ...(asked.length > 0 ? [asked.join('&')] : [])].join('?');
}
