import { pipeline } from 'node:stream/promises';
import type { Response } from 'express';
import type { FileStore } from './file-store.ts';

interface Sent {
  readonly sha256: string;
  /** What it is saved as. */
  readonly name: string;
  /** Whether the address always gives this content, so that a browser may keep it. */
  readonly kept?: boolean;
}

/** Sends a kept file to be saved: whatever is in it, it is never shown as a page. */
export async function sendFile(
  response: Response,
  files: FileStore,
  { sha256, name, kept = false }: Sent,
): Promise<void> {
  const disposition = `attachment; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)}`;
  // Somebody saves it: no page of ours reads it, which may read from here only.
  if (response.req.headers['sec-fetch-mode'] === 'navigate') {
    const elsewhere = await files.signedAddress(sha256, disposition);
    if (elsewhere !== undefined) return response.set('Cache-Control', 'private, no-store').redirect(302, elsewhere);
  }
  const stream = await files.open(sha256);
  response.set({
    'Content-Type': 'application/octet-stream',
    'Content-Disposition': disposition,
    'X-Content-Type-Options': 'nosniff',
    'Cache-Control': kept ? 'private, max-age=31536000, immutable' : 'private, no-cache',
  });
  // Who goes away in the middle has nothing more to be told.
  await pipeline(stream, response).catch(() => response.destroy());
}
