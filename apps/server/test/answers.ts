import type { Response } from 'supertest';
import { Carried } from '@ypsigraph/contract/alignments';
import { z } from 'zod';
import { BriefFileFormat, BriefVersions, ListedBrief, ReadingValues } from '@ypsigraph/contract/briefs';
import {
  Assignment,
  Cohort,
  CohortPeople,
  Docket,
  Ledger,
  Practice,
  Room,
  RosterAnswer,
  WorksheetEntry,
} from '@ypsigraph/contract/courses';
import { Folio, Tally } from '@ypsigraph/contract/folios';
import { CohortGrades, Grades } from '@ypsigraph/contract/grades';
import { Outbox } from '@ypsigraph/contract/outbox';
import { Showing } from '@ypsigraph/contract/showings';
import { CalendarAddress, DemoPerson, Invitation, OwnSession, Session } from '@ypsigraph/contract/people';
import { Problem } from '@ypsigraph/contract/problem';
import { DEMO_ROUTES, type Route, ROUTES } from '@ypsigraph/contract/routes';
import { Pictures, Tracks } from '@ypsigraph/contract/pictures';
import { ArchivedMark, Mark, MarkEvent, Phrase } from '@ypsigraph/contract/marks';
import { Alike, Shot, StoredReport } from '@ypsigraph/contract/shots';
import { Id } from '@ypsigraph/contract/vocabulary';

type Name = keyof typeof ROUTES | keyof typeof DEMO_ROUTES;

/** What each route answers with; files and streams are no JSON. */
const ANSWERS: Readonly<Record<Name, z.ZodType | undefined>> = {
  health: z.object({ status: z.string(), database: z.boolean(), room: z.boolean(), core: z.string() }),
  session: Session,
  signIn: Session,
  signOut: Session,
  ownSessions: z.array(OwnSession),
  endOtherSessions: z.array(OwnSession),
  endSession: z.array(OwnSession),
  changePassword: z.array(OwnSession),
  invitation: Invitation,
  acceptInvitation: z.object({ demo: z.boolean() }),
  room: Room,
  docket: Docket,
  cohorts: z.array(Cohort),
  makeCohort: Cohort,
  practice: Practice,
  makePractice: Practice,
  dropPractice: Practice,
  ledger: Ledger,
  briefs: z.array(ListedBrief),
  brief: BriefVersions,
  makeBrief: BriefVersions,
  changeBrief: BriefVersions,
  archiveBrief: BriefVersions,
  briefSchema: z.object({ $id: z.string() }),
  exportBrief: BriefFileFormat,
  importBrief: BriefVersions,
  readingValues: ReadingValues,
  addBriefFile: BriefVersions,
  dropBriefFile: BriefVersions,
  briefFile: undefined,
  cohortPeople: CohortPeople,
  changeCohort: CohortPeople,
  roster: RosterAnswer,
  tally: Tally,
  cohortGrades: CohortGrades,
  folio: Folio,
  outbox: Outbox,
  calendar: undefined,
  renewCalendar: CalendarAddress,
  dropCalendar: CalendarAddress,
  beginDrill: Assignment,
  grades: Grades,
  decideGrade: Grades,
  consent: Shot,
  show: Shot,
  showings: z.array(Showing),
  assign: Assignment,
  changeAssignment: Assignment,
  assignment: Assignment,
  worksheet: z.array(WorksheetEntry),
  handIn: z.object({ shot: Id, revision: Id }),
  beginUpload: undefined,
  uploadState: undefined,
  uploadPart: undefined,
  dropUpload: undefined,
  handInUpload: z.object({ shot: Id, revision: Id }),
  shot: Shot,
  file: undefined,
  report: StoredReport,
  events: undefined,
  alike: z.array(Alike),
  shotEvents: undefined,
  settings: Shot,
  takeOnDesk: Shot,
  sendBack: Shot,
  signOff: Shot,
  withdraw: Shot,
  readAgain: Shot,
  dismiss: Shot,
  pictures: Pictures,
  pictureFrames: undefined,
  tracks: Tracks,
  setTracks: Shot,
  placeClip: Shot,
  carried: Carried,
  placeMark: Carried,
  setPoses: Shot,
  phrases: z.array(Phrase),
  keepPhrase: Phrase,
  dropPhrase: ArchivedMark,
  makeMark: Mark,
  changeMark: Mark,
  archiveMark: ArchivedMark,
  markHistory: z.array(MarkEvent),
  judgeMark: Mark,
  answerMark: Mark,
  demoPeople: z.array(DemoPerson),
  demoSignIn: Session,
};

const routes = Object.entries<Route>({ ...ROUTES, ...DEMO_ROUTES }).map(([name, { method, path }]) => ({
  name: name as Name,
  method,
  pattern: new RegExp(`^${path.replace(/:\w+/g, '[^/]+')}$`),
}));

/**
 * Holds an answer against the contract: every success against its route's schema, every failure against the problem document's.
 * @throws where it is not what the contract says
 */
export function asTheContractSays(method: string, path: string, { status, body, text }: Response): void {
  const [address] = path.split('?') as [string];
  const route = routes.find((own) => own.method === method && own.pattern.test(address));
  // What the tus protocol itself refuses is said as that protocol says it.
  if (status >= 400 && address.startsWith('/api/uploads') && !text.startsWith('{')) return;
  if (status >= 400) {
    Problem.parse(typeof body === 'object' && Object.keys(body as object).length > 0 ? body : JSON.parse(text));
    return;
  }
  const schema = route && ANSWERS[route.name];
  const result = schema?.safeParse(body);
  if (result && !result.success)
    throw new Error(`${method} ${address} does not answer as the contract says: ${result.error.message.slice(0, 600)}`);
}
