import { MAX_CLIP_BYTES } from '@ypsigraph/contract/pictures';
import { addressOf, type SentBody } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import type { HandedIn } from '@ypsigraph/contract/shots';
import { REQUEST_HEADER, type Stage } from '@ypsigraph/contract/vocabulary';
import { Upload } from 'tus-js-client';
import { asWho, call, RequestError, toRequestError } from './client.ts';

export interface HandInForm {
  readonly stage: Stage;
  readonly note: string;
  /** Parts worked on this time. */
  readonly workedOn: readonly string[];
  /** Readings whose cures were looked at. */
  readonly curesSeen: readonly string[];
  /** Roles that were corrected before it is sent: which joint is which; null for none. */
  readonly roles: Readonly<Record<string, string | null>>;
  /** Of a file with several: which animation and which figure. */
  readonly animation?: string | undefined;
  readonly figure?: string | undefined;
  readonly file: File;
  /** The clip that goes with a motion, and the label at which its first frame is seen. */
  readonly clip?: { readonly file: File; readonly first: number } | undefined;
  /** Of what shows how: the one shot it is for. */
  readonly beside?: string | undefined;
}

/** Files from this size on come in pieces, and go on where they were cut. */
const IN_PIECES_BYTES = 4 * 1024 * 1024;
const PIECE_BYTES = 8 * 1024 * 1024;
/** Pauses before a piece that did not arrive is sent again, milliseconds. */
const AGAIN_MS = [0, 1_000, 3_000, 5_000, 10_000, 20_000];

/** Whether a piece may arrive when it is sent again: a disk that is full is not emptied in a few seconds. */
const mayPass = (status: number): boolean =>
  status !== 507 && (status < 400 || status >= 500 || status === 409 || status === 423);

/** What is left of an upload that was cut, by this person and for this exercise, in this browser. */
const leftOf = (assignment: string, { name, size, lastModified }: File): string =>
  ['upload', asWho(), assignment, name, size, lastModified].join('/');

/** A file that has arrived as an upload: it is a revision only once it is handed in. */
interface Sent {
  readonly name: string;
  readonly upload: Upload;
}

/**
 * Sends a file in pieces, by the tus protocol: cut off, or with the page closed, it goes on where it was when the same file is handed in again.
 * @throws RequestError
 */
function sendInPieces(
  assignment: string,
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<Sent> {
  return new Promise((resolve, reject) => {
    const upload = new Upload(file, {
      endpoint: addressOf(ROUTES.beginUpload),
      chunkSize: PIECE_BYTES,
      retryDelays: AGAIN_MS,
      onShouldRetry: (error) => mayPass(error.originalResponse?.getStatus() ?? 0),
      headers: { [REQUEST_HEADER]: asWho() },
      metadata: { filename: file.name },
      fingerprint: async () => leftOf(assignment, file),
      onProgress: (sent, total) => onProgress(total > 0 ? sent / total : 0),
      onSuccess: () => resolve({ name: upload.url!.split('/').at(-1)!, upload }),
      onError: (error) => {
        const response = 'originalResponse' in error ? error.originalResponse : null;
        reject(toRequestError(response?.getStatus() ?? 0, response?.getBody() ?? ''));
      },
    });
    signal.addEventListener('abort', () => {
      void upload.abort();
      reject(
        new RequestError(
          { type: 'aborted', title: 'Stopped. What was sent waits a day: hand the same file in to go on.', status: 0 },
          false,
        ),
      );
    });
    void upload.findPreviousUploads().then(([before]) => {
      if (before) upload.resumeFromPreviousUpload(before);
      upload.start();
    });
  });
}

/**
 * Hands a file in, saying how much of it has gone. A clip that goes with it is sent first: both arrive, or neither.
 * @param onProgress share of all that has been sent, 0 to 1
 * @throws RequestError
 */
export async function handIn(
  assignment: string,
  form: HandInForm,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<HandedIn> {
  const { file, clip, stage, note, workedOn, curesSeen, roles, animation, figure, beside } = form;
  for (const own of [file, ...(clip ? [clip.file] : [])]) refuseTooLarge(own);
  const all = file.size + (clip?.file.size ?? 0);
  const fields: Record<string, string> & SentBody<typeof ROUTES.handInUpload> = {
    stage,
    note,
    workedOn: JSON.stringify(workedOn),
    curesSeen: JSON.stringify(curesSeen),
    roles: JSON.stringify(roles),
    ...(animation !== undefined && { animation }),
    ...(figure !== undefined && { figure }),
    ...(beside !== undefined && { beside }),
  };
  let before = 0;
  const sent: Sent[] = [];
  const sentOf = (size: number) => (share: number) => onProgress((before + share * size) / all);
  if (clip) {
    sent.push(await sendInPieces(assignment, clip.file, sentOf(clip.file.size), signal));
    fields.clip = sent[0]!.name;
    fields.clipFirst = String(clip.first);
    before = clip.file.size;
  }
  try {
    let made: HandedIn;
    if (file.size < IN_PIECES_BYTES) made = await sendWhole(assignment, file, fields, sentOf(file.size), signal);
    else {
      const own = await sendInPieces(assignment, file, sentOf(file.size), signal);
      sent.push(own);
      made = await call(ROUTES.handInUpload, { id: assignment, upload: own.name }, fields);
    }
    await forget(sent, false);
    return made;
  } catch (error) {
    // What is refused for what is in it is sent anew, mended: what was sent of it makes room.
    if (error instanceof RequestError && error.problem.type === 'file-refused') await forget(sent, true);
    throw error;
  }
}

/** Whatever becomes of a hand-in next, these uploads are not gone on with. */
async function forget(sent: readonly Sent[], letGo: boolean): Promise<void> {
  for (const { name, upload } of sent) {
    await upload.abort().catch(() => undefined);
    for (const { urlStorageKey } of await upload.findPreviousUploads())
      await upload.options.urlStorage?.removeUpload(urlStorageKey);
    if (letGo) await call(ROUTES.dropUpload, { upload: name }).catch(() => undefined);
  }
}

/** @throws RequestError */
function refuseTooLarge({ size }: File): void {
  if (size > MAX_CLIP_BYTES) {
    const megabytes = Math.round(size / 1_048_576);
    throw new RequestError(
      {
        type: 'file-refused',
        title: `The file has ${megabytes} MB; at most 512 MB can be handed in.`,
        detail: 'Export it smaller, or hand in the part that the exercise is about.',
        status: 413,
      },
      false,
    );
  }
}

/** Sends a small file in one request, behind its fields. */
function sendWhole(
  assignment: string,
  file: File,
  fields: Readonly<Record<string, string>>,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<HandedIn> {
  const body = new FormData();
  for (const [name, value] of Object.entries(fields)) body.set(name, value);
  body.set('file', file, file.name);
  // fetch tells nothing of what has been sent.
  const request = new XMLHttpRequest();
  return new Promise((resolve, reject) => {
    request.open('POST', addressOf(ROUTES.handIn, { id: assignment }));
    request.setRequestHeader(REQUEST_HEADER, asWho());
    request.upload.onprogress = ({ loaded, total }) => onProgress(total > 0 ? loaded / total : 0);
    request.onload = () => {
      if (request.status === 201) resolve(JSON.parse(request.responseText) as HandedIn);
      else reject(toRequestError(request.status, request.responseText));
    };
    request.onerror = () => reject(toRequestError(0, ''));
    request.onabort = () =>
      reject(new RequestError({ type: 'aborted', title: 'Stopped. Nothing was handed in.', status: 0 }, false));
    signal.addEventListener('abort', () => request.abort());
    request.send(body);
  });
}
