import type { Docket } from '@ypsigraph/contract/courses';
import type { ListedDemonstration, Shot } from '@ypsigraph/contract/shots';
import type { Tally } from '@ypsigraph/contract/folios';
import { nightRound, openSchool, type School, shotOf, type Visitor, walk } from './harness.ts';

let school: School;
let [instructor, hoku, sunniva]: Visitor[] = [];
let monday: string;

beforeAll(async () => {
  school = await openSchool();
  instructor = await school.as('Ottoline Farrow');
  hoku = await school.as('Hoku Kealoha');
  sunniva = await school.as('Sunniva Dahlby');
  monday = await nightRound(school, 'Monday loft');
});

afterAll(() => school.close());

const listed = async (visitor: Visitor): Promise<ListedDemonstration[]> =>
  (await visitor.get(`/api/assignments/${monday}/demonstrations`).expect(200)).body as ListedDemonstration[];
const counts = async (): Promise<object> => {
  const { rows } = await school.database.query(`SELECT id FROM cohorts WHERE name = 'Monday loft'`);
  const docket = (await instructor!.get('/api/docket').expect(200)).body as Docket;
  const tally = (await instructor!.get(`/api/cohorts/${rows[0].id}/tally`).expect(200)).body as Tally;
  return { waiting: docket.waiting, assignments: tally.assignments };
};

describe('a teacher shows how an exercise is done', () => {
  let shot: string;

  test('with a file of their own, that waits for nobody and counts as nobody’s', async () => {
    const before = await counts();
    expect(await listed(hoku!)).toEqual([]);
    const answer = await instructor!.handIn(monday, walk({ slide: 2 }), { stage: 'polish' });
    expect(answer.status).toBe(201);
    shot = (answer.body as { shot: string }).shot;
    expect(await counts()).toEqual(before);
    expect(await listed(hoku!)).toEqual([
      {
        shot,
        by: 'Ottoline Farrow',
        revision: answer.body.revision,
        number: 1,
        plays: null,
        stills: false,
        alone: false,
      },
    ]);
  });

  test('students of the cohort look at it, and those of another do not', async () => {
    const seen = (await hoku!.get(`/api/shots/${shot}`).expect(200)).body as Shot;
    expect(seen).toMatchObject({ demonstration: { plays: null, stills: false }, student: { name: 'Ottoline Farrow' } });
    await hoku!.get(`/api/revisions/${seen.revisions[0]!.id}/file`).expect(200);
    await hoku!.post(`/api/revisions/${seen.revisions[0]!.id}/withdraw`).expect(403);
    await sunniva!.get(`/api/shots/${shot}`).expect(403);
    await sunniva!.get(`/api/assignments/${monday}/demonstrations`).expect(403);
  });

  test('another take is in the place of the one before at once; the same file again is the same take', async () => {
    await instructor!.handIn(monday, walk({ slide: 2 }), { stage: 'polish' });
    expect((await listed(hoku!))[0]).toMatchObject({ shot, number: 1 });
    const next = await instructor!.handIn(monday, walk({ slide: 3 }), { stage: 'polish' });
    expect(next.status).toBe(201);
    expect((await listed(hoku!))[0]).toMatchObject({ shot, number: 2 });
  });

  test('says how often it may be played; of a student’s shot nobody can', async () => {
    const set = (id: string, body: object) => instructor!.patch(`/api/shots/${id}/demonstration`, body);
    await set(shot, { plays: 3, stills: false }).expect(200);
    expect((await listed(hoku!))[0]).toMatchObject({ plays: 3, stills: false });
    await set(shot, { plays: null, stills: true }).expect(200);
    await set(shot, { plays: 0, stills: true }).expect(400);
    await set(await shotOf(school, 'Hoku Kealoha'), { plays: 3, stills: false }).expect(409);
    await hoku!.patch(`/api/shots/${shot}/demonstration`, { plays: null, stills: false }).expect(403);
  });

  test('for one shot alone it is seen by that shot’s student and by nobody else', async () => {
    const own = await shotOf(school, 'Hoku Kealoha');
    const answer = await instructor!.handIn(monday, walk({ slide: 4 }), { stage: 'polish', beside: own });
    expect(answer.status).toBe(201);
    const { shot: made } = answer.body as { shot: string };
    const of = async (visitor: Visitor, shot: string): Promise<string[]> =>
      (
        (await visitor.get(`/api/assignments/${monday}/demonstrations?shot=${shot}`).expect(200))
          .body as ListedDemonstration[]
      )
        .filter(({ alone }) => alone)
        .map(({ shot: id }) => id);
    expect(await of(hoku!, own)).toEqual([made]);
    expect((await listed(hoku!)).map(({ shot: id }) => id)).toEqual([shot]);
    await hoku!.get(`/api/shots/${made}`).expect(200);
    const farid = await school.as('Farid Qasemi');
    await farid.get(`/api/shots/${made}`).expect(403);
    await farid.get(`/api/assignments/${monday}/demonstrations?shot=${own}`).expect(403);
    // Of another exercise it can't be.
    const thursday = await nightRound(school, 'Thursday loft');
    expect((await instructor!.handIn(thursday, walk({ slide: 5 }), { stage: 'polish', beside: own })).status).toBe(409);
  });

  test('withdrawn it is there no more; a student’s shot can’t be withdrawn so', async () => {
    await hoku!.delete(`/api/shots/${shot}/demonstration`).expect(403);
    await instructor!.delete(`/api/shots/${await shotOf(school, 'Hoku Kealoha')}/demonstration`).expect(409);
    const gone = (await instructor!.delete(`/api/shots/${shot}/demonstration`).expect(200)).body as Shot;
    expect(gone.revisions.map(({ state }) => state)).toEqual(['withdrawn', 'withdrawn']);
    expect(await listed(hoku!)).toEqual([]);
  });
});
