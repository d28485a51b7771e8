import type { Sequelize } from 'sequelize';
import { BRIEFS } from '../briefs/brief.model.ts';
import { ASSIGNMENTS, COHORTS, ENROLMENTS } from '../courses/course.models.ts';
import { FILES } from '../files/file.model.ts';
import { DISMISSALS, MARK_EVENTS, MARKS, PHRASES, REPLIES } from '../marks/mark.models.ts';
import { PEOPLE } from '../people/person.model.ts';
import { READINGS } from '../readings/reading.model.ts';
import { REVISION_EVENTS, REVISIONS } from '../revisions/revision.models.ts';
import { SHOTS } from '../shots/shot.model.ts';
import { bind } from './table.ts';

/** Every table that is written row by row, on one connection. */
export const defineModels = (sequelize: Sequelize) => ({
  Person: bind(sequelize, PEOPLE),
  Cohort: bind(sequelize, COHORTS),
  Enrolment: bind(sequelize, ENROLMENTS),
  Brief: bind(sequelize, BRIEFS),
  Assignment: bind(sequelize, ASSIGNMENTS),
  Shot: bind(sequelize, SHOTS),
  File: bind(sequelize, FILES),
  Revision: bind(sequelize, REVISIONS),
  RevisionEvent: bind(sequelize, REVISION_EVENTS),
  Reading: bind(sequelize, READINGS),
  Mark: bind(sequelize, MARKS),
  MarkEvent: bind(sequelize, MARK_EVENTS),
  Dismissal: bind(sequelize, DISMISSALS),
  Phrase: bind(sequelize, PHRASES),
  Reply: bind(sequelize, REPLIES),
});
export type Models = ReturnType<typeof defineModels>;
