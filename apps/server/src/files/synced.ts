import { open } from 'node:fs/promises';

/** Waits until a file, or the names in a folder, are on the disk and not only in the system's memory. */
export async function synced(path: string): Promise<void> {
  const file = await open(path, 'r');
  try {
    await file.sync();
  } finally {
    await file.close();
  }
}
