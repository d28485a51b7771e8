import type { Payload, PencilLine, Weight } from '@ypsigraph/contract/marks';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import type { MarkKind, MarkState, Stage } from '@ypsigraph/contract/vocabulary';
import {
  counted,
  eventColumns,
  integer,
  integerOr,
  jsonOr,
  key,
  maybeJson,
  maybeMoment,
  maybeText,
  momentOrNow,
  type Row,
  table,
  text,
  textOr,
  uuid,
} from '../database/table.ts';

export const MARKS = table('marks', {
  /** Made by the page. */
  id: key(uuid()),
  revisionId: uuid(),
  authorId: uuid(),
  kind: text<MarkKind>(),
  fromFrame: integer(),
  toFrame: integer(),
  point: maybeText(),
  part: maybeText(),
  weight: textOr<Weight>('should'),
  stage: text<Stage>(),
  payload: maybeJson<Payload>(),
  cure: maybeJson<StoredRecipe>(),
  lines: jsonOr<PencilLine[]>([]),
  words: text(),
  state: textOr<MarkState>('open'),
  version: integerOr(1),
  sentAt: maybeMoment(),
  archivedAt: maybeMoment(),
  createdAt: momentOrNow(),
});
export type MarkModel = Row<typeof MARKS>;

/** What has happened to a mark. */
export const MARK_EVENTS = table('mark_events', { ...eventColumns(), markId: uuid() });

/** A finding that is no fault of a shot. */
export const DISMISSALS = table('dismissals', {
  id: key(counted()),
  shotId: uuid(),
  reading: text(),
  part: maybeText(),
  reason: text(),
  authorId: uuid(),
  at: momentOrNow(),
  takenBackAt: maybeMoment(),
});

export const PHRASES = table('phrases', {
  id: key(uuid()),
  personId: uuid(),
  kind: text<MarkKind>(),
  reading: maybeText(),
  words: text(),
  archivedAt: maybeMoment(),
  createdAt: momentOrNow(),
});
export type PhraseModel = Row<typeof PHRASES>;

export const REPLIES = table('replies', {
  id: key(uuid()),
  markId: uuid(),
  authorId: uuid(),
  words: text(),
  at: momentOrNow(),
});
