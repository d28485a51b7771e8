/** What is never written into a log, wherever it stands: cookies, and the values of a statement that failed. */
export const SECRETS: readonly string[] = [
  'res.headers["set-cookie"]',
  'res.headers.location',
  ...['err', 'err.parent', 'err.original'].map((error) => `${error}.parameters`),
];

/** No word of an address is as long; ids of things, which open nothing, are known by their form. */
const LONGEST_WORD = 19;
const ID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

/**
 * An address as it may be logged: without what opens something to whoever knows it (invitations, calendars, uploads, sessions), and without what is
 * asked for behind it.
 *
 * @example `/api/invitations/AbCdEfGhIjKlMnOpQrStUvWxYz012345?x=1` becomes `/api/invitations/…`
 */
export const safeAddress = (url: string): string =>
  url
    .split('?', 1)[0]!
    .split('/')
    .map((part) => (part.length > LONGEST_WORD && !ID.test(part) ? '…' : part))
    .join('/');

/** A request as it is logged. */
export const withoutSecrets = ({ id, method, url }: { id: unknown; method: string; url: string }): object => ({
  id,
  method,
  url: safeAddress(url),
});
