/** What may take its time: changing the database, copying it. Said to the server, whose role may be given limits of its own behind a pooler. */
export const NO_LIMITS = Object.freeze({
  options: '-c statement_timeout=0 -c lock_timeout=0 -c idle_in_transaction_session_timeout=0',
});

/**
 * How long anything waits for the database, milliseconds: a statement there, a lock there, a transaction left open, and the answer here, where
 * the database may hang without refusing. What waited too long is answered as “not to be asked now”.
 */
export const LIMITS_OF_WAITING = Object.freeze({
  statement_timeout: 10_000,
  lock_timeout: 5_000,
  idle_in_transaction_session_timeout: 30_000,
  query_timeout: 12_000,
  connectionTimeoutMillis: 8_000,
  keepAlive: true,
});
