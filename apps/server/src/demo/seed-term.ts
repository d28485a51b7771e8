import type { StoredReport } from '@ypsigraph/contract/shots';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import type { Stage } from '@ypsigraph/contract/vocabulary';
import { type Finding, judgeShot } from '@ypsigraph/core/gauge/findings';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import { measureMark, takeFinding } from '@ypsigraph/core/mark/mark';
import { smallFigure } from '@ypsigraph/core/small/small-figure';
import { CORE_VERSION, readingKind } from '@ypsigraph/core/measure/registry';
import { reportShot } from '@ypsigraph/core/measure/report';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { randomUUID } from 'node:crypto';
import { Database } from '../database/database.module.ts';
import type { AssignmentModel } from '../courses/course.models.ts';
import type { BriefModel } from '../briefs/brief.model.ts';
import type { MarkModel } from '../marks/mark.models.ts';
import { FileStore } from '../files/file-store.ts';
import { OutboxService } from '../outbox/outbox.service.ts';
import { VerdictKeeper } from '../readings/verdict-keeper.ts';
import { evening, fileNameOf, type Scene } from './scene.ts';
import { COURSES, revisionsOf, TERM, type TermExercise } from './term.ts';
import { withoutJoints } from './without-joints.ts';

const DAY = 24 * 60 * 60 * 1000;
/** From one revision to the next, and from a hand-in to its answer. */
const BETWEEN_DAYS = 5;
const ANSWER_HOURS = [9, 26, 50, 15, 74, 31];
const STAGES: readonly Stage[] = ['breakdowns', 'smoothing', 'polish'];
/** Marks that one revision gets. */
const MARKED = 2;

/** The term behind the Monday loft: measured, marked and judged as it would have been, so that folio and tally have something to say. */
export async function seedTerm(scene: Scene, cohortId: string, briefs: readonly BriefModel[]): Promise<void> {
  const instructor = scene.people.get('Ottoline Farrow')!;
  for (const [at, exercise] of TERM.entries()) {
    const brief = briefs.find(({ title }) => title === exercise.title)!;
    const due = evening(scene.now - exercise.dueDaysAgo * DAY);
    const assignment = await scene.models.Assignment.create(
      {
        briefId: brief.id,
        cohortId,
        dueAt: due,
        closedAt: new Date(due.getTime() + 15 * DAY),
        createdBy: instructor.id,
      },
      { transaction: scene.transaction },
    );
    for (const name of Object.keys(COURSES)) await goThrough(scene, assignment, brief, exercise, name, at);
  }
}

async function goThrough(
  scene: Scene,
  assignment: AssignmentModel,
  brief: BriefModel,
  exercise: TermExercise,
  name: string,
  at: number,
): Promise<void> {
  const { models, transaction, app, people } = scene;
  const student = people.get(name)!;
  const instructor = people.get('Ottoline Farrow')!;
  const course = COURSES[name]!;
  const shot = await models.Shot.create(
    { assignmentId: assignment.id, studentId: student.id, briefId: brief.id },
    { transaction },
  );
  const told = revisionsOf(exercise, course, at);
  let standing: { mark: MarkModel; reading: string; part: string | undefined }[] = [];
  for (const [k, faults] of told.entries()) {
    const last = k === told.length - 1;
    const handedInAt = new Date(
      assignment.dueAt.getTime() - course.early * DAY + k * BETWEEN_DAYS * DAY - ((at * 7 + k * 3) % 9) * 3_600_000,
    );
    const judgedAt = new Date(
      handedInAt.getTime() + ANSWER_HOURS[(at + k + name.length) % ANSWER_HOURS.length]! * 3_600_000,
    );
    const stage = STAGES[Math.max(0, STAGES.length - told.length + k)]!;
    const own = EXEMPLARS[exercise.exemplar]!.make({ length: brief.frames! }, faults);
    const motion = ['jump', 'overlap'].includes(exercise.exemplar) ? own : withoutJoints(own, ['strap', 'bag']);
    // Every student's file is their own: a file is stored once, and a shot takes it once.
    const bytes = Buffer.from(`${writeBvh(motion).trimEnd()}\n${'\n'.repeat(1 + k)}`);
    const file = await app.get(FileStore).put(bytes);
    await models.File.findOrCreate({ where: { sha256: file.sha256 }, defaults: file, transaction });
    const fileName = fileNameOf(brief.title, name, k + 1, 'bvh');
    const revision = await models.Revision.create(
      {
        shotId: shot.id,
        number: k + 1,
        stage,
        state: last ? 'signed off' : 'sent back',
        fileSha256: file.sha256,
        fileName,
        firstFrame: 1,
        loop: brief.loop,
        readingState: 'read',
        words: last ? 'Done. Take it along to the next one.' : 'Nearly; what is marked first.',
        asked: last ? null : 'What is marked, and nothing else.',
        handedInAt,
        judgedAt,
      },
      { transaction },
    );
    await models.RevisionEvent.bulkCreate(
      [
        { revisionId: revision.id, authorId: student.id, what: 'handed in', at: handedInAt },
        { revisionId: revision.id, authorId: instructor.id, what: revision.state, at: judgedAt },
      ],
      { transaction },
    );
    const prepared = prepareShot(motion, shotOptions(brief, revision));
    const report = reportShot(prepared, { file: fileName, format: 'BVH', warnings: [] });
    await app
      .get(Database)
      .run(
        'INSERT INTO readings (revision_id, core_version, report, small) VALUES ($1, $2, $3::jsonb, $4::jsonb)',
        [revision.id, CORE_VERSION, JSON.stringify(report), JSON.stringify(smallFigure(prepared) ?? null)],
        transaction,
      );
    await new VerdictKeeper(app.get(Database)).keep(revision.id, report as unknown as StoredReport, transaction);
    const { findings } = judgeShot(gaugesOf(brief), report, stage);
    const outside = findings.filter(({ judgement }) => judgement === 'outside');
    const shows = ({ reading, part }: { reading: string; part: string | undefined }): boolean =>
      outside.some(({ reading: own }) => own.id === reading && own.part === part);
    for (const one of standing) {
      if (shows(one) && !last) continue;
      // What is still there at the end is let pass, knowingly.
      await one.mark.update({ state: shows(one) ? 'waived' : 'cleared' }, { transaction });
      await models.MarkEvent.create(
        { markId: one.mark.id, authorId: instructor.id, what: one.mark.state, at: judgedAt },
        { transaction },
      );
    }
    standing = standing.filter(({ mark }) => mark.state === 'open' || mark.state === 'answered');
    if (!last)
      for (const finding of outside.slice(0, MARKED)) {
        if (standing.some(({ reading, part }) => reading === finding.reading.id && part === finding.reading.part))
          continue;
        const mark = await markFinding(scene, revision.id, stage, finding, prepared, judgedAt);
        standing.push({ mark, reading: finding.reading.id, part: finding.reading.part });
      }
    await app.get(OutboxService).tellJudged(revision.id, last ? 'signed off' : 'sent back', transaction, judgedAt);
    if (last) await grade(scene, shot.id, brief, findings);
  }
}

async function markFinding(
  { models, transaction, people }: Scene,
  revisionId: string,
  stage: Stage,
  finding: Finding,
  prepared: ReturnType<typeof prepareShot>,
  at: Date,
): Promise<MarkModel> {
  const author = people.get('Ottoline Farrow')!;
  const kind = readingKind(finding.reading.id)?.mark ?? 'note';
  const first = finding.frames[0] ?? prepared.firstFrame;
  const detail = finding.reading.detail as { from?: number; to?: number } | undefined;
  const from = Math.round(detail?.from ?? first);
  const to = Math.max(from, Math.round(detail?.to ?? first));
  const payload = measureMark(kind, prepared, { from, to, point: null }, takeFinding(finding));
  const mark = await models.Mark.create(
    {
      id: randomUUID(),
      revisionId,
      authorId: author.id,
      kind,
      fromFrame: from,
      toFrame: to,
      point: null,
      stage,
      payload,
      words: `${finding.say}. ${finding.gauge.why}`,
      state: 'open',
      sentAt: at,
      createdAt: new Date(at.getTime() - 600_000),
    },
    { transaction },
  );
  await models.MarkEvent.bulkCreate(
    [
      { markId: mark.id, authorId: author.id, what: 'made', at: new Date(at.getTime() - 600_000) },
      { markId: mark.id, authorId: author.id, what: 'sent', at },
    ],
    { transaction },
  );
  return mark;
}

/** Points as the instructor decided them: a little less for each finding that was let pass. */
async function grade(
  { app, people, transaction }: Scene,
  shot: string,
  brief: BriefModel,
  findings: readonly Finding[],
): Promise<void> {
  const passed = findings.filter(({ judgement }) => judgement === 'outside').length;
  for (const { id, points } of brief.rubric)
    await app
      .get(Database)
      .run(
        'INSERT INTO grades (shot_id, line, points, words, author_id) VALUES ($1, $2, $3, $4, $5)',
        [
          shot,
          id,
          Math.max(points / 2, points - passed),
          passed > 0 ? 'One thing let pass.' : '',
          people.get('Ottoline Farrow')!.id,
        ],
        transaction,
      );
}
