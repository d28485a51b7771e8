import type { AuditKind } from '@ypsigraph/contract/audit';
import { useEffect } from 'react';
import useSWR, { mutate, preload, type SWRConfiguration, type SWRResponse } from 'swr';
import useSWRInfinite, { type SWRInfiniteConfiguration, type SWRInfiniteResponse } from 'swr/infinite';
import { addressOf, type AnswerOf, type AskedQuery, type ParamsOf, type Route } from '@ypsigraph/contract/route';
import { DEMO_ROUTES, ROUTES } from '@ypsigraph/contract/routes';
import type { Mark } from '@ypsigraph/contract/marks';
import { type Revision, RevisionEvent, type Shot } from '@ypsigraph/contract/shots';
import type { Carried } from '@ypsigraph/contract/alignments';
import { get, type Key, type RequestError } from './client.ts';

type Data<R> = SWRResponse<AnswerOf<R>, RequestError>;

/**
 * What a route answers with, fetched and kept by SWR under the route itself.
 * @param params names in the address; null: nothing is asked for yet
 */
function useRoute<R extends Route>(
  route: R,
  params: ParamsOf<R> | null,
  { query, ...options }: SWRConfiguration<AnswerOf<R>, RequestError> & { readonly query?: AskedQuery<R> } = {},
): Data<R> {
  const key: Key<R> | null = params && (query === undefined ? [route, params] : [route, params, query]);
  return useSWR<AnswerOf<R>, RequestError, Key<R> | null>(key, get, options);
}

/** Of what never changes: fetched once. */
const NEVER_CHANGES = { revalidateIfStale: false, revalidateOnFocus: false, revalidateOnReconnect: false } as const;

/** Pages of a route whose answers say where the next one begins. */
function usePages<R extends Route>(
  route: R,
  query: (after: string | undefined) => AskedQuery<R> | null,
  options: SWRInfiniteConfiguration = {},
): SWRInfiniteResponse<AnswerOf<R>, RequestError> {
  return useSWRInfinite<AnswerOf<R>, RequestError>(
    (_: number, before: { readonly next: string | null } | null) => {
      const asked = before?.next === null ? null : query(before?.next);
      return asked && [route, {}, asked];
    },
    get,
    options,
  );
}

/** Puts an answer where the pages read it from. */
export const put = <R extends Route>(
  route: R,
  params: ParamsOf<R>,
  answer: AnswerOf<R> | ((known: AnswerOf<R> | undefined) => AnswerOf<R> | undefined),
  query?: AskedQuery<R>,
): Promise<unknown> =>
  mutate<AnswerOf<R>>(query === undefined ? [route, params] : [route, params, query], answer as AnswerOf<R>, {
    revalidate: false,
  });

/** What is kept of these routes is asked for anew. */
export const again = async (...routes: readonly Route[]): Promise<void> =>
  void (await mutate((key: unknown) => Array.isArray(key) && routes.includes(key[0] as Route)));

const NONE = {};

export const useSession = (): Data<typeof ROUTES.session> => useRoute(ROUTES.session, NONE);
export const useDemoPeople = (demo: boolean): Data<typeof DEMO_ROUTES.demoPeople> =>
  useRoute(DEMO_ROUTES.demoPeople, demo ? NONE : null);
/**
 * Pages of the docket; each begins where the one before it ended.
 * @param search order and filters, as the address of the page says them
 */
export const useDocket = (
  staff = true,
  search: AskedQuery<typeof ROUTES.docket> = {},
): SWRInfiniteResponse<AnswerOf<typeof ROUTES.docket>, RequestError> =>
  usePages(ROUTES.docket, (after) => (staff ? { ...search, ...(after !== undefined && { after }) } : null), {
    refreshInterval: 15_000,
  });
/** The practice shot of an instructor, where there is one. */
export const usePractice = (instructor = true): Data<typeof ROUTES.practice> =>
  useRoute(ROUTES.practice, instructor ? NONE : null);
export const useRoom = (): Data<typeof ROUTES.room> => useRoute(ROUTES.room, NONE);
export const useOwnSessions = (): Data<typeof ROUTES.ownSessions> => useRoute(ROUTES.ownSessions, NONE);
export const useSecondFactor = (): Data<typeof ROUTES.secondFactor> => useRoute(ROUTES.secondFactor, NONE);
export const useInvitation = (token: string): Data<typeof ROUTES.invitation> =>
  useRoute(ROUTES.invitation, { token }, { shouldRetryOnError: false });
/** What was measured of a revision: fetched once for each core and each correction. */
export const useReport = (revision: Revision | undefined): Data<typeof ROUTES.report> =>
  useRoute(ROUTES.report, revision?.reading.report ? { id: revision.id } : null, {
    query: { of: revision?.reading.report ?? undefined },
    ...NEVER_CHANGES,
    // Numbers of one revision never stand under the name of another, not for a moment.
    keepPreviousData: false,
  });
/** What has happened to a mark: asked for when somebody looks. */
export const useMarkHistory = (mark: string | undefined): Data<typeof ROUTES.markHistory> =>
  useRoute(ROUTES.markHistory, mark ? { id: mark } : null);
/** Where the marks of earlier revisions lie in a revision; asked for again while that is found out. */
export const useCarried = (revision: Pick<Revision, 'id'> | undefined): Data<typeof ROUTES.carried> =>
  useRoute(ROUTES.carried, revision ? { id: revision.id } : null, {
    // Made of files and corrections: what is read anew is carried anew.
    revalidateOnFocus: false,
    keepPreviousData: false,
    refreshInterval: (known) => (known?.from.every(({ outcome }) => outcome !== null) === true ? 0 : 1_500),
  });
export const refreshCarried = (revision: string, carried: Carried): Promise<unknown> =>
  put(ROUTES.carried, { id: revision }, carried);
/** The same finding on other shots of the exercise. */
export const useAlike = (shot: string, reading: string, part: string | undefined): Data<typeof ROUTES.alike> =>
  useRoute(ROUTES.alike, { id: shot }, { query: { reading, part } });
export const useDemonstrations = (assignment: string | undefined, shot?: string): Data<typeof ROUTES.demonstrations> =>
  useRoute(ROUTES.demonstrations, assignment ? { id: assignment } : null, { query: { shot } });
export const usePhrases = (): Data<typeof ROUTES.phrases> => useRoute(ROUTES.phrases, NONE);
export const useCohorts = (): Data<typeof ROUTES.cohorts> => useRoute(ROUTES.cohorts, NONE);
export const useBriefs = (): Data<typeof ROUTES.briefs> => useRoute(ROUTES.briefs, NONE);
export const useBriefVersions = (id: string | undefined): Data<typeof ROUTES.brief> =>
  useRoute(ROUTES.brief, id ? { brief: id } : null, { revalidateOnFocus: false });
/** What shots of a brief's kind have: for seeing a band against them. */
export const useReadingValues = (brief: string | undefined): Data<typeof ROUTES.readingValues> =>
  useRoute(ROUTES.readingValues, brief ? { brief } : null, NEVER_CHANGES);
export const useCohortPeople = (cohort: string | undefined): Data<typeof ROUTES.cohortPeople> =>
  useRoute(ROUTES.cohortPeople, cohort ? { id: cohort } : null);
export const useFolio = (person: string, cohort: string | null): Data<typeof ROUTES.folio> =>
  useRoute(ROUTES.folio, { id: person }, { query: { cohort: cohort ?? undefined } });
export const useTally = (cohort: string | undefined): Data<typeof ROUTES.tally> =>
  useRoute(ROUTES.tally, cohort ? { id: cohort } : null);
export const useShowings = (): Data<typeof ROUTES.showings> => useRoute(ROUTES.showings, NONE);
export const useShownExemplars = (): Data<typeof ROUTES.shownExemplars> => useRoute(ROUTES.shownExemplars, NONE);
export const usePasskeys = (): Data<typeof ROUTES.passkeys> => useRoute(ROUTES.passkeys, NONE);
export const useGrades = (shot: string | undefined): Data<typeof ROUTES.grades> =>
  useRoute(ROUTES.grades, shot ? { id: shot } : null);
/** Who did what, a page at a time. */
export const useAudit = (
  kind: AuditKind | undefined,
): SWRInfiniteResponse<AnswerOf<typeof ROUTES.audit>, RequestError> =>
  usePages(ROUTES.audit, (after) => ({ after, kind }));
/** What would have been sent, a page at a time. */
export const useOutbox = (): SWRInfiniteResponse<AnswerOf<typeof ROUTES.outbox>, RequestError> =>
  usePages(ROUTES.outbox, (after) => ({ after }));
export const useLedger = (cohort: string | undefined): Data<typeof ROUTES.ledger> =>
  useRoute(ROUTES.ledger, cohort ? { id: cohort } : null);
export const useWorksheet = (): Data<typeof ROUTES.worksheet> =>
  useRoute(ROUTES.worksheet, NONE, { refreshInterval: 15_000 });
export const useAssignment = (id: string | undefined): Data<typeof ROUTES.assignment> =>
  useRoute(ROUTES.assignment, id ? { id } : null);
export const useShot = (id: string | undefined): Data<typeof ROUTES.shot> =>
  useRoute(ROUTES.shot, id ? { id } : null, {
    revalidateOnFocus: false,
    // What a page waits for it is told; should it not hear, it asks.
    refreshInterval: (known) => (known?.revisions.some(isWaiting) ? 4_000 : 15_000),
  });
/** What lists show of a revision: asked for once it is seen. */
export const useSmallPicture = (revision: string | null): Data<typeof ROUTES.smallPicture> =>
  useRoute(ROUTES.smallPicture, revision === null ? null : { id: revision }, NEVER_CHANGES);
/** What is known of a revision's pictures. */
export const usePictures = (revision: string | null): Data<typeof ROUTES.pictures> =>
  useRoute(ROUTES.pictures, revision === null ? null : { id: revision }, {
    ...NEVER_CHANGES,
    errorRetryInterval: 2_000,
  });
/** The tracks of a revision in one version of them. While a newer one comes the one before it is shown. */
export const useTracksOf = (revision: Revision | undefined): Data<typeof ROUTES.tracks> =>
  useRoute(ROUTES.tracks, revision?.media === 'pictures' ? { id: revision.id } : null, {
    query: { version: String(revision?.tracks ?? 0) },
    revalidateOnFocus: false,
    keepPreviousData: true,
  });
/** Whether something of a revision is still to be read: its file, or the clip beside it. */
const isWaiting = ({ reading, clip, state }: Revision): boolean =>
  reading.state === 'queued' ||
  reading.state === 'reading' ||
  (clip !== null && !clip.made && clip.refused === null && state !== 'withdrawn');
/** Fetches what the page will be asked for next. */
export const preloadShot = (id: string): void => void preload([ROUTES.shot, { id }], get);

/** Windows of this browser tell one another which shot has changed. */
let channel: BroadcastChannel | undefined;
const windows = (): BroadcastChannel | undefined =>
  typeof BroadcastChannel === 'undefined' ? undefined : (channel ??= new BroadcastChannel('shots'));
const tellWindows = (id: string): void => windows()?.postMessage(id);

/**
 * Looks at a shot again whenever someone has changed it. Of all windows of a browser that show it one listens to the server, since a browser
 * opens only a few connections to one address, and tells the others; when it is closed, another takes its place.
 */
export function useShotNews(id: string | undefined): void {
  useEffect(() => {
    const others = windows();
    if (!id || !others || !('locks' in navigator)) return;
    const look = (): void => {
      void mutate([ROUTES.shot, { id }]);
      void again(ROUTES.carried);
    };
    const follow = ({ data }: MessageEvent<unknown>): void => {
      if (data === id) look();
    };
    others.addEventListener('message', follow);
    const closed = new AbortController();
    const listen = (): Promise<void> =>
      new Promise((done) => {
        const events = new EventSource(addressOf(ROUTES.shotEvents, { id }));
        events.addEventListener('shot', () => {
          look();
          tellWindows(id);
        });
        closed.signal.addEventListener('abort', () => {
          events.close();
          done();
        });
      });
    navigator.locks.request(`shot-news:${id}`, { signal: closed.signal }, listen).catch(() => undefined);
    return () => {
      others.removeEventListener('message', follow);
      closed.abort();
    };
  }, [id]);
}

/** Puts a shot that a request was answered with where the pages read it from, and lets lists that count it look again. */
export async function refreshShot(shot: Shot): Promise<void> {
  await put(ROUTES.shot, { id: shot.id }, shot);
  tellWindows(shot.id);
  await refreshLists();
}

/** The same for one mark of a shot. */
export async function refreshMark(shotId: string, mark: Mark): Promise<void> {
  const withMark = (shot: Shot | undefined): Shot | undefined =>
    shot && {
      ...shot,
      marks: shot.marks.some(({ id }) => id === mark.id)
        ? shot.marks.map((own) => (own.id === mark.id ? mark : own))
        : [...shot.marks, mark],
    };
  await put(ROUTES.shot, { id: shotId }, withMark);
  tellWindows(shotId);
  await refreshLists();
}

/** A mark that was taken away. */
export async function dropMark(shotId: string, id: string): Promise<void> {
  const without = (shot: Shot | undefined): Shot | undefined =>
    shot && { ...shot, marks: shot.marks.filter((mark) => mark.id !== id) };
  await put(ROUTES.shot, { id: shotId }, without);
  tellWindows(shotId);
  await refreshLists();
}

/** Lists that count what is on the shots. */
const LISTS = [
  ROUTES.docket,
  ROUTES.ledger,
  ROUTES.worksheet,
  ROUTES.folio,
  ROUTES.tally,
  ROUTES.outbox,
  ROUTES.grades,
  ROUTES.cohortGrades,
];
const refreshLists = (): Promise<void> => again(...LISTS);

/** Drops what the page knows of a shot that has changed on the server, so that it is asked for anew. */
export async function forgetShot(id: string): Promise<void> {
  await mutate([ROUTES.shot, { id }], undefined);
  await refreshLists();
}

/** Follows the reading of a revision's file until it is done: its place in the queue, how far it has come, and the shot anew at each step. */
export function useReadingProgress(shot: Shot | undefined, revisionId: string | undefined): void {
  const state = shot?.revisions.find(({ id }) => id === revisionId)?.reading.state;
  const shotId = shot?.id;
  const waiting = state === 'queued' || state === 'reading';
  useEffect(() => {
    if (!waiting || !revisionId || !shotId) return;
    const events = new EventSource(addressOf(ROUTES.events, { id: revisionId }));
    events.addEventListener('revision', (event) => {
      const parsed = RevisionEvent.safeParse(JSON.parse(String(event.data)));
      if (!parsed.success) return;
      const { reading, ahead, progress } = parsed.data;
      if (reading !== state) return void mutate([ROUTES.shot, { id: shotId }]);
      const told = (revision: Revision): Revision =>
        revision.id === revisionId ? { ...revision, reading: { ...revision.reading, ahead, progress } } : revision;
      void put(ROUTES.shot, { id: shotId }, (known) => known && { ...known, revisions: known.revisions.map(told) });
    });
    return () => events.close();
  }, [waiting, revisionId, shotId, state]);
}
