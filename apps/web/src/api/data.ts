import { useEffect } from 'react';
import useSWR, { mutate, preload, type SWRResponse } from 'swr';
import useSWRImmutable from 'swr/immutable';
import useSWRInfinite, { type SWRInfiniteResponse } from 'swr/infinite';
import type { Carried } from '@ypsigraph/contract/alignments';
import type { BriefVersions, ListedBrief, ReadingValues } from '@ypsigraph/contract/briefs';
import type {
  Assignment,
  Cohort,
  CohortPeople,
  Docket,
  Ledger,
  Practice,
  Room,
  WorksheetEntry,
} from '@ypsigraph/contract/courses';
import type { Folio, Tally } from '@ypsigraph/contract/folios';
import type { Grades } from '@ypsigraph/contract/grades';
import type { Outbox } from '@ypsigraph/contract/outbox';
import type { Showing } from '@ypsigraph/contract/showings';
import type { DemoPerson, OwnSession, Session } from '@ypsigraph/contract/people';
import type { Mark, MarkEvent, Phrase } from '@ypsigraph/contract/marks';
import { type Revision, RevisionEvent, type Shot, type StoredReport } from '@ypsigraph/contract/shots';
import { get, type RequestError } from './client.ts';

type Data<T> = SWRResponse<T, RequestError>;

export const useSession = (): Data<Session> => useSWR<Session, RequestError>('/api/session', get);
export const useDemoPeople = (demo: boolean): Data<DemoPerson[]> =>
  useSWR<DemoPerson[], RequestError>(demo ? '/api/demo/people' : null, get);
/**
 * Pages of the docket; each begins where the one before it ended.
 * @param search order and filters, as the address says them
 */
export const useDocket = (staff = true, search = ''): SWRInfiniteResponse<Docket, RequestError> =>
  useSWRInfinite<Docket, RequestError>(
    (_, before: Docket | null) => {
      if (!staff || before?.next === null) return null;
      const asked = [search, before && `after=${encodeURIComponent(before.next)}`].filter(Boolean).join('&');
      return asked ? `/api/docket?${asked}` : '/api/docket';
    },
    get,
    { refreshInterval: 15_000 },
  );
/** The practice shot of an instructor, where there is one. */
export const usePractice = (instructor = true): Data<Practice> =>
  useSWR<Practice, RequestError>(instructor ? '/api/practice' : null, get);
export const useRoom = (): Data<Room> => useSWR<Room, RequestError>('/api/room', get);
export const useOwnSessions = (): Data<OwnSession[]> =>
  useSWR<OwnSession[], RequestError>('/api/account/sessions', get);
/** What was measured of a revision: fetched once for each core and each correction. */
export const useReport = (revision: Revision | undefined): Data<StoredReport> =>
  useSWRImmutable<StoredReport, RequestError>(
    revision?.reading.report
      ? `/api/revisions/${revision.id}/report?of=${encodeURIComponent(revision.reading.report)}`
      : null,
    get,
    // Numbers of one revision never stand under the name of another, not for a moment.
    { keepPreviousData: false },
  );
/** What has happened to a mark: asked for when somebody looks. */
export const useMarkHistory = (mark: string | undefined): Data<MarkEvent[]> =>
  useSWR<MarkEvent[], RequestError>(mark ? `/api/marks/${mark}/history` : null, get);
/** Where the marks of earlier revisions lie in a revision; asked for again while that is found out. */
export const useCarried = (revision: Revision | undefined): Data<Carried> =>
  useSWR<Carried, RequestError>(
    revision ? carriedAddress(revision.id) : null,
    // Made of files and corrections: what is read anew is carried anew.
    get,
    {
      revalidateOnFocus: false,
      keepPreviousData: false,
      refreshInterval: (known) => (known?.from.every(({ outcome }) => outcome !== null) === true ? 0 : 1_500),
    },
  );
const carriedAddress = (revision: string): string => `/api/revisions/${revision}/carried`;
export const refreshCarried = (revision: string, carried: Carried): Promise<unknown> =>
  mutate(carriedAddress(revision), carried, { revalidate: false });
export const usePhrases = (): Data<Phrase[]> => useSWR<Phrase[], RequestError>('/api/phrases', get);
export const useCohorts = (): Data<Cohort[]> => useSWR<Cohort[], RequestError>('/api/cohorts', get);
/** Cohorts and their numbers have changed. */
export const refreshCohorts = (): Promise<unknown> => mutate('/api/cohorts');
export const useBriefs = (): Data<ListedBrief[]> => useSWR<ListedBrief[], RequestError>('/api/briefs', get);
export const useBriefVersions = (id: string | undefined): Data<BriefVersions> =>
  useSWR<BriefVersions, RequestError>(id ? `/api/briefs/${id}` : null, get, { revalidateOnFocus: false });
/** What shots of a brief's kind have: for seeing a band against them. */
export const useReadingValues = (brief: string | undefined): Data<ReadingValues> =>
  useSWRImmutable<ReadingValues, RequestError>(brief ? `/api/briefs/${brief}/values` : null, get);
export const useCohortPeople = (cohort: string | undefined): Data<CohortPeople> =>
  useSWR<CohortPeople, RequestError>(cohort ? `/api/cohorts/${cohort}/people` : null, get);
export const useFolio = (person: string, cohort: string | null): Data<Folio> =>
  useSWR<Folio, RequestError>(`/api/people/${person}/folio${cohort ? `?cohort=${cohort}` : ''}`, get);
export const useTally = (cohort: string | undefined): Data<Tally> =>
  useSWR<Tally, RequestError>(cohort ? `/api/cohorts/${cohort}/tally` : null, get);
export const useShowings = (): Data<Showing[]> => useSWR<Showing[], RequestError>('/api/showings', get);
export const useGrades = (shot: string | undefined): Data<Grades> =>
  useSWR<Grades, RequestError>(shot ? `/api/shots/${shot}/grades` : null, get);
/** What would have been sent, a page at a time. */
export const useOutbox = (): SWRInfiniteResponse<Outbox, RequestError> =>
  useSWRInfinite<Outbox, RequestError>((_, before: Outbox | null) => {
    if (before?.next === null) return null;
    return before ? `/api/outbox?after=${before.next}` : '/api/outbox';
  }, get);
export const useLedger = (cohort: string | undefined): Data<Ledger> =>
  useSWR<Ledger, RequestError>(cohort ? `/api/cohorts/${cohort}/ledger` : null, get);
export const useWorksheet = (): Data<WorksheetEntry[]> =>
  useSWR<WorksheetEntry[], RequestError>('/api/worksheet', get, { refreshInterval: 15_000 });
export const useAssignment = (id: string | undefined): Data<Assignment> =>
  useSWR<Assignment, RequestError>(id ? `/api/assignments/${id}` : null, get);
export const useShot = (id: string | undefined): Data<Shot> =>
  useSWR<Shot, RequestError>(id ? `/api/shots/${id}` : null, get, {
    revalidateOnFocus: false,
    // What a page waits for it is told; should it not hear, it asks.
    refreshInterval: (known) => (known?.revisions.some(isWaiting) ? 4_000 : 15_000),
  });
/** Whether something of a revision is still to be read: its file, or the clip beside it. */
const isWaiting = ({ reading, clip, state }: Revision): boolean =>
  reading.state === 'queued' ||
  reading.state === 'reading' ||
  (clip !== null && !clip.made && clip.refused === null && state !== 'withdrawn');
/** Fetches what the page will be asked for next. */
export const preloadShot = (id: string): void => void preload(`/api/shots/${id}`, get);

/** Windows of this browser tell one another which shot has changed. */
const windows = typeof BroadcastChannel === 'undefined' ? undefined : new BroadcastChannel('shots');
const tellWindows = (id: string): void => windows?.postMessage(id);

/**
 * Looks at a shot again whenever someone has changed it. Of all windows of a browser that show it one listens to the server, since a browser
 * opens only a few connections to one address, and tells the others; when it is closed, another takes its place.
 */
export function useShotNews(id: string | undefined): void {
  useEffect(() => {
    if (!id || !windows || !('locks' in navigator)) return;
    const look = (): void => {
      void mutate(`/api/shots/${id}`);
      void mutate((key) => typeof key === 'string' && key.endsWith('/carried'));
    };
    const follow = ({ data }: MessageEvent<unknown>): void => {
      if (data === id) look();
    };
    windows.addEventListener('message', follow);
    const closed = new AbortController();
    const listen = (): Promise<void> =>
      new Promise((done) => {
        const events = new EventSource(`/api/shots/${id}/events`);
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
      windows.removeEventListener('message', follow);
      closed.abort();
    };
  }, [id]);
}

/** Puts a shot that a request was answered with where the pages read it from, and lets lists that count it look again. */
export async function refreshShot(shot: Shot): Promise<void> {
  await mutate(`/api/shots/${shot.id}`, shot, { revalidate: false });
  tellWindows(shot.id);
  await refreshLists();
}

/** The same for one mark of a shot. */
export async function refreshMark(shotId: string, mark: Mark): Promise<void> {
  const put = (shot: Shot | undefined): Shot | undefined =>
    shot && {
      ...shot,
      marks: shot.marks.some(({ id }) => id === mark.id)
        ? shot.marks.map((own) => (own.id === mark.id ? mark : own))
        : [...shot.marks, mark],
    };
  await mutate<Shot>(`/api/shots/${shotId}`, put, { revalidate: false });
  tellWindows(shotId);
  await refreshLists();
}

/** A mark that was taken away. */
export async function dropMark(shotId: string, id: string): Promise<void> {
  const without = (shot: Shot | undefined): Shot | undefined =>
    shot && { ...shot, marks: shot.marks.filter((mark) => mark.id !== id) };
  await mutate<Shot>(`/api/shots/${shotId}`, without, { revalidate: false });
  tellWindows(shotId);
  await refreshLists();
}

const refreshLists = async (): Promise<void> =>
  void (await mutate(
    (key) => typeof key === 'string' && /docket|ledger|worksheet|folio|tally|outbox|grades/.test(key),
  ));

/** Drops what the page knows of a shot that has changed on the server, so that it is asked for anew. */
export async function forgetShot(id: string): Promise<void> {
  await mutate(`/api/shots/${id}`, undefined);
  await refreshLists();
}

/** Follows the reading of a revision's file until it is done: its place in the queue, how far it has come, and the shot anew at each step. */
export function useReadingProgress(shot: Shot | undefined, revisionId: string | undefined): void {
  const state = shot?.revisions.find(({ id }) => id === revisionId)?.reading.state;
  const shotId = shot?.id;
  const waiting = state === 'queued' || state === 'reading';
  useEffect(() => {
    if (!waiting || !revisionId || !shotId) return;
    const events = new EventSource(`/api/revisions/${revisionId}/events`);
    events.addEventListener('revision', (event) => {
      const parsed = RevisionEvent.safeParse(JSON.parse(String(event.data)));
      if (!parsed.success) return;
      const { reading, ahead, progress } = parsed.data;
      if (reading !== state) return void mutate(`/api/shots/${shotId}`);
      const told = (revision: Revision): Revision =>
        revision.id === revisionId ? { ...revision, reading: { ...revision.reading, ahead, progress } } : revision;
      void mutate<Shot>(`/api/shots/${shotId}`, (shot) => shot && { ...shot, revisions: shot.revisions.map(told) }, {
        revalidate: false,
      });
    });
    return () => events.close();
  }, [waiting, revisionId, shotId, state]);
}
