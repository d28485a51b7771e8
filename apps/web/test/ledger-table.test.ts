import { parse } from 'csv-parse/sync';
import type { Ledger } from '@ypsigraph/contract/courses';
import { ledgerTable } from '../src/pages/ledger-table.ts';

test('a ledger is a table with a row a student and exercise, whether or not anything was handed in', () => {
  const assignment = (id: string, title: string) => ({ id, due: '2026-11-28T18:00:00.000Z', brief: { title } });
  const ledger = {
    cohort: { id: 'c', name: 'Thursday loft' },
    assignments: [assignment('n', 'Night round'), assignment('f', 'Last ferry')],
    rows: [
      {
        student: { id: 's', name: 'Sunniva Dahlby' },
        cells: [
          {
            assignment: 'n',
            shot: 'x',
            revision: { id: 'r', number: 2, state: 'sent back', stage: 'smoothing', at: '2026-11-24T20:00:00.000Z' },
            ...{ openMarks: 3, answeredMarks: 1, late: true },
          },
        ],
      },
    ],
  } as unknown as Ledger;
  const rows = parse(ledgerTable(ledger), { columns: true }) as Record<string, string>[];
  expect(rows).toHaveLength(2);
  expect(rows[0]).toMatchObject({
    ...{ student: 'Sunniva Dahlby', exercise: 'Night round', revision: '2', state: 'sent back', late: 'late' },
    ...{ 'open marks': '3', 'answered marks': '1', 'handed in': '2026-11-24T20:00:00.000Z' },
  });
  expect(rows[1]).toMatchObject({ exercise: 'Last ferry', revision: '', state: '', late: '' });
});
