import type { StoredReport } from '@ypsigraph/contract/shots';
import { json, key, momentOrNow, table, text, uuid } from '../database/table.ts';

/** What was measured of a revision, by the version of the core. */
export const READINGS = table('readings', {
  revisionId: key(uuid()),
  coreVersion: key(text()),
  report: json<StoredReport>(),
  madeAt: momentOrNow(),
});
