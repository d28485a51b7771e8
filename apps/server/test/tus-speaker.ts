import type { AddressInfo } from 'node:net';
import { HEADER, type School } from './harness.ts';

/** Speaks the tus protocol as its text has it (tus.io, resumable upload protocol 1.0.0), without the package that the server uses. */
export async function speaker(school: School, name: string) {
  const { port } = school.app.getHttpServer().address() as AddressInfo;
  const { rows } = await school.database.query('SELECT id FROM people WHERE name = $1', [name]);
  const at = `http://127.0.0.1:${port}`;
  const signedIn = await fetch(`${at}/api/demo/session`, {
    method: 'POST',
    headers: { ...HEADER, 'content-type': 'application/json' },
    body: JSON.stringify({ person: rows[0].id }),
  });
  const cookie = signedIn.headers.get('set-cookie')!.split(';')[0]!;
  const ask = (method: string, path: string, headers: Record<string, string> = {}, body?: string | Uint8Array) =>
    fetch(new URL(path, at), {
      method,
      headers: { cookie, ...HEADER, 'tus-resumable': '1.0.0', ...headers },
      ...(body !== undefined && { body: body as BodyInit }),
    });
  const begin = (bytes: number, fileName = 'walk.bvh') =>
    ask('POST', '/api/uploads', {
      'upload-length': String(bytes),
      'upload-metadata': `filename ${Buffer.from(fileName).toString('base64')}`,
    });
  const part = (path: string, offset: number, bytes: Uint8Array) =>
    ask('PATCH', path, { 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' }, bytes);
  return {
    ask,
    begin,
    part,
    /** All of a file in one piece. */
    whole: async (file: Uint8Array, fileName: string): Promise<string> => {
      const begun = await begin(file.length, fileName);
      const path = begun.headers.get('location')!;
      await part(path, 0, file);
      return path;
    },
    handIn: (assignment: string, path: string) =>
      ask(
        'POST',
        `/api/assignments/${assignment}/uploads/${path.split('/').at(-1)!}`,
        { 'content-type': 'application/json' },
        JSON.stringify({ stage: 'smoothing', note: 'in two pieces' }),
      ),
  };
}
