import { FileMissingError } from '../files/file-home.ts';
import type { RevisionModel } from './revision.models.ts';

/** What is said of a revision whose student has been forgotten. */
export const FILE_DELETED = 'what was handed in has been deleted';

/**
 * The file that a revision is of, by its hash.
 * @throws FileMissingError once it has been deleted
 */
export function keptFile({ fileSha256 }: Pick<RevisionModel, 'fileSha256'>): string {
  if (fileSha256 === null) throw new FileMissingError(FILE_DELETED);
  return fileSha256;
}
