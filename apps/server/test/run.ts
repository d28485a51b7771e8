import { randomUUID } from 'node:crypto';

/**
 * Before the first suite: gives the run a name, under which its suites find the school that one of them has made. Whoever names it themselves keeps what was
 * made.
 */
export default function nameRun(): void {
  process.env.SCHOOL_RUN = process.env.KEPT_RUN ?? randomUUID().slice(0, 8);
}
