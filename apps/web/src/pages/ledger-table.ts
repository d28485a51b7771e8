import type { Ledger } from '@ypsigraph/contract/courses';
import { writeTable } from '@ypsigraph/core/formats/tables/write-table';

const COLUMNS = [
  'student',
  'exercise',
  'due',
  'revision',
  'stage',
  'state',
  'handed in',
  'open marks',
  'answered marks',
  'late',
];

/** A ledger as a table, a row a student and exercise: for a school's own lists. Moments are told as ISO 8601 has them. */
export const ledgerTable = ({ assignments, rows }: Ledger): string =>
  writeTable([
    COLUMNS,
    ...rows.flatMap(({ student, cells }) =>
      assignments.map((assignment) => {
        const cell = cells.find((own) => own.assignment === assignment.id);
        const { number, stage, state, at } = cell?.revision ?? {};
        return [
          student.name,
          assignment.brief.title,
          assignment.due,
          number ?? null,
          stage ?? null,
          state ?? null,
          at ?? null,
          cell?.openMarks ?? 0,
          cell?.answeredMarks ?? 0,
          cell?.late ? 'late' : null,
        ];
      }),
    ),
  ]);
