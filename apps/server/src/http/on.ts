import {
  applyDecorators,
  HttpCode,
  RequestMapping,
  RequestMethod,
  SetMetadata,
  Sse,
  UseInterceptors,
  type StreamableFile,
} from '@nestjs/common';
import { ApiBody, ApiParam, ApiQuery, ApiResponse } from '@nestjs/swagger';
import { z } from 'zod';
import type { AnswerOf, Audience, Route } from '@ypsigraph/contract/route';
import { AuditInterceptor } from '../audit/audit.interceptor.ts';
import { AUDIENCE, ROUTE } from './route-keys.ts';

type Schema =
  NonNullable<Parameters<typeof ApiResponse>[0]> extends infer T ? Extract<T, { schema: unknown }>['schema'] : never;

/** A schema of the contract as OpenAPI describes it. */
const described = (schema: z.ZodType, io: 'input' | 'output'): Schema =>
  z.toJSONSchema(schema, { target: 'openapi-3.0', io, unrepresentable: 'any' }) as Schema;

/** What a handler gives back: what its route answers with; nothing, where it writes to the response itself. */
type Answered<R> = AnswerOf<R> | Promise<AnswerOf<R>> | Promise<void> | Promise<StreamableFile>;

const carries = (route: Route): MethodDecorator[] => [
  SetMetadata<string, Audience>(AUDIENCE, route.audience),
  SetMetadata<string, Route>(ROUTE, route),
  ...route.names.map((name) => ApiParam({ name, type: String })),
];

/** Binds a handler to a route of the contract: method, address, audience and what it answers, so that none of them is written twice. */
export function On<R extends Route>(
  route: R,
  // The arguments of a handler are its own: its decorators say where each comes from.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
): <T extends (...args: any[]) => Answered<R>>(
  target: object,
  key: string | symbol,
  handler: TypedPropertyDescriptor<T>,
) => void {
  const { query, body, answer } = route.more;
  const shape: Readonly<Record<string, z.ZodType>> = query instanceof z.ZodObject ? query.shape : {};
  return applyDecorators(
    RequestMapping({ path: route.path, method: RequestMethod[route.method] }),
    HttpCode(route.status),
    ...carries(route),
    ...Object.entries(shape).map(([name, schema]) =>
      ApiQuery({ name, required: !schema.safeParse(undefined).success, schema: described(schema, 'input') }),
    ),
    ...(body ? [ApiBody({ schema: described(body, 'input') })] : []),
    // On these alone: before a stream of events any interceptor has it begun before it is refused.
    ...(route.more.noted ? [UseInterceptors(AuditInterceptor)] : []),
    ...(answer ? [ApiResponse({ status: route.status, schema: described(answer, 'output') })] : []),
  );
}

/** Binds a handler to a route of the contract that goes on telling what happens: a stream of events. */
export const Streams = (route: Route): MethodDecorator => applyDecorators(Sse(route.path), ...carries(route));
