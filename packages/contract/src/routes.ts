import type { Role } from './vocabulary.ts';

/** Whom a route lets in, before anything is known of the thing it is about. */
export type Audience = 'anyone' | 'signed in' | readonly Role[];

export interface Route {
  readonly method: 'GET' | 'POST' | 'PATCH' | 'DELETE';
  readonly path: string;
  readonly audience: Audience;
  /** What the address names, where access depends on it: only people of its cohort, and of students only its owner. */
  readonly concerns?: 'cohort' | 'assignment' | 'shot' | 'revision' | 'mark' | 'person';
}

const STAFF = ['instructor', 'assistant'] as const;
const STUDENT = ['student'] as const;

/** Every route of the server. The server's own test holds what it serves against this table, and walks it role by role. */
export const ROUTES = {
  health: { method: 'GET', path: '/api/health', audience: 'anyone' },
  session: { method: 'GET', path: '/api/session', audience: 'anyone' },
  signIn: { method: 'POST', path: '/api/session', audience: 'anyone' },
  signOut: { method: 'DELETE', path: '/api/session', audience: 'anyone' },
  ownSessions: { method: 'GET', path: '/api/account/sessions', audience: 'signed in' },
  endOtherSessions: { method: 'DELETE', path: '/api/account/sessions', audience: 'signed in' },
  endSession: { method: 'DELETE', path: '/api/account/sessions/:session', audience: 'signed in' },
  changePassword: { method: 'POST', path: '/api/account/password', audience: 'signed in' },
  invitation: { method: 'GET', path: '/api/invitations/:token', audience: 'anyone' },
  acceptInvitation: { method: 'POST', path: '/api/invitations/:token', audience: 'anyone' },
  room: { method: 'GET', path: '/api/room', audience: STUDENT },
  docket: { method: 'GET', path: '/api/docket', audience: STAFF },
  cohorts: { method: 'GET', path: '/api/cohorts', audience: STAFF },
  makeCohort: { method: 'POST', path: '/api/cohorts', audience: ['instructor'] },
  practice: { method: 'GET', path: '/api/practice', audience: ['instructor'] },
  makePractice: { method: 'POST', path: '/api/practice', audience: ['instructor'] },
  dropPractice: { method: 'DELETE', path: '/api/practice', audience: ['instructor'] },
  ledger: { method: 'GET', path: '/api/cohorts/:id/ledger', audience: STAFF, concerns: 'cohort' },
  briefs: { method: 'GET', path: '/api/briefs', audience: STAFF },
  brief: { method: 'GET', path: '/api/briefs/:brief', audience: STAFF },
  makeBrief: { method: 'POST', path: '/api/briefs', audience: ['instructor'] },
  changeBrief: { method: 'POST', path: '/api/briefs/:brief/versions', audience: ['instructor'] },
  archiveBrief: { method: 'PATCH', path: '/api/briefs/:brief', audience: ['instructor'] },
  briefSchema: { method: 'GET', path: '/api/schemas/brief-1.json', audience: 'anyone' },
  exportBrief: { method: 'GET', path: '/api/briefs/:brief/file', audience: STAFF },
  importBrief: { method: 'POST', path: '/api/briefs/import', audience: ['instructor'] },
  readingValues: { method: 'GET', path: '/api/briefs/:brief/values', audience: STAFF },
  addBriefFile: { method: 'POST', path: '/api/briefs/:brief/files', audience: ['instructor'] },
  dropBriefFile: { method: 'DELETE', path: '/api/briefs/:brief/files/:file', audience: ['instructor'] },
  briefFile: { method: 'GET', path: '/api/briefs/:brief/files/:file', audience: 'signed in' },
  cohortPeople: { method: 'GET', path: '/api/cohorts/:id/people', audience: STAFF, concerns: 'cohort' },
  changeCohort: { method: 'PATCH', path: '/api/cohorts/:id', audience: ['instructor'], concerns: 'cohort' },
  roster: { method: 'POST', path: '/api/cohorts/:id/roster', audience: ['instructor'], concerns: 'cohort' },
  tally: { method: 'GET', path: '/api/cohorts/:id/tally', audience: STAFF, concerns: 'cohort' },
  cohortGrades: { method: 'GET', path: '/api/cohorts/:id/grades', audience: STAFF, concerns: 'cohort' },
  folio: { method: 'GET', path: '/api/people/:id/folio', audience: 'signed in', concerns: 'person' },
  outbox: { method: 'GET', path: '/api/outbox', audience: STAFF },
  calendar: { method: 'GET', path: '/api/calendars/:key', audience: 'anyone' },
  renewCalendar: { method: 'POST', path: '/api/account/calendar', audience: 'signed in' },
  dropCalendar: { method: 'DELETE', path: '/api/account/calendar', audience: 'signed in' },
  beginDrill: { method: 'POST', path: '/api/assignments/:id/begin', audience: STUDENT, concerns: 'assignment' },
  grades: { method: 'GET', path: '/api/shots/:id/grades', audience: 'signed in', concerns: 'shot' },
  decideGrade: { method: 'POST', path: '/api/shots/:id/grades', audience: ['instructor'], concerns: 'shot' },
  consent: { method: 'POST', path: '/api/shots/:id/consent', audience: STUDENT, concerns: 'shot' },
  show: { method: 'POST', path: '/api/shots/:id/showing', audience: ['instructor'], concerns: 'shot' },
  showings: { method: 'GET', path: '/api/showings', audience: 'signed in' },
  assign: { method: 'POST', path: '/api/assignments', audience: ['instructor'] },
  changeAssignment: { method: 'PATCH', path: '/api/assignments/:id', audience: ['instructor'], concerns: 'assignment' },
  assignment: { method: 'GET', path: '/api/assignments/:id', audience: 'signed in', concerns: 'assignment' },
  worksheet: { method: 'GET', path: '/api/worksheet', audience: STUDENT },
  handIn: { method: 'POST', path: '/api/assignments/:id/revisions', audience: STUDENT, concerns: 'assignment' },
  beginUpload: { method: 'POST', path: '/api/uploads', audience: STUDENT },
  uploadState: { method: 'GET', path: '/api/uploads/:upload', audience: STUDENT },
  uploadPart: { method: 'PATCH', path: '/api/uploads/:upload', audience: STUDENT },
  dropUpload: { method: 'DELETE', path: '/api/uploads/:upload', audience: STUDENT },
  handInUpload: {
    method: 'POST',
    path: '/api/assignments/:id/uploads/:upload',
    audience: STUDENT,
    concerns: 'assignment',
  },
  shot: { method: 'GET', path: '/api/shots/:id', audience: 'signed in', concerns: 'shot' },
  alike: { method: 'GET', path: '/api/shots/:id/alike', audience: STAFF, concerns: 'shot' },
  shotEvents: { method: 'GET', path: '/api/shots/:id/events', audience: 'signed in', concerns: 'shot' },
  file: { method: 'GET', path: '/api/revisions/:id/file', audience: 'signed in', concerns: 'revision' },
  report: { method: 'GET', path: '/api/revisions/:id/report', audience: 'signed in', concerns: 'revision' },
  events: { method: 'GET', path: '/api/revisions/:id/events', audience: 'signed in', concerns: 'revision' },
  settings: { method: 'PATCH', path: '/api/revisions/:id', audience: 'signed in', concerns: 'revision' },
  takeOnDesk: { method: 'POST', path: '/api/revisions/:id/desk', audience: STAFF, concerns: 'revision' },
  sendBack: { method: 'POST', path: '/api/revisions/:id/send-back', audience: STAFF, concerns: 'revision' },
  signOff: { method: 'POST', path: '/api/revisions/:id/sign-off', audience: ['instructor'], concerns: 'revision' },
  withdraw: { method: 'POST', path: '/api/revisions/:id/withdraw', audience: STUDENT, concerns: 'revision' },
  readAgain: { method: 'POST', path: '/api/revisions/:id/read-again', audience: 'signed in', concerns: 'revision' },
  dismiss: { method: 'POST', path: '/api/shots/:id/dismissals', audience: STAFF, concerns: 'shot' },
  pictures: { method: 'GET', path: '/api/revisions/:id/pictures', audience: 'signed in', concerns: 'revision' },
  pictureFrames: {
    method: 'GET',
    path: '/api/revisions/:id/pictures/:size',
    audience: 'signed in',
    concerns: 'revision',
  },
  tracks: { method: 'GET', path: '/api/revisions/:id/tracks', audience: 'signed in', concerns: 'revision' },
  carried: { method: 'GET', path: '/api/revisions/:id/carried', audience: 'signed in', concerns: 'revision' },
  placeMark: { method: 'POST', path: '/api/marks/:id/place', audience: STAFF, concerns: 'mark' },
  placeClip: { method: 'POST', path: '/api/revisions/:id/clip', audience: 'signed in', concerns: 'revision' },
  setTracks: { method: 'POST', path: '/api/revisions/:id/tracks', audience: 'signed in', concerns: 'revision' },
  setPoses: { method: 'POST', path: '/api/revisions/:id/poses', audience: STAFF, concerns: 'revision' },
  phrases: { method: 'GET', path: '/api/phrases', audience: STAFF },
  keepPhrase: { method: 'POST', path: '/api/phrases', audience: STAFF },
  dropPhrase: { method: 'DELETE', path: '/api/phrases/:phrase', audience: STAFF },
  makeMark: { method: 'POST', path: '/api/revisions/:id/marks', audience: STAFF, concerns: 'revision' },
  changeMark: { method: 'PATCH', path: '/api/marks/:id', audience: STAFF, concerns: 'mark' },
  archiveMark: { method: 'DELETE', path: '/api/marks/:id', audience: STAFF, concerns: 'mark' },
  markHistory: { method: 'GET', path: '/api/marks/:id/history', audience: 'signed in', concerns: 'mark' },
  judgeMark: { method: 'POST', path: '/api/marks/:id/verdict', audience: STAFF, concerns: 'mark' },
  answerMark: { method: 'POST', path: '/api/marks/:id/replies', audience: 'signed in', concerns: 'mark' },
} as const satisfies Record<string, Route>;

/** Routes that exist in the demo only. */
export const DEMO_ROUTES = {
  demoPeople: { method: 'GET', path: '/api/demo/people', audience: 'anyone' },
  demoSignIn: { method: 'POST', path: '/api/demo/session', audience: 'anyone' },
} as const satisfies Record<string, Route>;
