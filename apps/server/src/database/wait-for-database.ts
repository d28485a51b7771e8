import { isConnectionLoss } from '../http/problem.filter.ts';

/** A database that is away when a process starts is waited for so long. */
const PATIENCE_MS = 90_000;

/**
 * Does something as soon as the database is there.
 * @throws whatever else goes wrong, or that the database never came
 */
export async function waitForDatabase<T>(work: () => Promise<T>): Promise<T> {
  const until = Date.now() + PATIENCE_MS;
  for (;;) {
    try {
      return await work();
    } catch (error) {
      if (Date.now() > until || !isConnectionLoss(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, 1_000));
    }
  }
}
