import { useEffect } from 'react';
import useSWR, { mutate, type SWRResponse } from 'swr';
import type { Assignment, Brief, Cohort, DocketEntry, Ledger, WorksheetEntry } from '@ypsigraph/contract/courses';
import type { DemoPerson, Session } from '@ypsigraph/contract/people';
import { RevisionEvent, type Shot } from '@ypsigraph/contract/shots';
import { get, type RequestError } from './client.ts';

type Data<T> = SWRResponse<T, RequestError>;

export const useSession = (): Data<Session> => useSWR<Session, RequestError>('/api/session', get);
export const useDemoPeople = (demo: boolean): Data<DemoPerson[]> =>
  useSWR<DemoPerson[], RequestError>(demo ? '/api/demo/people' : null, get);
export const useDocket = (staff = true): Data<DocketEntry[]> =>
  useSWR<DocketEntry[], RequestError>(staff ? '/api/docket' : null, get, { refreshInterval: 15_000 });
export const useCohorts = (): Data<Cohort[]> => useSWR<Cohort[], RequestError>('/api/cohorts', get);
export const useBriefs = (): Data<Brief[]> => useSWR<Brief[], RequestError>('/api/briefs', get);
export const useLedger = (cohort: string | undefined): Data<Ledger> =>
  useSWR<Ledger, RequestError>(cohort ? `/api/cohorts/${cohort}/ledger` : null, get);
export const useWorksheet = (): Data<WorksheetEntry[]> =>
  useSWR<WorksheetEntry[], RequestError>('/api/worksheet', get, { refreshInterval: 15_000 });
export const useAssignment = (id: string | undefined): Data<Assignment> =>
  useSWR<Assignment, RequestError>(id ? `/api/assignments/${id}` : null, get);
export const useShot = (id: string | undefined): Data<Shot> =>
  useSWR<Shot, RequestError>(id ? `/api/shots/${id}` : null, get, { revalidateOnFocus: false });

/** Puts a shot that a request was answered with where the pages read it from, and lets lists that count it look again. */
export async function refreshShot(shot: Shot): Promise<void> {
  await mutate(`/api/shots/${shot.id}`, shot, { revalidate: false });
  await mutate((key) => typeof key === 'string' && /docket|ledger|worksheet/.test(key));
}

/** Drops what the page knows of a shot that has changed on the server, so that it is asked for anew. */
export async function forgetShot(id: string): Promise<void> {
  await mutate(`/api/shots/${id}`, undefined);
  await mutate((key) => typeof key === 'string' && /docket|ledger|worksheet/.test(key));
}

/** Follows the reading of a revision's file until it is done, and looks at the shot again at each step. */
export function useReadingProgress(shot: Shot | undefined, revisionId: string | undefined): void {
  const state = shot?.revisions.find(({ id }) => id === revisionId)?.reading.state;
  const shotId = shot?.id;
  const waiting = state === 'queued' || state === 'reading';
  useEffect(() => {
    if (!waiting || !revisionId || !shotId) return;
    const events = new EventSource(`/api/revisions/${revisionId}/events`);
    events.addEventListener('revision', (event) => {
      const parsed = RevisionEvent.safeParse(JSON.parse(String(event.data)));
      if (parsed.success && parsed.data.reading !== state) void mutate(`/api/shots/${shotId}`);
    });
    return () => events.close();
  }, [waiting, revisionId, shotId, state]);
}
