import type { Pose } from '@ypsigraph/contract/marks';
import type { LoopChoice, UpChoice, Media, ReadingState, RevisionState, Stage } from '@ypsigraph/contract/vocabulary';
import {
  eventColumns,
  flagOr,
  integer,
  integerOr,
  jsonOr,
  key,
  maybeJson,
  maybeMoment,
  maybeReal,
  maybeText,
  momentOrNow,
  type Row,
  table,
  text,
  textOr,
  uuid,
  uuidOrNew,
} from '../database/table.ts';

export const REVISIONS = table('revisions', {
  id: key(uuidOrNew()),
  shotId: uuid(),
  number: integer(),
  stage: text<Stage>(),
  state: textOr<RevisionState>('handed in'),
  /** Null once it has been deleted. */
  fileSha256: maybeText(),
  fileName: text(),
  media: textOr<Media>('motion'),
  note: textOr(''),
  firstFrame: integerOr(1),
  loop: textOr<LoopChoice>('auto'),
  up: textOr<UpChoice>('auto'),
  animation: maybeText(),
  figure: maybeText(),
  roles: jsonOr<Record<string, string | null>>({}),
  poses: maybeJson<Pose[]>(),
  readingState: textOr<ReadingState>('queued'),
  readingReason: maybeText(),
  /** Which corrections a reading was made with: one made with older ones is dropped. */
  settingsVersion: integerOr(1),
  readingTries: integerOr(0),
  /** When somebody last worked on the reading. */
  readingBeat: momentOrNow(),
  /** Somebody waits for the reading: it comes before those that nobody waits for. */
  readingWaited: flagOr(true),
  /** Not before then, and in the order of it. */
  readingFrom: momentOrNow(),
  /** The request it was asked for by. */
  readingRequest: maybeText(),
  /** Share of a clip's frames that have been decoded. */
  readingProgress: maybeReal(),
  /** The upload it came from. */
  upload: maybeText(),
  words: maybeText(),
  asked: maybeText(),
  /** By when that is asked for. */
  askedBy: maybeMoment(),
  workedOn: jsonOr<string[]>([]),
  curesSeen: jsonOr<string[]>([]),
  handedInAt: momentOrNow(),
  judgedAt: maybeMoment(),
});
export type RevisionModel = Row<typeof REVISIONS>;

/** What has happened to a revision. */
export const REVISION_EVENTS = table('revision_events', { ...eventColumns(), revisionId: uuid() });
