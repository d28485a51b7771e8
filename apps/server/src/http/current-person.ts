import { createParamDecorator, type ExecutionContext } from '@nestjs/common';
import type { Person } from '@ypsigraph/contract/people';
import { notSignedIn } from './problem.ts';
import type { PersonRequest } from './session.guard.ts';

/** The person who asks. */
export const Current = createParamDecorator((_: unknown, context: ExecutionContext): Person => {
  const { person } = context.switchToHttp().getRequest<PersonRequest>();
  if (!person) throw notSignedIn();
  return person;
});
