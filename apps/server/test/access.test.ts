import { randomUUID } from 'node:crypto';
import request from 'supertest';
import type { Route } from '@ypsigraph/contract/route';
import { DEMO_ROUTES, ROUTES } from '@ypsigraph/contract/routes';
import { EMPTY_BRIEF } from '@ypsigraph/contract/briefs';
import type { Role } from '@ypsigraph/contract/vocabulary';
import { HEADER, nightRound, openSchool, type School, shotOf, untilRead, type Visitor } from './harness.ts';

let school: School;
const visitors = new Map<string, Visitor>();
/** Ids of things that belong to the Monday loft, and to Farid in it. */
let monday: Record<NonNullable<Route['concerns']>, string>;

/** Who asks: each role, in the Monday loft and outside it. A teacher of the other loft alone is made for the test. */
const PEOPLE: readonly (readonly [name: string, role: Role, ofCohort: boolean, owner: boolean])[] = [
  ['Ottoline Farrow', 'instructor', true, false],
  ['Baraka Lundqvist', 'assistant', true, false],
  ['Farid Qasemi', 'student', true, true],
  ['Hoku Kealoha', 'student', true, false],
  ['Sunniva Dahlby', 'student', false, false],
  ['Thursday instructor', 'instructor', false, false],
  ['Thursday assistant', 'assistant', false, false],
];

beforeAll(async () => {
  school = await openSchool();
  for (const role of ['instructor', 'assistant']) {
    const { rows } = await school.database.query(
      `INSERT INTO people (name, email, role, password_hash) VALUES ($1, $2, $3, '-') RETURNING id`,
      [`Thursday ${role}`, `thursday.${role}@saltwick.example`, role],
    );
    await school.database.query(`INSERT INTO enrolments SELECT $1, id, $2 FROM cohorts WHERE name = 'Thursday loft'`, [
      rows[0].id,
      role,
    ]);
  }
  for (const [name] of PEOPLE) visitors.set(name, await school.as(name));
  const shot = await shotOf(school, 'Farid Qasemi');
  await untilRead(visitors.get('Farid Qasemi')!, shot);
  const revision = (await school.database.query('SELECT id FROM revisions WHERE shot_id = $1', [shot])).rows[0]
    .id as string;
  const cohort = (await school.database.query(`SELECT id FROM cohorts WHERE name = 'Monday loft'`)).rows[0]
    .id as string;
  // As if it had pictures.
  const facts = {
    ...{
      format: 'WebM',
      fps: 24,
      frames: 0,
      width: 2,
      height: 2,
      shown: { width: 2, height: 2 },
      small: { width: 2, height: 2 },
    },
    ...{ pictures: [], sizes: [], smallSizes: [], exposures: [], warnings: [] },
  };
  await school.database.query(
    `INSERT INTO pictures SELECT file_sha256, $2, file_sha256, file_sha256 FROM revisions WHERE id = $1`,
    [revision, JSON.stringify(facts)],
  );
  await school.database.query(
    `INSERT INTO clips_beside (revision_id, file_sha256, file_name, first_label) SELECT id, file_sha256, 'walk.webm', 1 FROM revisions WHERE id = $1`,
    [revision],
  );
  const mark = randomUUID();
  await school.database.query(
    `INSERT INTO marks (id, revision_id, author_id, kind, from_frame, to_frame, words, stage, sent_at)
     SELECT $1, $2, id, 'arc', 9, 9, 'it pops', 'smoothing', now() FROM people WHERE name = 'Ottoline Farrow'`,
    [mark, revision],
  );
  const { rows: owner } = await school.database.query('SELECT student_id AS id FROM shots WHERE id = $1', [shot]);
  const person = owner[0].id as string;
  monday = { cohort, assignment: await nightRound(school, 'Monday loft'), shot, revision, mark, person };
});

afterAll(() => school.close());

/** What the contract says of a route and a person: whether they get past every door. */
function allowed(route: Route, role: Role, ofCohort: boolean, owner: boolean): boolean {
  const { audience, concerns } = route;
  if (audience === 'anyone') return true;
  if (audience !== 'signed in' && !audience.includes(role)) return false;
  if (concerns === undefined) return true;
  if (concerns === 'cohort' || concerns === 'assignment') return ofCohort;
  return role === 'student' ? owner : ofCohort;
}

const address = (route: Route): string =>
  route.path
    .replace(':id', route.concerns ? monday[route.concerns] : randomUUID())
    .replace(/:\w+/g, () => randomUUID());

/** A body that is right, so that it is not for its body that someone is refused. */
const BODIES: Readonly<Record<string, () => object>> = {
  [ROUTES.assign.path]: () => ({ brief: randomUUID(), cohort: monday.cohort, due: new Date().toISOString() }),
  [ROUTES.changeAssignment.path]: () => ({ closed: true }),
  [ROUTES.sendBack.path]: () => ({ words: 'no', asked: '' }),
  [ROUTES.signOff.path]: () => ({ words: 'no' }),
  [ROUTES.dismiss.path]: () => ({ reading: 'gait.bob', part: null, reason: 'no' }),
  [ROUTES.setPoses.path]: () => ({ poses: [] }),
  [ROUTES.placeMark.path]: () => ({ revision: randomUUID(), place: { from: 1, to: 2 } }),
  [ROUTES.placeClip.path]: () => ({ firstLabel: 1, under: null }),
  [ROUTES.setTracks.path]: () => ({
    version: 0,
    ...{ points: [], still: [], pairs: [], shapes: [], ground: null, exposures: null },
  }),
  [ROUTES.keepPhrase.path]: () => ({ key: randomUUID(), kind: 'arc', words: 'no' }),
  [ROUTES.makeMark.path]: () => ({ kind: 'note', from: 1, to: 1, point: null, words: 'no', key: randomUUID() }),
  [ROUTES.judgeMark.path]: () => ({ state: 'cleared' }),
  [ROUTES.makeBrief.path]: () => ({ ...EMPTY_BRIEF, title: 'no', kind: 'walk' }),
  [ROUTES.changeCohort.path]: () => ({ timeZone: 'UTC' }),
  [ROUTES.roster.path]: () => ({ csv: 'name,email', apply: false }),
  [ROUTES.decideGrade.path]: () => ({ line: 'weight', points: null }),
  [ROUTES.consent.path]: () => ({ consent: false }),
  [ROUTES.show.path]: () => ({ shown: false }),
  [ROUTES.showExemplar.path]: () => ({ exemplar: 'walk', fault: 'slide', size: 6 }),
  [ROUTES.setDemonstration.path]: () => ({ plays: null, stills: false }),
  [ROUTES.answerMark.path]: () => ({ words: 'no', key: randomUUID() }),
};

/** Asks for a route; whoever is let in sends an empty body, so that nothing changes that another row of the table depends on. */
async function statusOf(visitor: Visitor, route: Route, may: boolean): Promise<number> {
  const path = address(route);
  const body = may ? {} : (BODIES[route.path]?.() ?? {});
  if (route.path.endsWith('/events')) {
    return new Promise((resolve, reject) => {
      const asking = visitor
        .get(path)
        .buffer(false)
        .parse((response, done) => {
          resolve((response as unknown as { statusCode: number }).statusCode);
          (response as unknown as { destroy(): void }).destroy();
          done(null, null);
        });
      asking.end((error) => error && reject(error as Error));
      setTimeout(() => reject(new Error('no answer')), 5_000).unref();
    });
  }
  switch (route.method) {
    case 'GET':
      return (await visitor.get(path)).status;
    case 'POST':
      return (await visitor.post(path, body)).status;
    case 'PATCH':
      return (await visitor.patch(path, body)).status;
    case 'DELETE':
      return (await visitor.delete(path)).status;
  }
}

/** Routes that act on an empty body: asked for last, and only by those they refuse. */
const ACTS: readonly string[] = [
  ROUTES.takeOnDesk.path,
  ROUTES.withdraw.path,
  ROUTES.readAgain.path,
  ROUTES.archiveMark.path,
];
/** Routes whose address is a secret, or a session's own name, are told by their own tests. */
const OWN_TESTS: readonly string[] = [
  'signOut',
  'signIn',
  'endSession',
  'invitation',
  'acceptInvitation',
  'forgotPassword',
  'beginOidc',
  'finishOidc',
  'beginFactor',
  'confirmFactor',
  'codesAnew',
  'dropFactor',
  'dropPasskey',
  'beginPasskeySignIn',
  'passkeySignIn',
  'dropPhrase',
  'pictureFrames',
  'sound',
  'uploadState',
  'uploadPart',
  'dropUpload',
  'handInUpload',
  'brief',
  'changeBrief',
  'archiveBrief',
  'exportBrief',
  'readingValues',
  'addBriefFile',
  'dropBriefFile',
  'briefFile',
  'calendar',
  'renewCalendar',
];
const CHECKED = Object.entries(ROUTES).filter(([name]) => !OWN_TESTS.includes(name));

describe.each(CHECKED)('%s', (_, route: Route) => {
  test.each(PEOPLE)('for %s', async (name, role, ofCohort, owner) => {
    const may = allowed(route, role, ofCohort, owner);
    if (may && ACTS.includes(route.path) && route.method !== 'GET') return;
    const status = await statusOf(visitors.get(name)!, route, may);
    if (may) expect([401, 403, 404]).not.toContain(status);
    else expect(status).toBe(403);
  });

  test('for nobody', async () => {
    const server = school.app.getHttpServer();
    const method = route.method.toLowerCase() as 'get' | 'post' | 'patch' | 'delete';
    const { status } = await request(server)[method](address(route)).set(HEADER);
    if (route.audience === 'anyone') expect(status).toBeLessThan(400);
    else expect(status).toBe(401);
  });

  if (route.method !== 'GET') {
    test('without the header that no form can send', async () => {
      const server = school.app.getHttpServer();
      const method = route.method.toLowerCase() as 'post' | 'patch' | 'delete';
      const { status, body } = await request(server)[method](address(route)).send({});
      expect([status, body.type]).toEqual([403, 'header-missing']);
    });
  }
});

test('the server serves the routes of the contract and no others', async () => {
  const { body } = await request(school.app.getHttpServer()).get('/api/docs.json').expect(200);
  const served = Object.entries(body.paths as Record<string, object>).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path.replace(/\{(\w+)\}/g, ':$1')}`),
  );
  const contract = [...Object.values(ROUTES), ...Object.values(DEMO_ROUTES)].map(
    ({ method, path }) => `${method} ${path}`,
  );
  expect(served.sort()).toEqual(contract.sort());
});

test('a student never reads an unsent mark, in whatever way it is asked for', async () => {
  const instructor = visitors.get('Ottoline Farrow')!;
  const student = visitors.get('Farid Qasemi')!;
  const key = randomUUID();
  await instructor
    .post(`/api/revisions/${monday.revision}/marks`, {
      kind: 'note',
      from: 1,
      to: 2,
      point: null,
      words: 'only for me as yet',
      key,
    })
    .expect(201);
  const { text } = await student.get(`/api/shots/${monday.shot}`).expect(200);
  expect(text).not.toContain('only for me as yet');
  await student.post(`/api/marks/${key}/replies`, { words: 'I can see you', key: randomUUID() }).expect(404);
});

describe('outside the demo', () => {
  test('the page that offers invented people does not exist, and the API is described to those who teach', async () => {
    const real = await openSchoolWithoutDemo();
    try {
      await request(real.server).get('/api/docs.json').expect(401);
      for (const { method, path } of Object.values(DEMO_ROUTES)) {
        const asking =
          method === 'GET' ? request(real.server).get(path) : request(real.server).post(path).set(HEADER).send({});
        expect((await asking).status).toBe(404);
      }
    } finally {
      await real.close();
    }
  });
});

async function openSchoolWithoutDemo(): Promise<{
  server: ReturnType<School['app']['getHttpServer']>;
  close: () => Promise<void>;
}> {
  const other = await openSchool({ DEMO: '0', PROCESS: 'server' });
  return { server: other.app.getHttpServer(), close: () => other.close() };
}
