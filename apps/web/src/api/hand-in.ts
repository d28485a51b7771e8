import { MAX_CLIP_BYTES } from '@ypsigraph/contract/pictures';
import { REQUEST_HEADER } from '@ypsigraph/contract/vocabulary';
import { asWho, RequestError, toRequestError } from './client.ts';

export interface HandInForm {
  readonly stage: string;
  readonly note: string;
  readonly file: File;
}

/**
 * Hands a file in, saying how much of it has gone.
 * @param onProgress share of the file that has been sent, 0 to 1
 * @throws RequestError
 */
export function handIn(
  assignment: string,
  form: HandInForm,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<{ shot: string; revision: string }> {
  if (form.file.size > MAX_CLIP_BYTES) {
    const megabytes = Math.round(form.file.size / 1_048_576);
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
  const body = new FormData();
  body.set('stage', form.stage);
  body.set('note', form.note);
  body.set('file', form.file, form.file.name);
  // fetch tells nothing of what has been sent.
  const request = new XMLHttpRequest();
  return new Promise((resolve, reject) => {
    request.open('POST', `/api/assignments/${assignment}/revisions`);
    request.setRequestHeader(REQUEST_HEADER, asWho());
    request.upload.onprogress = ({ loaded, total }) => onProgress(total > 0 ? loaded / total : 0);
    request.onload = () => {
      if (request.status === 201) resolve(JSON.parse(request.responseText) as { shot: string; revision: string });
      else reject(toRequestError(request.status, request.responseText));
    };
    request.onerror = () => reject(toRequestError(0, ''));
    request.onabort = () =>
      reject(new RequestError({ type: 'aborted', title: 'Stopped. Nothing was handed in.', status: 0 }, false));
    signal.addEventListener('abort', () => request.abort());
    request.send(body);
  });
}
