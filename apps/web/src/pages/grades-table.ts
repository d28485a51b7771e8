import { ROUTES } from '@ypsigraph/contract/routes';
import type { CohortGrades } from '@ypsigraph/contract/grades';
import { writeTable } from '@ypsigraph/core/formats/tables/write-table';
import { attempt } from '../api/attempt.ts';
import { call } from '../api/client.ts';
import { saveText } from '../kit/save-text.ts';

/** Everything that was decided, a line of the rubric a row. */
export const gradesTable = ({ rows }: CohortGrades): string =>
  writeTable([
    ['student', 'exercise', 'brief version', 'stage', 'graded', 'points', 'of', 'words', 'decided by', 'decided at'],
    ...rows.map(({ student, exercise, version, stage, line, points, of, words, by, at }) => [
      ...[student, exercise, version, stage, line, points, of, words, by, at],
    ]),
  ]);

/** Gives the grades of a cohort to the person as a file. */
export const saveGrades = (cohort: { readonly id: string; readonly name: string }): Promise<boolean> =>
  attempt(async () =>
    saveText(gradesTable(await call(ROUTES.cohortGrades, { id: cohort.id })), `grades ${cohort.name}.csv`),
  );
