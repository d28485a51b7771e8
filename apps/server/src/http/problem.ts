import { HttpException } from '@nestjs/common';
import type { ZodError } from 'zod';
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

/** What of a request is not as the contract says, field by field. */
export function invalid({ issues }: ZodError): ProblemException {
  const fields = issues.map(({ path, message }) => ({ field: path.join('.'), message }));
  const detail = fields.map(({ field, message }) => (field ? `${field}: ${message}` : message)).join('; ');
  return new ProblemException(400, 'invalid', 'Something in the request is not right.', detail, fields);
}

export const storageFull = () =>
  new ProblemException(
    507,
    'storage-full',
    'There is no room for files on this server just now.',
    'Nothing of it was kept. Keep your file, and tell your instructor.',
  );
export const filesAway = () =>
  new ProblemException(
    503,
    'files-away',
    'The store of files does not answer just now. Nothing was lost; try again in a moment.',
  );
export const databaseAway = () =>
  new ProblemException(
    503,
    'database-away',
    'The database does not answer just now. Nothing was lost; try again in a moment.',
  );
export const quotaUsed = () =>
  new ProblemException(
    413,
    'quota',
    'Your files have used up their room.',
    'Ask your instructor for more, or hand in a smaller file. Files that were sent and not handed in count for a day.',
  );
export const notNow = (title: string) =>
  new ProblemException(503, 'not-now', title, 'Nothing was lost; try again in a moment.');
