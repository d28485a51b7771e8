import { bytes, key, table, text } from '../database/table.ts';

export const FILES = table('files', { sha256: key(text()), bytes: bytes() });
