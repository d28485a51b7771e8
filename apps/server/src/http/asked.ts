import { createParamDecorator, type ExecutionContext } from '@nestjs/common';
import type { Request } from 'express';
import type { z } from 'zod';
import type { BodyOf, ParamsOf, QueryOf, Route } from '@ypsigraph/contract/route';
import { Id } from '@ypsigraph/contract/vocabulary';
import { ROUTE } from './route-keys.ts';
import { invalid, notFound } from './problem.ts';

/** What a request asks of a route: the names in its address, its query and its body, as the contract reads them. */
export interface Asked<R> {
  readonly params: ParamsOf<R>;
  readonly query: QueryOf<R>;
  readonly body: BodyOf<R>;
}

/**
 * What a request asks of the route its handler is bound to, checked.
 *
 * Answers 404 where an id in the address is none, since it can't name anything; 400, field by field, where query or body is not what the contract says.
 * @example judge(@Current() person: Person, @Asked() { params, body }: Asked<typeof ROUTES.judgeMark>)
 */
export const Asked = createParamDecorator((_: unknown, context: ExecutionContext): Asked<Route> => {
  const route = Reflect.getMetadata(ROUTE, context.getHandler()) as Route;
  const request = context.switchToHttp().getRequest<Request>();
  return {
    params: paramsOf(route, request.params as Record<string, string>),
    query: read(route.more.query, request.query),
    body: read(route.more.body, request.body),
  };
});

function paramsOf({ names, more: { words = [] } }: Route, params: Record<string, string>): Record<string, string> {
  for (const name of names)
    if (!words.includes(name as never) && !Id.safeParse(params[name]).success) throw notFound('thing');
  return params;
}

function read(schema: z.ZodType | undefined, value: unknown): unknown {
  if (!schema) return undefined;
  const result = schema.safeParse(value);
  if (!result.success) throw invalid(result.error);
  return result.data;
}
