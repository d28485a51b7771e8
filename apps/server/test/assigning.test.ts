import { randomUUID } from 'node:crypto';
import ICAL from 'ical.js';
import request from 'supertest';
import { EMPTY_BRIEF } from '@ypsigraph/contract/briefs';
import type { Assignment, Docket, Ledger, RosterAnswer, WorksheetEntry } from '@ypsigraph/contract/courses';
import { readRoster } from '../src/courses/roster.service.ts';
import { docketPages, manyShotsWait } from './many-shots.ts';
import { nightRound, openSchool, type School, type Visitor, walk } from './harness.ts';

let school: School;
let instructor: Visitor;
let monday: string;

beforeAll(async () => {
  school = await openSchool();
  instructor = await school.as('Ottoline Farrow');
  monday = (await school.database.query(`SELECT id FROM cohorts WHERE name = 'Monday loft'`)).rows[0].id as string;
});
afterAll(() => school.close());

const personId = async (name: string): Promise<string> =>
  (await school.database.query('SELECT id FROM people WHERE name = $1', [name])).rows[0].id as string;

/** Sets an exercise of its own for the Monday loft. */
async function set(title: string, due: string, more: { dates?: object[]; content?: object } = {}): Promise<Assignment> {
  const { body: brief } = await instructor
    .post('/api/briefs', { ...EMPTY_BRIEF, title, kind: 'walk', ...more.content })
    .expect(201);
  const body = { brief: brief.versions[0].id, cohort: monday, due, dates: more.dates ?? [] };
  return (await instructor.post('/api/assignments', body).expect(201)).body as Assignment;
}

describe('dates', () => {
  test('each stage may have one of its own, and none lies after the whole', async () => {
    const made = await set('Dated', '2027-03-30T17:00:00.000Z', {
      dates: [{ stage: 'blocking', due: '2027-03-16T18:00:00.000Z' }],
    });
    expect(made.dates).toEqual([{ stage: 'blocking', due: '2027-03-16T18:00:00.000Z' }]);
    const { body } = await instructor
      .patch(`/api/assignments/${made.id}`, { dates: [{ stage: 'polish', due: '2027-04-30T17:00:00.000Z' }] })
      .expect(409);
    expect(body.title).toBe('polish would be due after the exercise itself.');
    const twice = [1, 2].map((day) => ({ stage: 'polish', due: `2027-03-0${day}T17:00:00.000Z` }));
    await instructor.patch(`/api/assignments/${made.id}`, { dates: twice }).expect(400);
  });

  test('a later date for one moves their stages by the clock on the wall, across a change of the clocks', async () => {
    // In the zone of the demo's school the clocks go forward on 28 March 2027: six in the evening is 18:00 UTC before it, and 17:00 UTC after.
    const made = await set('Across the change', '2027-03-22T18:00:00.000Z', {
      dates: [{ stage: 'blocking', due: '2027-03-15T18:00:00.000Z' }],
    });
    const person = await personId('Greta Almqvist');
    await instructor
      .patch(`/api/assignments/${made.id}`, { later: { person, due: '2027-04-05T17:00:00.000Z', why: 'At sea.' } })
      .expect(200);
    const greta = await school.as('Greta Almqvist');
    const { body: own } = await greta.get(`/api/assignments/${made.id}`).expect(200);
    expect(own.due).toBe('2027-04-05T17:00:00.000Z');
    // Two weeks later, still at six in the evening.
    expect(own.dates).toEqual([{ stage: 'blocking', due: '2027-03-29T17:00:00.000Z' }]);
    expect(own.later).toEqual([{ person, name: 'Greta Almqvist', due: own.due, why: 'At sea.' }]);
    const { body: other } = await (await school.as('Hoku Kealoha')).get(`/api/assignments/${made.id}`).expect(200);
    expect([other.due, other.later]).toEqual(['2027-03-22T18:00:00.000Z', []]);
    // It is taken back as it was given.
    await instructor.patch(`/api/assignments/${made.id}`, { later: { person, due: null } }).expect(200);
    expect((await greta.get(`/api/assignments/${made.id}`)).body.due).toBe('2027-03-22T18:00:00.000Z');
  });

  test('what is late is late by one’s own date, in docket and ledger', async () => {
    const ago = (hours: number): string => new Date(Date.now() - hours * 3_600_000).toISOString();
    const made = await set('Overdue', ago(48));
    await instructor
      .patch(`/api/assignments/${made.id}`, {
        later: { person: await personId('Emeka Brightwater'), due: new Date(Date.now() + 86_400_000).toISOString() },
      })
      .expect(200);
    for (const [name, slide] of [
      ['Emeka Brightwater', 1],
      ['Bram Hoekstra', 2],
    ] as const)
      expect((await (await school.as(name)).handIn(made.id, walk({ slide }))).status).toBe(201);
    const { body: docket }: { body: Docket } = await instructor.get('/api/docket?order=student').expect(200);
    const own = docket.entries.filter(({ exercise }) => exercise === 'Overdue');
    expect(own.map(({ student, late }) => [student.name, late])).toEqual([
      ['Bram Hoekstra', true],
      ['Emeka Brightwater', false],
    ]);
    const { body: ledger }: { body: Ledger } = await instructor.get(`/api/cohorts/${monday}/ledger`).expect(200);
    const cell = (name: string) =>
      ledger.rows.find(({ student }) => student.name === name)!.cells.find(({ assignment }) => assignment === made.id)!;
    expect([cell('Emeka Brightwater').late, cell('Bram Hoekstra').late]).toEqual([false, true]);
    // Who has handed in nothing is overdue.
    expect(cell('Hoku Kealoha')).toMatchObject({ late: true, revision: null });
  });

  test('a stage’s own date decides for revisions of that stage', async () => {
    const hours = (n: number): string => new Date(Date.now() + n * 3_600_000).toISOString();
    const made = await set('Staged', hours(240), { dates: [{ stage: 'blocking', due: hours(-5) }] });
    await (await school.as('Dagny Solheim')).handIn(made.id, walk({ slide: 9 }), { stage: 'blocking' });
    await (await school.as('Farid Qasemi')).handIn(made.id, walk({ slide: 8 }), { stage: 'smoothing' });
    const { body }: { body: Docket } = await instructor.get('/api/docket?order=due').expect(200);
    const late = Object.fromEntries(
      body.entries.filter(({ exercise }) => exercise === 'Staged').map(({ student, late: own }) => [student.name, own]),
    );
    expect(late).toEqual({ 'Dagny Solheim': true, 'Farid Qasemi': false });
  });

  test('a date is for somebody of the cohort, and later than everybody’s', async () => {
    const made = await set('Bounds', '2027-05-01T17:00:00.000Z');
    const give = (person: string, due: string) =>
      instructor.patch(`/api/assignments/${made.id}`, { later: { person, due } });
    await give(await personId('Sunniva Dahlby'), '2027-06-01T17:00:00.000Z').expect(404);
    await give(await personId('Hoku Kealoha'), '2027-04-01T17:00:00.000Z').expect(409);
    await instructor.patch(`/api/cohorts/${monday}`, { timeZone: 'Harbour/Nowhere' }).expect(400);
  });
});

describe('the docket', () => {
  test('stands in the order that is asked for, narrowed to what is asked for, with counts of all', async () => {
    const ask = async (query: string): Promise<Docket> =>
      (await instructor.get(`/api/docket?${query}`).expect(200)).body;
    const all = await ask('order=waiting');
    const times = all.entries.map(({ handedIn }) => handedIn);
    expect(times).toEqual([...times].sort());
    const due = (await ask('order=due')).entries.map((entry) => entry.due);
    expect(due).toEqual([...due].sort());
    const titles = (await ask('order=exercise')).entries.map(({ exercise }) => exercise.toLowerCase());
    expect(titles).toEqual([...titles].sort());
    const [some] = all.exercises;
    const narrowed = await ask(`exercise=${some!.id}`);
    expect(narrowed.entries).toHaveLength(some!.waiting);
    expect(narrowed.waiting).toBe(all.waiting);
    expect((await ask('only=late')).entries).toHaveLength(all.late);
    const answered = (await ask('only=answered')).entries;
    expect(answered).toHaveLength(all.answered);
    expect(answered.every(({ answers, answered: at }) => answers > 0 && at !== null)).toBe(true);
    expect((await ask('only=new')).entries.every(({ number }) => number === 1)).toBe(true);
    expect((await ask('stage=blocking')).entries.every(({ stage }) => stage === 'blocking')).toBe(true);
    expect((await ask(`cohort=${monday}`)).entries.every(({ cohort }) => cohort.name === 'Monday loft')).toBe(true);
    expect(all.exercises.reduce((sum, own) => sum + own.waiting, 0)).toBe(all.waiting);
  });

  test.each(['late', 'waiting', 'due', 'student', 'exercise'])(
    'comes in pages in every order, also by %s: all of it, once',
    async (order) => {
      const { rows } = await school.database.query('SELECT count(*)::int AS n FROM people WHERE email LIKE $1', [
        'paged%',
      ]);
      if (rows[0].n === 0) await manyShotsWait(school, { prefix: 'paged', students: 140, names: 7, times: 5 });
      const pages = await docketPages(instructor, `order=${order}`);
      const seen = pages.flatMap(({ entries }) => entries.map(({ revision }) => revision));
      expect(seen).toHaveLength(pages.at(-1)!.waiting);
      expect(pages.length).toBeGreaterThan(2);
      expect(new Set(seen).size).toBe(seen.length);
    },
  );

  test.each(['order=sideways', 'stage=lunch', 'exercise=7', `after=${'x'.repeat(500)}`, 'order=late&order=due'])(
    '%s is refused',
    async (query) => void (await instructor.get(`/api/docket?${query}`).expect(400)),
  );
});

describe('a roster', () => {
  const csv = (...lines: string[]): string => ['name,email', ...lines].join('\r\n');
  const take = async (text: string, apply: boolean): Promise<RosterAnswer> =>
    (await instructor.post(`/api/cohorts/${monday}/roster`, { csv: text, apply }).expect(200)).body as RosterAnswer;
  const people = async (): Promise<number> =>
    (await school.database.query('SELECT count(*)::int AS n FROM people')).rows[0].n as number;

  test('is looked at row by row, and nothing of it is taken as long as a row is wrong', async () => {
    const before = await people();
    const answer = await take(
      csv(
        'Anwen Pritchard,anwen@saltwick.example',
        'Hoku Kealoha,HOKU.kealoha@saltwick.example',
        'Sunniva Dahlby,sunniva.dahlby@saltwick.example',
        'Ottoline Farrow,ottoline.farrow@saltwick.example',
        ',nobody@saltwick.example',
        'Twice,anwen@SALTWICK.example',
        'No address,at home',
      ),
      true,
    );
    expect(answer.applied).toBe(false);
    expect(answer.rows.map(({ line, outcome, why }) => [line, outcome, why])).toEqual([
      [2, 'new', null],
      [3, 'already', null],
      [4, 'known', null],
      [5, 'wrong', 'Ottoline Farrow is instructor here'],
      [6, 'wrong', 'there is no name'],
      [7, 'wrong', 'the same address as in line 2'],
      [8, 'wrong', 'this is no e-mail address'],
    ]);
    expect(await people()).toBe(before);
  });

  test('taken over whole, the new ones are invited by the outbox, and can set their password', async () => {
    const before = await people();
    const text = csv('Anwen Pritchard,anwen@saltwick.example', '"Tadeo, Ruiz",tadeo@saltwick.example');
    expect((await take(text, false)).applied).toBe(false);
    expect(await people()).toBe(before);
    expect((await take(text, true)).applied).toBe(true);
    expect(await people()).toBe(before + 2);
    // Once more: they are there already, and nothing happens twice.
    expect((await take(text, true)).rows.map(({ outcome }) => outcome)).toEqual(['already', 'already']);
    const { body } = await instructor.get('/api/outbox').expect(200);
    const [message] = (body.messages as { about: string; to: { name: string }; link: string }[]).filter(
      ({ about, to }) => about === 'invited' && to.name === 'Tadeo, Ruiz',
    );
    const token = /\/invitation\/([\w-]+)/.exec(message!.link)![1]!;
    const { body: invitation } = await request(school.app.getHttpServer()).get(`/api/invitations/${token}`).expect(200);
    expect(invitation.email).toBe('tadeo@saltwick.example');
  });

  test('of two lists with the same new student at once neither is taken by half, and the student is there once', async () => {
    const thursday = (await school.database.query(`SELECT id FROM cohorts WHERE name = 'Thursday loft'`)).rows[0].id;
    const text = csv('Efua Mensah-Bligh,efua@saltwick.example', 'Ivo Kranjec,ivo@saltwick.example');
    const answers = await Promise.all(
      [monday, thursday as string].map((id) =>
        instructor.post(`/api/cohorts/${id}/roster`, { csv: text, apply: true }),
      ),
    );
    // Who comes second is told so, or comes late enough to find them there.
    for (const { status } of answers) expect([200, 409]).toContain(status);
    const taken = answers.filter(({ status }) => status === 200).length;
    expect(taken).toBeGreaterThan(0);
    const { rows } = await school.database.query(
      `SELECT p.email, count(e.cohort_id)::int AS n FROM people p LEFT JOIN enrolments e ON e.person_id = p.id
        WHERE p.email IN ('efua@saltwick.example', 'ivo@saltwick.example') GROUP BY p.id ORDER BY p.email`,
    );
    expect(rows).toEqual([
      { email: 'efua@saltwick.example', n: taken },
      { email: 'ivo@saltwick.example', n: taken },
    ]);
  });

  test('columns are found by their names, whatever stands between them', () => {
    expect(readRoster('﻿E-Mail;Group;Name\nhoku@saltwick.example;B;Hoku Kealoha\n\n')).toEqual([
      { line: 2, name: 'Hoku Kealoha', email: 'hoku@saltwick.example', why: null },
    ]);
    expect(readRoster('name\temail\nInês\tines@saltwick.example')[0]!.name).toBe('Inês');
    expect(() => readRoster('Hoku,hoku@saltwick.example')).toThrow(/name the columns/);
    expect(() => readRoster('name,email')).toThrow(/nobody/);
    expect(() => readRoster('name,email\n"open')).toThrow(/no table/);
  });
});

describe('the calendar', () => {
  test('is read by another package: every date, a student’s own, at the moment it is meant', async () => {
    const made = await set('In the calendar', '2027-03-22T18:00:00.000Z', {
      dates: [{ stage: 'blocking', due: '2027-03-15T18:00:00.000Z' }],
    });
    const person = await personId('Hoku Kealoha');
    await instructor
      .patch(`/api/assignments/${made.id}`, { later: { person, due: '2027-03-29T17:00:00.000Z' } })
      .expect(200);
    const hoku = await school.as('Hoku Kealoha');
    const { body } = await hoku.post('/api/account/calendar').expect(200);
    const path = new URL(body.address as string).pathname;
    const server = school.app.getHttpServer();
    // Whoever has the address reads it, without being signed in.
    const { text, headers } = await request(server).get(path).expect(200);
    expect(headers['content-type']).toMatch(/^text\/calendar/);
    // RFC 5545, as the package ical.js reads it.
    const events = new ICAL.Component(ICAL.parse(text) as unknown[])
      .getAllSubcomponents('vevent')
      .map((own) => new ICAL.Event(own));
    const own = events
      .filter(({ summary }) => summary.startsWith('In the calendar'))
      .map(({ summary, startDate }) => [summary, startDate.toJSDate().toISOString()]);
    expect(own).toEqual([
      // A week later, and after the change of the clocks: still at six.
      ['In the calendar: blocking', '2027-03-22T18:00:00.000Z'],
      ['In the calendar: due', '2027-03-29T17:00:00.000Z'],
    ]);
    expect(new Set(events.map(({ uid }) => uid)).size).toBe(events.length);
    // A moment has no end (3.6.1); DTEND would have to be later than DTSTART (3.8.2.2). DTSTAMP is when this was made, in UTC (3.8.7.2).
    expect(text).not.toMatch(/^(DTEND|DURATION)/m);
    for (const { component } of events) {
      const stamp = component.getFirstPropertyValue('dtstamp') as ICAL.Time;
      expect(Math.abs(stamp.toJSDate().getTime() - Date.now())).toBeLessThan(3_600_000);
      expect(stamp.zone.tzid).toBe('UTC');
    }
    // Lines are no longer than 75 octets (RFC 5545, section 3.1).
    expect(Math.max(...text.split('\r\n').map((line) => Buffer.byteLength(line)))).toBeLessThanOrEqual(75);
    // A new address ends the one before; ended, there is none.
    const { body: next } = await hoku.post('/api/account/calendar').expect(200);
    await request(server).get(path).expect(404);
    const second = new URL(next.address as string).pathname;
    await request(server).get(second).expect(200);
    await hoku.delete('/api/account/calendar').expect(200);
    await request(server).get(second).expect(404);
    await request(server).get(`/api/calendars/${randomUUID()}.ics`).expect(404);
  });
});

describe('a timed drill', () => {
  test('is handed in once, after its clock was started and before it has run out', async () => {
    const made = await set('Twenty minutes', '2027-05-01T17:00:00.000Z', { content: { clockMinutes: 20 } });
    const student = await school.as('Inês Carvalhal');
    expect((await student.handIn(made.id, walk({ slide: 1 }))).body.title).toBe(
      'The clock of this drill has not been started.',
    );
    const { body: begun } = await student.post(`/api/assignments/${made.id}/begin`).expect(200);
    expect(new Date(begun.begun.until).getTime() - new Date(begun.begun.at).getTime()).toBe(20 * 60_000);
    // Started again it runs from the first time.
    const { body: again } = await student.post(`/api/assignments/${made.id}/begin`).expect(200);
    expect(again.begun).toEqual(begun.begun);
    expect((await student.handIn(made.id, walk({ slide: 1 }))).status).toBe(201);
    expect((await student.handIn(made.id, walk({ slide: 2 }))).body.title).toBe('A timed drill is handed in once.');
    const late = await school.as('Greta Almqvist');
    await late.post(`/api/assignments/${made.id}/begin`).expect(200);
    await school.database.query(`UPDATE drills_begun SET at = at - interval '22 minutes' WHERE person_id = $1`, [
      await personId('Greta Almqvist'),
    ]);
    expect((await late.handIn(made.id, walk({ slide: 3 }))).body.title).toBe('The clock of this drill has run out.');
  });

  test('an exercise without a clock has none to start', async () => {
    await (
      await school.as('Jomo Wanyama')
    )
      .post(`/api/assignments/${await nightRound(school, 'Monday loft')}/begin`)
      .expect(409);
  });
});

test('the worksheet tells a student’s own dates, and by when the next is asked for', async () => {
  const made = await set('On the worksheet', new Date(Date.now() + 20 * 86_400_000).toISOString(), {
    dates: [{ stage: 'blocking', due: new Date(Date.now() + 5 * 86_400_000).toISOString() }],
  });
  const student = await school.as('Kiri Tamatea');
  const { body } = await student.handIn(made.id, walk({ slide: 7 }));
  const by = new Date(Date.now() + 9 * 86_400_000).toISOString();
  await instructor
    .post(`/api/revisions/${body.revision}/send-back`, { words: 'Nearly.', asked: 'The feet.', askedBy: by })
    .expect(200);
  const { body: sheet }: { body: WorksheetEntry[] } = await student.get('/api/worksheet').expect(200);
  const own = sheet.find(({ assignment }) => assignment.id === made.id)!;
  expect(own).toMatchObject({ asked: 'The feet.', askedBy: by, next: { stage: 'blocking' } });
});
