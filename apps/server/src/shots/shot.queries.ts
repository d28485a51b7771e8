import type { Transaction } from 'sequelize';
import type { Dismissal, Mark } from '@ypsigraph/contract/marks';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { BRIEF_OBJECT } from '../briefs/brief.queries.ts';
import { DUE, joinLater } from '../courses/due.sql.ts';
import type { Database } from '../database/database.module.ts';
import { AHEAD } from '../news/change-feed.ts';

const iso = (value: unknown): string | null => (value ? new Date(value as string).toISOString() : null);

type MarkRow = Omit<Mark, 'at' | 'sent' | 'replies'> & {
  at: Date;
  sent: Date | null;
  replies: (Omit<Mark['replies'][number], 'at'> & { at: string })[];
};

const MARK_COLUMNS = `
  SELECT m.id, m.revision_id AS revision, m.kind, m.from_frame AS "from", m.to_frame AS "to", m.point, m.part, m.weight, m.stage,
         m.payload, m.cure, m.lines, m.words, m.state, m.version,
         m.sent_at AS sent, m.created_at AS at, json_build_object('id', p.id, 'name', p.name) AS author,
         coalesce((SELECT json_agg(json_build_object('id', q.id, 'words', q.words, 'at', q.at,
                     'author', json_build_object('id', w.id, 'name', w.name, 'role', w.role)) ORDER BY q.at)
                     FROM replies q JOIN people w ON w.id = q.author_id WHERE q.mark_id = m.id), '[]') AS replies
    FROM marks m JOIN revisions r ON r.id = m.revision_id JOIN people p ON p.id = m.author_id`;

const toMark = ({ at, sent, replies, ...mark }: MarkRow): Mark => ({
  ...mark,
  at: iso(at)!,
  sent: iso(sent),
  replies: replies.map((reply) => ({ ...reply, at: iso(reply.at)! })),
});

/** The clip that a motion has brought along: made into pictures, refused, or still to be made. */
const CLIP_OBJECT = `CASE WHEN k.revision_id IS NULL THEN NULL ELSE json_build_object(
              'fileName', k.file_name, 'firstLabel', k.first_label, 'under', k.under, 'refused', k.refused,
              'made', EXISTS (SELECT 1 FROM pictures p WHERE p.file_sha256 = k.file_sha256)) END`;

/** Who looks: staff see all; its student what was sent; the cohort, while it is shown, its revisions alone. */
export type Onlooker = 'staff' | 'student' | 'cohort';

/** A shot with its revisions and marks, in four statements. */
export async function findShot(database: Database, id: string, onlooker: Onlooker): Promise<Shot | null> {
  const [head] = await database.select<Omit<Shot, 'revisions' | 'marks' | 'dismissals'>>(
    `SELECT s.id, s.assignment_id AS assignment, CASE WHEN $2 THEN a.due_at ELSE ${DUE} END AS due, a.closed_at AS closed,
            json_build_object('id', p.id, 'name', p.name) AS student,
            json_build_object('id', c.id, 'name', c.name) AS cohort,
            ${BRIEF_OBJECT} AS brief, (SELECT n.version FROM briefs n WHERE n.id = a.brief_id) AS "briefNow",
            json_build_object('consent', w.consent_at IS NOT NULL, 'shown', w.shown_at) AS showing,
            CASE WHEN dm.shot_id IS NOT NULL THEN json_build_object('plays', dm.plays, 'stills', dm.stills) END AS demonstration
       FROM shots s JOIN assignments a ON a.id = s.assignment_id JOIN briefs b ON b.id = s.brief_id
       JOIN cohorts c ON c.id = a.cohort_id JOIN people p ON p.id = s.student_id
       LEFT JOIN showings w ON w.shot_id = s.id LEFT JOIN demonstrations dm ON dm.shot_id = s.id ${joinLater('s.student_id')}
      WHERE s.id = $1`,
    // A later date that a student was given is theirs to tell.
    [id, onlooker === 'cohort'],
  );
  if (!head) return null;
  const revisions = await database.select<Revision>(
    `SELECT r.id, r.number, r.stage, r.state, r.file_name AS "fileName", coalesce(f.bytes, 0)::int AS bytes, r.file_sha256 IS NULL AS deleted, r.media,
            coalesce((SELECT t.version FROM tracks t WHERE t.revision_id = r.id), 0) AS tracks, r.note, r.handed_in_at AS at,
            ${CLIP_OBJECT} AS clip, r.first_frame AS "firstFrame", r.loop, r.up, r.animation, r.figure, r.roles, r.poses,
            json_build_object('state', r.reading_state, 'reason', r.reading_reason, 'ahead', ${AHEAD}, 'progress', r.reading_progress,
              'report', CASE WHEN d.revision_id IS NULL OR r.reading_state <> 'read' THEN NULL ELSE $2 || '.' || r.settings_version END) AS reading,
            r.words, r.asked, r.asked_by AS "askedBy", r.worked_on AS "workedOn", r.cures_seen AS "curesSeen", r.judged_at AS "answeredAt"
       FROM revisions r LEFT JOIN files f ON f.sha256 = r.file_sha256
       LEFT JOIN clips_beside k ON k.revision_id = r.id
       LEFT JOIN readings d ON d.revision_id = r.id AND d.core_version = $2
      WHERE r.shot_id = $1 ORDER BY r.number`,
    [id, CORE_VERSION],
  );
  const about = {
    ...head,
    due: iso(head.due)!,
    closed: iso(head.closed),
    showing: { ...head.showing, shown: iso(head.showing.shown) },
  };
  const told = revisions.map((r) => ({ ...r, at: iso(r.at)!, answeredAt: iso(r.answeredAt), askedBy: iso(r.askedBy) }));
  // What was said of it is between its student and those who teach.
  if (onlooker === 'cohort')
    return {
      ...about,
      revisions: told
        .filter(({ state }) => state !== 'withdrawn')
        .map((r) => ({ ...r, note: '', words: null, asked: null, askedBy: null })),
      marks: [],
      dismissals: [],
    };
  const marks = await database.select<MarkRow>(
    `${MARK_COLUMNS} WHERE r.shot_id = $1 AND m.archived_at IS NULL AND ($2 = false OR m.sent_at IS NOT NULL)
      ORDER BY r.number, m.from_frame, m.to_frame, m.created_at`,
    [id, onlooker === 'student'],
  );
  const dismissals =
    onlooker === 'student'
      ? []
      : await database.select<Dismissal>(
          'SELECT reading, part, reason FROM dismissals WHERE shot_id = $1 AND taken_back_at IS NULL ORDER BY id',
          [id],
        );
  return { ...about, revisions: told, marks: marks.map(toMark), dismissals };
}

/** One mark with its answers. */
export async function findMark(database: Database, id: string, transaction?: Transaction): Promise<Mark> {
  const [row] = await database.select<MarkRow>(`${MARK_COLUMNS} WHERE m.id = $1`, [id], transaction);
  if (!row) throw new Error('a mark that was just stored is not there');
  return toMark(row);
}
