import { z } from 'zod';
import { Carried, MarkPlacing } from './alignments.ts';
import { Audit, AuditQuery } from './audit.ts';
import { CourseTaken } from './course-file.ts';
import { BriefChange, BriefContent, BriefFileFormat, BriefVersions, ListedBrief, ReadingValues } from './briefs.ts';
import {
  Assignment,
  AssignmentChange,
  Cohort,
  CohortChange,
  CohortPeople,
  Docket,
  DocketQuery,
  Ledger,
  NewAssignment,
  NewCohort,
  Practice,
  Room,
  Roster,
  RosterAnswer,
  WorksheetEntry,
} from './courses.ts';
import { Folio, Tally } from './folios.ts';
import { CohortGrades, Decision, Grades } from './grades.ts';
import { Health, Ready } from './health.ts';
import {
  ArchivedMark,
  Mark,
  MarkChange,
  MarkEvent,
  MarkVerdict,
  NewDismissal,
  NewMark,
  NewPhrase,
  NewReply,
  Phrase,
  Poses,
} from './marks.ts';
import { Outbox } from './outbox.ts';
import {
  CalendarAddress,
  DemoPerson,
  DemoSignIn,
  Invitation,
  FactorCode,
  Forgotten,
  InvitationAnswer,
  NewPasskey,
  OwnSession,
  Passkey,
  PasskeyAnswer,
  PasskeyQuestion,
  PasswordChange,
  Session,
  NewFactor,
  RecoveryCodes,
  SecondFactor,
  SignIn,
} from './people.ts';
import { NewTracks, Pictures, Tracks } from './pictures.ts';
import {
  Alike,
  ClipPlace,
  Consent,
  Demonstration,
  HandIn,
  HandedIn,
  ListedDemonstration,
  RevisionSettings,
  SendBack,
  Shot,
  Show,
  SignOff,
  StoredReport,
} from './shots.ts';
import { FaultyExemplar, Showing, ShownExemplar } from './showings.ts';
import { SmallPicture } from './small-pictures.ts';
import { Id } from './vocabulary.ts';
import { route } from './route.ts';

const STAFF = ['instructor', 'assistant'] as const;
const INSTRUCTOR = ['instructor'] as const;
const STUDENT = ['student'] as const;

/**
 * Every route of the server: method, address, whom it lets in, what is sent and what is answered. The server binds, checks and describes its handlers by
 * these objects, the pages call them, and tests walk them role by role.
 */
export const ROUTES = {
  health: route('GET', '/api/health', 'anyone', { answer: Health }),
  ready: route('GET', '/api/ready', 'anyone', { answer: Ready }),
  session: route('GET', '/api/session', 'anyone', { answer: Session }),
  signIn: route('POST', '/api/session', 'anyone', {
    body: SignIn,
    answer: Session,
    noted: { kind: 'sign-in', did: 'signed in', refused: 'was refused at signing in' },
  }),
  signOut: route('DELETE', '/api/session', 'anyone', {
    answer: Session,
    noted: { kind: 'sign-in', did: 'signed out' },
  }),
  beginOidc: route('GET', '/api/session/oidc', 'anyone'),
  finishOidc: route('GET', '/api/session/oidc/back', 'anyone', {
    noted: { kind: 'sign-in', did: 'signed in through the school’s provider' },
  }),
  forgotPassword: route('POST', '/api/session/forgotten', 'anyone', {
    body: Forgotten,
    answer: z.object({ asked: z.literal(true) }),
    noted: { kind: 'sign-in', did: 'asked for another password' },
  }),
  ownSessions: route('GET', '/api/account/sessions', 'signed in', { answer: z.array(OwnSession) }),
  endOtherSessions: route('DELETE', '/api/account/sessions', 'signed in', {
    answer: z.array(OwnSession),
    noted: { kind: 'sign-in', did: 'ended every other session of theirs' },
  }),
  endSession: route('DELETE', '/api/account/sessions/:session', 'signed in', {
    words: ['session'],
    answer: z.array(OwnSession),
    noted: { kind: 'sign-in', did: 'ended a session of theirs' },
  }),
  changePassword: route('POST', '/api/account/password', 'signed in', {
    body: PasswordChange,
    answer: z.array(OwnSession),
    noted: { kind: 'sign-in', did: 'changed their password' },
  }),
  everythingOwn: route('GET', '/api/account/everything', 'signed in', {
    noted: { kind: 'export', did: 'took away everything that is kept of them' },
  }),
  secondFactor: route('GET', '/api/account/second-factor', STAFF, { answer: SecondFactor }),
  beginFactor: route('POST', '/api/account/second-factor', STAFF, { answer: NewFactor }),
  confirmFactor: route('POST', '/api/account/second-factor/confirmed', STAFF, {
    body: FactorCode,
    answer: RecoveryCodes,
    noted: { kind: 'sign-in', did: 'set a second factor up' },
  }),
  codesAnew: route('POST', '/api/account/second-factor/codes', STAFF, {
    body: FactorCode,
    answer: RecoveryCodes,
    noted: { kind: 'sign-in', did: 'made new recovery codes' },
  }),
  dropFactor: route('POST', '/api/account/second-factor/off', STAFF, {
    body: FactorCode,
    answer: SecondFactor,
    noted: { kind: 'sign-in', did: 'gave their second factor up' },
  }),
  passkeys: route('GET', '/api/account/passkeys', STAFF, { answer: z.array(Passkey) }),
  beginPasskey: route('POST', '/api/account/passkeys/question', STAFF, { answer: PasskeyQuestion }),
  addPasskey: route('POST', '/api/account/passkeys', STAFF, {
    body: NewPasskey,
    answer: z.array(Passkey),
    noted: { kind: 'sign-in', did: 'added a passkey' },
  }),
  dropPasskey: route('DELETE', '/api/account/passkeys/:passkey', STAFF, {
    words: ['passkey'],
    answer: z.array(Passkey),
    noted: { kind: 'sign-in', did: 'removed a passkey' },
  }),
  beginPasskeySignIn: route('POST', '/api/session/passkey/question', 'anyone', { answer: PasskeyQuestion }),
  passkeySignIn: route('POST', '/api/session/passkey', 'anyone', {
    body: PasskeyAnswer,
    answer: Session,
    noted: { kind: 'sign-in', did: 'signed in with a passkey' },
  }),
  invitation: route('GET', '/api/invitations/:token', 'anyone', { words: ['token'], answer: Invitation }),
  acceptInvitation: route('POST', '/api/invitations/:token', 'anyone', {
    words: ['token'],
    body: InvitationAnswer,
    // Whoever has a second factor signs in with it.
    answer: z.object({ signedIn: z.boolean() }),
    noted: { kind: 'sign-in', did: 'set a password by an invitation' },
  }),
  room: route('GET', '/api/room', 'signed in', { answer: Room }),
  docket: route('GET', '/api/docket', STAFF, { query: DocketQuery, answer: Docket }),
  cohorts: route('GET', '/api/cohorts', STAFF, { answer: z.array(Cohort) }),
  makeCohort: route('POST', '/api/cohorts', INSTRUCTOR, {
    body: NewCohort,
    answer: Cohort,
    status: 201,
    noted: { kind: 'roles', did: 'began a cohort' },
  }),
  practice: route('GET', '/api/practice', INSTRUCTOR, { answer: Practice }),
  makePractice: route('POST', '/api/practice', INSTRUCTOR, { answer: Practice, status: 201 }),
  dropPractice: route('DELETE', '/api/practice', INSTRUCTOR, {
    answer: Practice,
    noted: { kind: 'deletion', did: 'deleted the practice cohort' },
  }),
  ledger: route('GET', '/api/cohorts/:id/ledger', STAFF, { concerns: 'cohort', answer: Ledger }),
  briefs: route('GET', '/api/briefs', STAFF, { answer: z.array(ListedBrief) }),
  brief: route('GET', '/api/briefs/:brief', STAFF, { answer: BriefVersions }),
  makeBrief: route('POST', '/api/briefs', INSTRUCTOR, { body: BriefContent, answer: BriefVersions, status: 201 }),
  changeBrief: route('POST', '/api/briefs/:brief/versions', INSTRUCTOR, { body: BriefChange, answer: BriefVersions }),
  archiveBrief: route('PATCH', '/api/briefs/:brief', INSTRUCTOR, {
    body: z.object({ archived: z.boolean() }),
    answer: BriefVersions,
    noted: { kind: 'deletion', did: 'archived, or took out again, the brief' },
  }),
  briefSchema: route('GET', '/api/schemas/brief-1.json', 'anyone', { answer: z.object({ $id: z.string() }) }),
  courseSchema: route('GET', '/api/schemas/course-1.json', 'anyone', { answer: z.object({ $id: z.string() }) }),
  exportCourse: route('GET', '/api/course', STAFF, {
    query: z.object({ brief: Id.optional() }),
    noted: { kind: 'export', did: 'took away as an archive the briefs' },
  }),
  importCourse: route('POST', '/api/course', INSTRUCTOR, { answer: CourseTaken, status: 201 }),
  exportBrief: route('GET', '/api/briefs/:brief/file', STAFF, {
    answer: BriefFileFormat,
    noted: { kind: 'export', did: 'took away as a file the brief' },
  }),
  importBrief: route('POST', '/api/briefs/import', INSTRUCTOR, {
    body: BriefFileFormat,
    answer: BriefVersions,
    status: 201,
  }),
  readingValues: route('GET', '/api/briefs/:brief/values', STAFF, { answer: ReadingValues }),
  addBriefFile: route('POST', '/api/briefs/:brief/files', INSTRUCTOR, { answer: BriefVersions }),
  hearBriefFile: route('PATCH', '/api/briefs/:brief/files/:file', INSTRUCTOR, {
    body: z.object({ heard: z.boolean() }),
    answer: BriefVersions,
  }),
  dropBriefFile: route('DELETE', '/api/briefs/:brief/files/:file', INSTRUCTOR, {
    answer: BriefVersions,
    noted: { kind: 'deletion', did: 'deleted a file to start from, of' },
  }),
  briefFile: route('GET', '/api/briefs/:brief/files/:file', 'signed in'),
  cohortPeople: route('GET', '/api/cohorts/:id/people', STAFF, { concerns: 'cohort', answer: CohortPeople }),
  changeCohort: route('PATCH', '/api/cohorts/:id', INSTRUCTOR, {
    concerns: 'cohort',
    body: CohortChange,
    answer: CohortPeople,
    noted: { kind: 'roles', did: 'changed people or clock of' },
  }),
  roster: route('POST', '/api/cohorts/:id/roster', INSTRUCTOR, {
    concerns: 'cohort',
    body: Roster,
    answer: RosterAnswer,
    noted: { kind: 'roles', did: 'brought people into' },
  }),
  tally: route('GET', '/api/cohorts/:id/tally', STAFF, { concerns: 'cohort', answer: Tally }),
  cohortGrades: route('GET', '/api/cohorts/:id/grades', STAFF, {
    concerns: 'cohort',
    answer: CohortGrades,
    noted: { kind: 'export', did: 'took away the grades of' },
  }),
  folio: route('GET', '/api/people/:id/folio', 'signed in', {
    concerns: 'person',
    query: z.object({ cohort: Id.optional() }),
    answer: Folio,
  }),
  audit: route('GET', '/api/audit', INSTRUCTOR, { query: AuditQuery, answer: Audit }),
  /** The page makes a table of what it has, and says so. */
  noteLedgerExport: route('POST', '/api/cohorts/:id/ledger/exported', STAFF, {
    concerns: 'cohort',
    answer: z.object({ noted: z.literal(true) }),
    noted: { kind: 'export', did: 'took away the ledger of' },
  }),
  outbox: route('GET', '/api/outbox', STAFF, {
    query: z.object({ after: z.string().max(400).optional() }),
    answer: Outbox,
  }),
  calendar: route('GET', '/api/calendars/:key', 'anyone', { words: ['key'] }),
  renewCalendar: route('POST', '/api/account/calendar', 'signed in', { answer: CalendarAddress }),
  dropCalendar: route('DELETE', '/api/account/calendar', 'signed in', { answer: CalendarAddress }),
  beginDrill: route('POST', '/api/assignments/:id/begin', STUDENT, { concerns: 'assignment', answer: Assignment }),
  grades: route('GET', '/api/shots/:id/grades', 'signed in', { concerns: 'shot', answer: Grades }),
  decideGrade: route('POST', '/api/shots/:id/grades', INSTRUCTOR, { concerns: 'shot', body: Decision, answer: Grades }),
  consent: route('POST', '/api/shots/:id/consent', STUDENT, { concerns: 'shot', body: Consent, answer: Shot }),
  show: route('POST', '/api/shots/:id/showing', INSTRUCTOR, { concerns: 'shot', body: Show, answer: Shot }),
  showings: route('GET', '/api/showings', 'signed in', { answer: z.array(Showing) }),
  shownExemplars: route('GET', '/api/exemplars-shown', 'signed in', { answer: z.array(ShownExemplar) }),
  showExemplar: route('POST', '/api/cohorts/:id/exemplars-shown', INSTRUCTOR, {
    concerns: 'cohort',
    body: FaultyExemplar,
    answer: ShownExemplar,
    status: 201,
  }),
  takeExemplarBack: route('DELETE', '/api/cohorts/:id/exemplars-shown/:shown', INSTRUCTOR, {
    concerns: 'cohort',
    answer: z.array(ShownExemplar),
    noted: { kind: 'deletion', did: 'took back an exemplar that was shown to' },
  }),
  assign: route('POST', '/api/assignments', INSTRUCTOR, { body: NewAssignment, answer: Assignment, status: 201 }),
  changeAssignment: route('PATCH', '/api/assignments/:id', INSTRUCTOR, {
    concerns: 'assignment',
    body: AssignmentChange,
    answer: Assignment,
  }),
  assignment: route('GET', '/api/assignments/:id', 'signed in', { concerns: 'assignment', answer: Assignment }),
  worksheet: route('GET', '/api/worksheet', STUDENT, { answer: z.array(WorksheetEntry) }),
  handIn: route('POST', '/api/assignments/:id/revisions', 'signed in', {
    concerns: 'assignment',
    answer: HandedIn,
    status: 201,
  }),
  beginUpload: route('POST', '/api/uploads', 'signed in', { status: 201 }),
  uploadState: route('GET', '/api/uploads/:upload', 'signed in', { words: ['upload'] }),
  uploadPart: route('PATCH', '/api/uploads/:upload', 'signed in', { words: ['upload'], status: 204 }),
  dropUpload: route('DELETE', '/api/uploads/:upload', 'signed in', { words: ['upload'], status: 204 }),
  handInUpload: route('POST', '/api/assignments/:id/uploads/:upload', 'signed in', {
    concerns: 'assignment',
    words: ['upload'],
    body: HandIn,
    answer: HandedIn,
    status: 201,
  }),
  shot: route('GET', '/api/shots/:id', 'signed in', { concerns: 'shot', answer: Shot }),
  alike: route('GET', '/api/shots/:id/alike', STAFF, {
    concerns: 'shot',
    query: z.object({ reading: z.string().max(60).default(''), part: z.string().max(200).optional() }),
    answer: z.array(Alike),
  }),
  demonstrations: route('GET', '/api/assignments/:id/demonstrations', 'signed in', {
    concerns: 'assignment',
    // With those that are for this shot alone.
    query: z.object({ shot: Id.optional() }),
    answer: z.array(ListedDemonstration),
  }),
  setDemonstration: route('PATCH', '/api/shots/:id/demonstration', STAFF, {
    concerns: 'shot',
    body: Demonstration,
    answer: Shot,
  }),
  dropDemonstration: route('DELETE', '/api/shots/:id/demonstration', STAFF, {
    concerns: 'shot',
    answer: Shot,
    noted: { kind: 'deletion', did: 'took back what showed how it is done:' },
  }),
  shotEvents: route('GET', '/api/shots/:id/events', 'signed in', { concerns: 'shot' }),
  file: route('GET', '/api/revisions/:id/file', 'signed in', { concerns: 'revision' }),
  report: route('GET', '/api/revisions/:id/report', 'signed in', {
    concerns: 'revision',
    query: z.object({ of: z.string().max(60).optional() }),
    answer: StoredReport,
  }),
  smallPicture: route('GET', '/api/revisions/:id/small', 'signed in', { concerns: 'revision', answer: SmallPicture }),
  events: route('GET', '/api/revisions/:id/events', 'signed in', { concerns: 'revision' }),
  settings: route('PATCH', '/api/revisions/:id', 'signed in', {
    concerns: 'revision',
    body: RevisionSettings,
    answer: Shot,
  }),
  takeOnDesk: route('POST', '/api/revisions/:id/desk', STAFF, { concerns: 'revision', answer: Shot }),
  sendBack: route('POST', '/api/revisions/:id/send-back', STAFF, {
    concerns: 'revision',
    body: SendBack,
    answer: Shot,
  }),
  signOff: route('POST', '/api/revisions/:id/sign-off', INSTRUCTOR, {
    concerns: 'revision',
    body: SignOff,
    answer: Shot,
  }),
  withdraw: route('POST', '/api/revisions/:id/withdraw', STUDENT, {
    concerns: 'revision',
    answer: Shot,
    noted: { kind: 'deletion', did: 'withdrew' },
  }),
  readAgain: route('POST', '/api/revisions/:id/read-again', 'signed in', { concerns: 'revision', answer: Shot }),
  dismiss: route('POST', '/api/shots/:id/dismissals', STAFF, { concerns: 'shot', body: NewDismissal, answer: Shot }),
  pictures: route('GET', '/api/revisions/:id/pictures', 'signed in', { concerns: 'revision', answer: Pictures }),
  pictureFrames: route('GET', '/api/revisions/:id/pictures/:size', 'signed in', {
    concerns: 'revision',
    words: ['size'],
    query: z.object({ from: z.coerce.number(), to: z.coerce.number() }),
  }),
  /** Opus in WebM, whole or in part. */
  sound: route('GET', '/api/revisions/:id/sound', 'signed in', { concerns: 'revision' }),
  tracks: route('GET', '/api/revisions/:id/tracks', 'signed in', {
    concerns: 'revision',
    // A version has an address of its own in the page; the newest is what is answered.
    query: z.object({ version: z.string().max(20).optional() }),
    answer: Tracks,
  }),
  carried: route('GET', '/api/revisions/:id/carried', 'signed in', { concerns: 'revision', answer: Carried }),
  placeMark: route('POST', '/api/marks/:id/place', STAFF, { concerns: 'mark', body: MarkPlacing, answer: Carried }),
  placeClip: route('POST', '/api/revisions/:id/clip', 'signed in', {
    concerns: 'revision',
    body: ClipPlace,
    answer: Shot,
  }),
  setTracks: route('POST', '/api/revisions/:id/tracks', 'signed in', {
    concerns: 'revision',
    body: NewTracks,
    answer: Shot,
  }),
  setPoses: route('POST', '/api/revisions/:id/poses', STAFF, { concerns: 'revision', body: Poses, answer: Shot }),
  phrases: route('GET', '/api/phrases', STAFF, { answer: z.array(Phrase) }),
  keepPhrase: route('POST', '/api/phrases', STAFF, { body: NewPhrase, answer: Phrase, status: 201 }),
  dropPhrase: route('DELETE', '/api/phrases/:phrase', STAFF, {
    answer: ArchivedMark,
    noted: { kind: 'deletion', did: 'deleted a phrase' },
  }),
  makeMark: route('POST', '/api/revisions/:id/marks', STAFF, {
    concerns: 'revision',
    body: NewMark,
    answer: Mark,
    status: 201,
  }),
  changeMark: route('PATCH', '/api/marks/:id', STAFF, { concerns: 'mark', body: MarkChange, answer: Mark }),
  archiveMark: route('DELETE', '/api/marks/:id', STAFF, {
    concerns: 'mark',
    answer: ArchivedMark,
    noted: { kind: 'deletion', did: 'deleted a mark on' },
  }),
  markHistory: route('GET', '/api/marks/:id/history', 'signed in', { concerns: 'mark', answer: z.array(MarkEvent) }),
  judgeMark: route('POST', '/api/marks/:id/verdict', STAFF, { concerns: 'mark', body: MarkVerdict, answer: Mark }),
  answerMark: route('POST', '/api/marks/:id/replies', 'signed in', {
    concerns: 'mark',
    body: NewReply,
    answer: Mark,
    status: 201,
  }),
} as const;

/** Routes that exist in the demo only. */
export const DEMO_ROUTES = {
  demoPeople: route('GET', '/api/demo/people', 'anyone', { answer: z.array(DemoPerson) }),
  demoSignIn: route('POST', '/api/demo/session', 'anyone', {
    body: DemoSignIn,
    answer: Session,
    noted: { kind: 'sign-in', did: 'signed in with one click' },
  }),
} as const;
