import type { DocketEntry } from '@ypsigraph/contract/courses';
import type { Mark, Revision, Shot } from '@ypsigraph/contract/shots';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import type { Database } from '../database/database.module.ts';

type DocketRow = Omit<DocketEntry, 'handedIn' | 'due'> & { handedIn: Date; due: Date };

/** What waits for someone's review, in one statement: late shots first, then the longest-waiting. */
export async function findDocket(database: Database, personId: string): Promise<DocketEntry[]> {
  const rows = await database.select<DocketRow>(
    `SELECT r.shot_id AS shot, r.id AS revision, r.number, r.stage, r.state, r.handed_in_at AS "handedIn",
            r.reading_state AS readings, a.due_at AS due, b.title AS exercise, b.kind,
            json_build_object('id', p.id, 'name', p.name) AS student,
            json_build_object('id', c.id, 'name', c.name) AS cohort,
            first.at > a.due_at AS late,
            coalesce(m.answered, 0) AS answers, coalesce(m.open, 0) AS open
       FROM revisions r
       JOIN shots s ON s.id = r.shot_id
       JOIN assignments a ON a.id = s.assignment_id
       JOIN briefs b ON b.id = a.brief_id
       JOIN cohorts c ON c.id = a.cohort_id
       JOIN people p ON p.id = s.student_id
       JOIN enrolments e ON e.cohort_id = c.id AND e.person_id = $1 AND e.role <> 'student'
       JOIN LATERAL (
         SELECT min(q.handed_in_at) AS at FROM revisions q WHERE q.shot_id = s.id AND q.state <> 'withdrawn'
       ) first ON true
       LEFT JOIN LATERAL (
         SELECT count(*) FILTER (WHERE k.state = 'answered')::int AS answered,
                count(*) FILTER (WHERE k.state = 'open')::int AS open
           FROM marks k JOIN revisions q ON q.id = k.revision_id
          WHERE q.shot_id = s.id AND k.archived_at IS NULL
       ) m ON true
      WHERE r.state IN ('handed in', 'on the desk')
      ORDER BY late DESC, r.handed_in_at, r.id`,
    [personId],
  );
  return rows.map((row) => ({ ...row, handedIn: row.handedIn.toISOString(), due: row.due.toISOString() }));
}

const iso = (value: unknown): string | null => (value ? new Date(value as string).toISOString() : null);

/**
 * A shot with its revisions and marks, in three statements.
 * @param forStudent leave out what has not been sent yet
 */
export async function findShot(database: Database, id: string, forStudent: boolean): Promise<Shot | null> {
  const [head] = await database.select<Omit<Shot, 'revisions' | 'marks'>>(
    `SELECT s.id, s.assignment_id AS assignment, a.due_at AS due, a.closed_at AS closed,
            json_build_object('id', p.id, 'name', p.name) AS student,
            json_build_object('id', c.id, 'name', c.name) AS cohort,
            json_build_object('id', b.id, 'title', b.title, 'kind', b.kind, 'text', b.text, 'version', b.version,
              'fps', b.fps, 'firstFrame', b.first_frame, 'loop', b.loop, 'frames', b.frames) AS brief
       FROM shots s JOIN assignments a ON a.id = s.assignment_id JOIN briefs b ON b.id = a.brief_id
       JOIN cohorts c ON c.id = a.cohort_id JOIN people p ON p.id = s.student_id
      WHERE s.id = $1`,
    [id],
  );
  if (!head) return null;
  const revisions = await database.select<Revision>(
    `SELECT r.id, r.number, r.stage, r.state, r.file_name AS "fileName", f.bytes::int AS bytes, r.note, r.handed_in_at AS at,
            r.first_frame AS "firstFrame", r.loop, r.roles,
            json_build_object('state', r.reading_state, 'reason', r.reading_reason) AS reading,
            d.report, r.words, r.asked, r.judged_at AS "answeredAt"
       FROM revisions r JOIN files f ON f.sha256 = r.file_sha256
       LEFT JOIN readings d ON d.revision_id = r.id AND d.core_version = $2
      WHERE r.shot_id = $1 ORDER BY r.number`,
    [id, CORE_VERSION],
  );
  const marks = await database.select<Mark>(
    `SELECT m.id, m.revision_id AS revision, m.kind, m.from_frame AS "from", m.to_frame AS "to", m.joint, m.words, m.state,
            m.sent_at AS sent, m.created_at AS at, json_build_object('id', p.id, 'name', p.name) AS author,
            coalesce((SELECT json_agg(json_build_object('id', q.id, 'words', q.words, 'at', q.at,
                        'author', json_build_object('id', w.id, 'name', w.name, 'role', w.role)) ORDER BY q.at)
                        FROM replies q JOIN people w ON w.id = q.author_id WHERE q.mark_id = m.id), '[]') AS replies
       FROM marks m JOIN revisions r ON r.id = m.revision_id JOIN people p ON p.id = m.author_id
      WHERE r.shot_id = $1 AND m.archived_at IS NULL AND ($2 = false OR m.sent_at IS NOT NULL)
      ORDER BY r.number, m.from_frame, m.to_frame, m.created_at`,
    [id, forStudent],
  );
  return {
    ...head,
    due: iso(head.due)!,
    closed: iso(head.closed),
    revisions: revisions.map((r) => ({ ...r, at: iso(r.at)!, answeredAt: iso(r.answeredAt) })),
    marks: marks.map((m) => ({
      ...m,
      at: iso(m.at)!,
      sent: iso(m.sent),
      replies: m.replies.map((reply) => ({ ...reply, at: iso(reply.at)! })),
    })),
  };
}
