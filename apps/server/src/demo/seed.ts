import { randomUUID } from 'node:crypto';
import type { INestApplication } from '@nestjs/common';
import { hash } from 'argon2';
import { judgeShot } from '@ypsigraph/core/gauge/findings';
import { measureMark, sayMark, takeFinding } from '@ypsigraph/core/mark/mark';
import { asking, type Payload } from '@ypsigraph/core/mark/mark';
import { withTaken } from '@ypsigraph/core/posing/pulled-pose';
import { NOTHING_WANTED } from '@ypsigraph/core/posing/wanted-pose';
import { measureShot } from '@ypsigraph/core/measure/registry';
import type { Motion } from '@ypsigraph/core/motion/motion';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { type PreparedShot, sampleAt } from '@ypsigraph/core/motion/prepared-shot';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import type { Stage } from '@ypsigraph/contract/vocabulary';
import { exposeOn } from '@ypsigraph/core/exemplar/expose';
import { characterFile } from '@ypsigraph/core/exemplar/character';
import { puppetFile } from '@ypsigraph/core/exemplar/puppet';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import { CONFIGURATION, type Configuration, directUrl } from '../config.ts';
import { withAdvisoryLock } from '../database/advisory-lock.ts';
import { Database } from '../database/database.module.ts';
import type { AssignmentModel, CohortModel } from '../courses/course.models.ts';
import type { BriefModel } from '../briefs/brief.model.ts';
import type { PersonModel } from '../people/person.model.ts';
import type { RevisionModel } from '../revisions/revision.models.ts';
import { FileStore } from '../files/file-store.ts';
import { BRIEFS } from './briefs.ts';
import { COHORTS, PEOPLE } from './people.ts';
import { type MarkSeed, type RevisionSeed, STORIES } from './stories.ts';
import { BRIEF_DETAILS } from './brief-details.ts';
import { evening, fileNameOf, type Scene } from './scene.ts';
import { seedTerm } from './seed-term.ts';
import { OutboxService } from '../outbox/outbox.service.ts';
import { withoutJoints } from './without-joints.ts';
import { clipTracks, drawClip } from './clips.ts';
import { AHEAD, DRAWN } from './stories-ahead.ts';

const HOUR = 60 * 60 * 1000;
/** In hours. */
const WEEK = 7 * 24;
/** Everybody's password in the demo, for signing in by hand. */
export const DEMO_PASSWORD = 'saltwick';
/** When Night round was due, in hours from now: the Monday loft's is past, the Thursday loft's to come. */
const DUE_HOURS: Readonly<Record<string, number>> = { 'Monday loft': -72, 'Thursday loft': 50 };

/** Fills an empty database with the world of the night school, in one transaction. A database with people in it is left as it is. */
export async function seedDemo(app: INestApplication): Promise<void> {
  // Of two that start at once on an empty database one fills it, and the other waits for that.
  await withAdvisoryLock(directUrl(app.get<Configuration>(CONFIGURATION)), 'demo', () => fill(app));
}

async function fill(app: INestApplication): Promise<void> {
  const { models } = app.get(Database);
  await app.get(Database).transaction(async (transaction) => {
    if ((await models.Person.count({ transaction })) > 0) return;
    const passwordHash = await hash(DEMO_PASSWORD);
    const people = new Map<string, PersonModel>();
    const cohorts = new Map<string, CohortModel>();
    for (const name of COHORTS)
      cohorts.set(
        name,
        await models.Cohort.create({ name, term: 'autumn', timeZone: 'Europe/London' }, { transaction }),
      );
    for (const { name, email, role, cohorts: names } of PEOPLE) {
      const person = await models.Person.create({ name, email, role, passwordHash }, { transaction });
      people.set(name, person);
      for (const cohort of names) {
        await models.Enrolment.create(
          { personId: person.id, cohortId: cohorts.get(cohort)!.id, role },
          { transaction },
        );
      }
    }
    const written = BRIEFS.map((brief) => ({ ...brief, ...BRIEF_DETAILS[brief.title] }));
    const briefs = await models.Brief.bulkCreate(written, { transaction });
    const stage: Scene = { app, transaction, models, people, now: Date.now() };
    const instructor = people.get('Ottoline Farrow')!;
    for (const [name, cohort] of cohorts) {
      const assignment = await models.Assignment.create(
        {
          briefId: briefs[0]!.id,
          cohortId: cohort.id,
          dueAt: evening(stage.now + DUE_HOURS[name]! * HOUR),
          createdBy: instructor.id,
        },
        { transaction },
      );
      for (const { name: student, cohorts: theirs } of PEOPLE) {
        if (STORIES[student] && theirs[0] === name) await tell(stage, assignment, student, 'walk', STORIES[student]);
      }
    }
    const { DEMO_CLIPS, DEMO_TERM } = app.get<Configuration>(CONFIGURATION);
    const ahead = [...AHEAD, ...(DEMO_CLIPS ? DRAWN : [])];
    const titles = [...new Set(ahead.map(({ exercise }) => exercise))];
    for (const [index, title] of titles.entries()) {
      const assignment = await models.Assignment.create(
        {
          briefId: briefs.find((brief) => brief.title === title)!.id,
          cohortId: cohorts.get('Thursday loft')!.id,
          dueAt: evening(stage.now + (DUE_HOURS['Thursday loft']! + WEEK * (index + 1)) * HOUR),
          createdBy: instructor.id,
        },
        { transaction },
      );
      for (const { exercise, exemplar, student, story } of ahead)
        if (exercise === title) await tell(stage, assignment, student, exemplar, story);
    }
    if (DEMO_TERM) {
      await seedTerm(stage, cohorts.get('Monday loft')!.id, briefs);
      await seedShowings(stage);
    }
    await inOrder(stage);
    // What these people were told in the story is told to nobody.
    await app.get(Database).run('UPDATE outbox SET due_at = NULL', [], transaction);
  });
}

/** Metres of an exemplar's unit. */
const METRES = 0.01;

/** Exercises whose figure is the letter carrier; the keeper and the pilot carry no bag. */
const CARRIERS: ReadonlySet<string> = new Set(['walk', 'run', 'steps', 'jump', 'overlap']);

async function tell(
  stage: Scene,
  assignment: AssignmentModel,
  name: string,
  exemplar: string,
  story: readonly RevisionSeed[],
): Promise<void> {
  const { transaction, models } = stage;
  const student = stage.people.get(name)!;
  const brief = (await models.Brief.findByPk(assignment.briefId, { transaction }))!;
  const { title, loop } = brief;
  const shot = await models.Shot.create(
    { assignmentId: assignment.id, studentId: student.id, briefId: assignment.briefId },
    { transaction },
  );
  for (const [index, seed] of story.entries()) {
    const { clip } = seed;
    const drawn = clip && (await drawClip(clip));
    const shown = drawn ? undefined : made(exemplar, seed);
    const file = await stage.app.get(FileStore).put(drawn ? drawn.bytes : await motionFile(shown!, seed));
    await models.File.findOrCreate({ where: { sha256: file.sha256 }, defaults: file, transaction });
    const handedInAt = new Date(stage.now - seed.hoursAgo * HOUR);
    const judged = seed.state === 'sent back' || seed.state === 'signed off';
    const judgedAt = judged ? new Date(handedInAt.getTime() + 20 * HOUR) : null;
    const revision = await models.Revision.create(
      {
        shotId: shot.id,
        number: index + 1,
        stage: seed.stage,
        state: seed.state,
        fileSha256: file.sha256,
        fileName: fileNameOf(title, name, index + 1, clip?.format ?? endingOf(seed)),
        media: clip ? 'pictures' : 'motion',
        note: seed.note ?? '',
        firstFrame: seed.walk?.firstFrame ?? 1,
        // A clip of a cycle need not have its first frame once more at its end.
        loop: clip && loop !== 'none' ? 'auto' : loop,
        words: seed.words ?? null,
        asked: seed.asked ?? null,
        handedInAt,
        judgedAt,
        readingWaited: false,
      },
      { transaction },
    );
    await models.RevisionEvent.create(
      { revisionId: revision.id, authorId: student.id, what: 'handed in', at: handedInAt },
      { transaction },
    );
    if (shown) {
      const measured = prepareShot(shown, shotOptions(brief, revision));
      for (const mark of seed.marks ?? []) {
        const payload = numbersOf(measured, brief, seed.stage, mark);
        await makeMark(stage, revision, student, mark, payload, judgedAt);
      }
    }
    if (drawn && clip.points)
      await stage.app
        .get(Database)
        .run(
          'INSERT INTO tracks (revision_id, version, tracks, author_id) VALUES ($1, 1, $2::jsonb, $3)',
          [revision.id, JSON.stringify(clipTracks(drawn.shot, clip)), stage.people.get('Ottoline Farrow')!.id],
          transaction,
        );
    if (judgedAt)
      await stage.app
        .get(OutboxService)
        .tellJudged(revision.id, seed.state as 'sent back' | 'signed off', transaction, judgedAt);
    if (seed.beside) await bringClip(stage, revision, seed.beside);
  }
}

/** The clip that came with a motion. */
async function bringClip(
  { app, models, transaction }: Scene,
  revision: RevisionModel,
  clip: NonNullable<RevisionSeed['beside']>,
): Promise<void> {
  const { bytes } = await drawClip(clip);
  const file = await app.get(FileStore).put(bytes);
  await models.File.findOrCreate({ where: { sha256: file.sha256 }, defaults: file, transaction });
  const name = revision.fileName.replace(/\.\w+$/, `.${clip.format}`);
  await app
    .get(Database)
    .run(
      'INSERT INTO clips_beside (revision_id, file_sha256, file_name, first_label) VALUES ($1, $2, $3, $4)',
      [revision.id, file.sha256, name, clip.firstLabel],
      transaction,
    );
}

const endingOf = ({ character, puppet }: RevisionSeed): string => (character ? 'glb' : puppet ? 'json' : 'bvh');

/** A motion as the file that its student handed in. */
async function motionFile(motion: Motion, { character, puppet }: RevisionSeed): Promise<Buffer> {
  if (puppet) return Buffer.from(puppetFile(prepareShot(motion), puppet));
  return Buffer.from(
    character ? await characterFile(motion, { metresPerUnit: METRES, ...character }) : writeBvh(motion),
  );
}

/** The motion that was handed in. */

function made(exemplar: string, seed: RevisionSeed): Motion {
  const motion = EXEMPLARS[exemplar]!.make({ ...seed.walk, ...seed.set }, { ...seed.faults });
  const own = CARRIERS.has(exemplar) ? motion : withoutJoints(motion, ['strap', 'bag']);
  return seed.onHold ? exposeOn(own, seed.onHold) : own;
}

/** A mark's numbers as the desk would have filled them in. */
function numbersOf(
  shot: PreparedShot,
  brief: BriefModel,
  stage: Stage,
  { kind, frames, point, ...seed }: MarkSeed,
): Payload {
  const [from, to] = frames;
  const { readings, unmade } = measureShot(shot);
  const found = seed.finding === undefined ? [] : judgeShot(gaugesOf(brief), { readings, unmade }, stage).findings;
  // Of several the one on the foot the mark hangs on; where both feet do as much, the reading of that foot.
  const own = found.filter(({ reading }) => reading.id === seed.finding);
  const isThere = (part: string | undefined): boolean => point?.endsWith(part?.slice(-2) ?? '') === true;
  const alike = own.find(({ twin }) => twin !== undefined && isThere(twin));
  const other = readings.find(({ id, part }) => id === alike?.reading.id && part === alike.twin);
  const taken =
    own.find(({ reading }) => isThere(reading.part)) ?? (alike && other ? { ...alike, reading: other } : own[0]);
  const payload = measureMark(kind, shot, { from, to, point }, taken && takeFinding(taken, kind));
  if (seed.wanted) return asking(payload, seed.wanted as never);
  if (seed.takes && payload.kind === 'pose') {
    const at = sampleAt(shot, from);
    const source = { shot, sample: sampleAt(shot, seed.takes.frame) };
    return asking(payload, withTaken(shot, at, NOTHING_WANTED, source, seed.takes.parts));
  }
  // What is there is not what is wanted: where only the words say what is, no number does.
  const { now, wanted } = sayMark(payload, { from, to, point });
  return now === wanted && !payload.quote ? { ...payload, wanted: null } : payload;
}

async function makeMark(
  { transaction, models, people }: Scene,
  revision: RevisionModel,
  student: PersonModel,
  seed: MarkSeed,
  payload: Payload,
  sentAt: Date | null,
): Promise<void> {
  const author = people.get('Ottoline Farrow')!;
  const at = new Date((sentAt?.getTime() ?? Date.now()) - HOUR / 2);
  const mark = await models.Mark.create(
    {
      id: randomUUID(),
      revisionId: revision.id,
      authorId: author.id,
      kind: seed.kind,
      fromFrame: seed.frames[0],
      toFrame: seed.frames[1],
      point: seed.point,
      stage: revision.stage,
      payload,
      words: seed.words,
      state: seed.state ?? 'open',
      sentAt,
      createdAt: at,
    },
    { transaction },
  );
  await models.MarkEvent.create({ markId: mark.id, authorId: author.id, what: 'made', at }, { transaction });
  if (seed.answer) {
    const answeredAt = new Date(at.getTime() + 6 * HOUR);
    await models.Reply.create(
      { id: randomUUID(), markId: mark.id, authorId: student.id, words: seed.answer, at: answeredAt },
      { transaction },
    );
    await models.MarkEvent.create(
      { markId: mark.id, authorId: student.id, what: 'answered', at: answeredAt },
      { transaction },
    );
  }
}

/** The outbox stands in the order in which its messages would have gone out, not in that of the stories. */
async function inOrder({ app, transaction }: Scene): Promise<void> {
  const database = app.get(Database);
  await database.run(
    `UPDATE outbox o SET id = n.place FROM (
       SELECT id, (SELECT max(id) FROM outbox) + row_number() OVER (ORDER BY at, id) AS place FROM outbox) n WHERE n.id = o.id`,
    [],
    transaction,
  );
  await database.run(`SELECT setval('outbox_id_seq', (SELECT max(id) FROM outbox))`, [], transaction);
}

/** Nilufar's walk is shown to her loft; Chiyo agrees to it, and hers is not shown yet. */
async function seedShowings({ app, transaction, people }: Scene): Promise<void> {
  const database = app.get(Database);
  const shotOf = `SELECT s.id FROM shots s JOIN people p ON p.id = s.student_id JOIN briefs b ON b.id = s.brief_id WHERE p.name = $1 AND b.title = 'Night round'`;
  await database.run(
    `INSERT INTO showings (shot_id, consent_at, shown_at, shown_by, words) SELECT id, now(), now(), $2, $3 FROM (${shotOf}) s`,
    [
      'Nilufar Rashidova',
      people.get('Ottoline Farrow')!.id,
      'From the first revision to the second: look at what the feet do.',
    ],
    transaction,
  );
  await database.run(
    `INSERT INTO showings (shot_id, consent_at) SELECT id, now() FROM (${shotOf}) s`,
    ['Chiyo Tanabe'],
    transaction,
  );
}
