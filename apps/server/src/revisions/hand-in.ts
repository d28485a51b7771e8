import type { Request } from 'express';
import { HandIn } from '@ypsigraph/contract/shots';
import { MAX_CLIP_BYTES } from '@ypsigraph/contract/pictures';
import type { FileStore } from '../files/file-store.ts';
import { type NamedFile, receiveForm } from '../files/receive-form.ts';
import { ProblemException, quotaUsed, refusedFile, storageFull } from '../http/problem.ts';

export interface ReceivedHandIn extends NamedFile {
  readonly fields: HandIn;
  /** The clip that goes with a motion. */
  readonly clip?: NamedFile;
  /** The upload that the file was, remembered so that it becomes one revision. */
  readonly upload?: string;
}

/**
 * Takes in a hand-in: its text fields, then the file. Where anything about it is refused nothing is left behind.
 *
 * @param room bytes the student may still hand in
 * @throws ProblemException in words for the student
 */
export async function receiveHandIn(request: Request, store: FileStore, room: number): Promise<ReceivedHandIn> {
  const tooLarge = (): ProblemException =>
    room < MAX_CLIP_BYTES
      ? quotaUsed()
      : refusedFile(
          'The file is larger than 512 MB.',
          'Export it smaller, or hand in the part that the exercise is about.',
          413,
        );
  const missing = (): ProblemException =>
    refusedFile(
      'There is no file in this hand-in.',
      'Choose the motion, the clip or the zip of drawings that you exported.',
    );
  const announced = Number(request.headers['content-length'] ?? 0);
  if (!(await store.hasRoomFor(announced))) throw storageFull();
  const { fields, file, fileName } = await receiveForm(
    request,
    store,
    Math.min(MAX_CLIP_BYTES, room),
    tooLarge,
    missing,
  );
  const parsed = HandIn.safeParse(fields);
  if (!parsed.success) {
    await file.discard();
    const wrong = parsed.error.issues.map(({ path, message }) => ({ field: path.join('.'), message }));
    throw new ProblemException(400, 'invalid', 'Something in the hand-in is not right.', wrong[0]?.message, wrong);
  }
  return { fields: parsed.data, file, fileName };
}
