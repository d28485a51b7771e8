import busboy from 'busboy';
import type { Request } from 'express';
import type { FileStore } from './file-store.ts';
import { type ReceivedFile, StorageFullError, TooLargeError } from './received-file.ts';
import { ProblemException, refusedFile, storageFull } from '../http/problem.ts';

/** A file that came with its name. */
export interface NamedFile {
  readonly file: ReceivedFile;
  readonly fileName: string;
}

/** A form with one file: its text fields as they came. */
export interface ReceivedForm extends NamedFile {
  readonly fields: Readonly<Record<string, string>>;
}

/** Largest text field. */
const FIELD_BYTES = 32 * 1024;
/** So long may pass without a byte. */
const SILENT_MS = 60_000;

/**
 * Takes in a form with one file (multipart/form-data: text fields, then the file). The file streams to disk while it is hashed and counted; if
 * the connection is cut, or it is empty or too large, nothing of it is left behind.
 *
 * @param most bytes of the file
 * @param tooLarge what is said of a larger one
 * @param missing what is said where there is none
 * @throws ProblemException in words for who sent it
 */
export async function receiveForm(
  request: Request,
  store: FileStore,
  most: number,
  tooLarge: () => ProblemException,
  missing: () => ProblemException,
): Promise<ReceivedForm> {
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
      fileName = info.filename || 'untitled';
      receiving = store.receive(stream, most);
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
    if (!receiving) throw missing();
    const file = await receiving;
    if (file.bytes === 0) {
      await file.discard();
      throw refusedFile('The file is empty.', 'Export it again and look whether it has any size.');
    }
    return { fields, file, fileName: cleanName(fileName) };
  } catch (error) {
    void receiving?.then((file) => file.discard()).catch(() => undefined);
    if (error instanceof StorageFullError) throw storageFull();
    if (error instanceof TooLargeError) throw tooLarge();
    if (error instanceof ProblemException) throw error;
    throw refusedFile('The upload did not arrive whole.', 'Nothing of it was kept. Send it again.', 400);
  }
}

/** A file's name without what can't be stored or shown. */
export const cleanName = (name: string): string =>
  Buffer.from(name)
    .toString()
    .replace(/\p{Cc}/gu, '')
    .slice(0, 200) || 'untitled';
