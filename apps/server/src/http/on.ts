import { applyDecorators, HttpCode, RequestMapping, RequestMethod, SetMetadata, type Type } from '@nestjs/common';
import { ApiCreatedResponse, ApiOkResponse } from '@nestjs/swagger';
import type { Audience, Route } from '@ypsigraph/contract/routes';

/** Under this key a handler carries whom it lets in. */
export const AUDIENCE = 'audience';

/**
 * Binds a handler to a route of the contract: its method, address and audience, so that none of them is written twice.
 * @param answer the class that describes a successful answer, for the API's description
 */
export function On(route: Route, answer?: Type<unknown> | [Type<unknown>], status = 200): MethodDecorator {
  const response = status === 201 ? ApiCreatedResponse : ApiOkResponse;
  return applyDecorators(
    RequestMapping({ path: route.path, method: RequestMethod[route.method] }),
    SetMetadata<string, Audience>(AUDIENCE, route.audience),
    HttpCode(status),
    ...(answer ? [response({ type: answer })] : []),
  );
}
