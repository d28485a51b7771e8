/**
 * This page, as long as it is open: what is written in it is kept under its name, so that two pages do not overwrite each other. The browser
 * holds a lock for each page that lives; what a page that is gone has left is taken over by the next that asks for it.
 */
export const TAB: string = crypto.randomUUID();

const LOCK = 'ypsigraph-page:';
const hasLocks = typeof navigator !== 'undefined' && 'locks' in navigator;

if (hasLocks) void navigator.locks.request(LOCK + TAB, () => new Promise(() => undefined));

/** Pages that are open in this browser, this one included; only this one where the browser can't tell. */
export async function livingTabs(): Promise<ReadonlySet<string>> {
  const held = hasLocks ? ((await navigator.locks.query()).held ?? []) : [];
  const names = held.flatMap(({ name }) => (name?.startsWith(LOCK) ? [name.slice(LOCK.length)] : []));
  return new Set([TAB, ...names]);
}
