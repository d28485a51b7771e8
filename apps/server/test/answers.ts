import type { Response } from 'supertest';
import { Problem } from '@ypsigraph/contract/problem';
import type { Route } from '@ypsigraph/contract/route';
import { DEMO_ROUTES, ROUTES } from '@ypsigraph/contract/routes';

const routes = Object.values<Route>({ ...ROUTES, ...DEMO_ROUTES }).map((route) => ({
  route,
  pattern: new RegExp(`^${route.path.replace(/:\w+/g, '[^/]+')}$`),
}));

/**
 * Holds an answer against the contract: every success against its route's schema, every failure against the problem document's.
 * @throws where it is not what the contract says
 */
export function asTheContractSays(method: string, path: string, { status, body, text }: Response): void {
  const [address] = path.split('?') as [string];
  const found = routes.find(({ route, pattern }) => route.method === method && pattern.test(address));
  // What the tus protocol itself refuses is said as that protocol says it.
  if (status >= 400 && address.startsWith('/api/uploads') && !text.startsWith('{')) return;
  if (status >= 400) {
    Problem.parse(typeof body === 'object' && Object.keys(body as object).length > 0 ? body : JSON.parse(text));
    return;
  }
  const result = found?.route.more.answer?.safeParse(body);
  if (result && !result.success)
    throw new Error(`${method} ${address} does not answer as the contract says: ${result.error.message.slice(0, 600)}`);
}
