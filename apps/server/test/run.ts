import { randomUUID } from 'node:crypto';

/** Before the first suite: gives the run a name, under which its suites find the school that one of them has made. */
export default function nameRun(): void {
  process.env.SCHOOL_RUN = randomUUID().slice(0, 8);
}
