import { toast } from 'sonner';
import { ROUTES } from '@ypsigraph/contract/routes';
import { RequestError } from './client.ts';
import { again } from './data.ts';

/**
 * Carries out something a person asked for; what the server refuses is said at the edge of the page, in its words.
 * @returns whether it went through
 */
export async function attempt(work: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
    return true;
  } catch (error) {
    if (!(error instanceof RequestError)) throw error;
    toast.error(error.message);
    // Somebody else has signed in meanwhile: the page becomes theirs.
    if (error.problem.type === 'another-person') void again(ROUTES.session);
    return false;
  }
}
