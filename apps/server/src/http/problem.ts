import { HttpException } from '@nestjs/common';
import type { Problem } from '@ypsigraph/contract/problem';

/** Something that goes wrong for a reason a person should be told: becomes an RFC 9457 problem document. */
export class ProblemException extends HttpException {
  constructor(
    status: number,
    readonly type: string,
    readonly title: string,
    readonly detail?: string,
    readonly fields?: Problem['fields'],
  ) {
    super(title, status);
  }
}

export const notSignedIn = () => new ProblemException(401, 'not-signed-in', 'Sign in first.');
export const notAllowed = (title: string) => new ProblemException(403, 'not-allowed', title);
export const notFound = (what: string) => new ProblemException(404, 'not-found', `There is no such ${what}.`);
export const conflict = (title: string, detail?: string) => new ProblemException(409, 'conflict', title, detail);
export const refusedFile = (title: string, detail?: string, status = 422) =>
  new ProblemException(status, 'file-refused', title, detail);
