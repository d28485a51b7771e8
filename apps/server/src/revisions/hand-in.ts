import busboy from 'busboy';
import type { Request } from 'express';
import { HandIn } from '@ypsigraph/contract/shots';
import { MAX_CLIP_BYTES } from '@ypsigraph/contract/pictures';
import { type FileStore, type ReceivedFile, StorageFullError, TooLargeError } from '../files/file-store.ts';
import { ProblemException, quotaUsed, refusedFile, storageFull } from '../http/problem.ts';

/** A file that came with its name. */
export interface NamedFile {
  readonly file: ReceivedFile;
  readonly fileName: string;
}

export interface ReceivedHandIn extends NamedFile {
  readonly fields: HandIn;
  /** The clip that goes with a motion. */
  readonly clip?: NamedFile;
}

/** Largest text field. */
const FIELD_BYTES = 32 * 1024;
/** So long may pass without a byte. */
const SILENT_MS = 60_000;

/**
 * Takes in a hand-in (multipart/form-data: text fields, then the file). The file streams to disk while it is hashed and counted; if
 * the connection is cut, or anything about it is refused, nothing of it is left behind.
 *
 * @param room bytes the student may still hand in
 * @throws ProblemException in words for the student
 */
export async function receiveHandIn(request: Request, store: FileStore, room: number): Promise<ReceivedHandIn> {
  const fields: Record<string, string> = {};
  let receiving: Promise<ReceivedFile> | undefined;
  let fileName = '';
  try {
    const parser = busboy({
      headers: request.headers,
      defParamCharset: 'utf8',
      limits: { files: 1, fields: 20, fieldSize: FIELD_BYTES },
    });
    parser.on('field', (name, value) => (fields[name] = value));
    parser.on('file', (_name, stream, info) => {
      fileName = info.filename || 'untitled.bvh';
      receiving = store.receive(stream, Math.min(MAX_CLIP_BYTES, room));
      // A refusal is waited for below; until then it must not count as unhandled.
      receiving.catch(() => request.unpipe(parser).resume());
    });
    await new Promise<void>((resolve, reject) => {
      parser.on('close', resolve);
      parser.on('error', reject);
      // A line may be slow, but not silent.
      request.setTimeout(SILENT_MS, () => request.destroy(new Error('nothing came any more')));
      request.on('aborted', () => {
        const cut = new Error('the connection was cut');
        parser.destroy(cut);
        reject(cut);
      });
      request.pipe(parser);
      const check = (): void => void receiving?.catch(reject);
      parser.on('file', check);
    });
    if (!receiving)
      throw refusedFile(
        'There is no file in this hand-in.',
        'Choose the motion, the clip or the zip of drawings that you exported.',
      );
    const file = await receiving;
    const parsed = HandIn.safeParse(fields);
    if (file.bytes === 0 || !parsed.success) {
      await file.discard();
      if (parsed.success) throw refusedFile('The file is empty.', 'Export it again and look whether it has any size.');
      const wrong = parsed.error.issues.map(({ path, message }) => ({ field: path.join('.'), message }));
      throw new ProblemException(400, 'invalid', 'Something in the hand-in is not right.', wrong[0]?.message, wrong);
    }
    return { fields: parsed.data, file, fileName: cleanName(fileName) };
  } catch (error) {
    void receiving?.then((file) => file.discard()).catch(() => undefined);
    if (error instanceof StorageFullError) throw storageFull();
    if (error instanceof TooLargeError && room < MAX_CLIP_BYTES) throw quotaUsed();
    if (error instanceof TooLargeError) {
      throw refusedFile(
        'The file is larger than 512 MB.',
        'Export it smaller, or hand in the part that the exercise is about.',
        413,
      );
    }
    if (error instanceof ProblemException) throw error;
    throw refusedFile('The upload did not arrive whole.', 'Nothing of it was kept. Hand it in again.', 400);
  }
}

/** A file's name without what can't be stored or shown. */
export const cleanName = (name: string): string =>
  Buffer.from(name)
    .toString()
    .replace(/\p{Cc}/gu, '')
    .slice(0, 200) || 'untitled.bvh';
