import { createColumnHelper, flexRender, getCoreRowModel, useReactTable } from '@tanstack/react-table';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { mutate } from 'swr';
import type { Assignment, Ledger, LedgerCell } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { attempt } from '../api/attempt.ts';
import { send } from '../api/client.ts';
import { useCohorts, useLedger } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Select } from '../kit/select.tsx';
import { Empty, Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';
import { saveText } from '../kit/save-text.ts';
import { AssignDialog } from './assign-dialog.tsx';
import { ledgerTable } from './ledger-table.ts';

/** Cohort × exercises: where everybody stands. */
export function LedgerPage({ person }: { person: Person }) {
  const { cohort: chosen } = useParams();
  const { data: cohorts, error: cohortError } = useCohorts();
  const id = chosen ?? cohorts?.[0]?.id;
  const { data: ledger, error, mutate: again } = useLedger(id);
  const [assigning, setAssigning] = useState(false);
  const navigate = useNavigate();
  const failure = cohortError ?? error;
  if (failure && !ledger) return <Failed error={failure} again={() => void again()} />;
  if (!cohorts || !id || !ledger) return <Waiting />;
  const instructor = person.role === 'instructor';
  return (
    <main className="px-6 py-5">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Ledger</h1>
        <Select
          label="Cohort"
          value={id}
          onChange={(value) => void navigate(`/ledger/${value}`)}
          options={cohorts.map((cohort) => ({ value: cohort.id, text: `${cohort.name}, ${cohort.students} students` }))}
        />
        {instructor && <Button onClick={() => setAssigning(true)}>Set an exercise</Button>}
        <Button look="quiet" onClick={() => saveText(ledgerTable(ledger), `ledger ${ledger.cohort.name}.csv`)}>
          As a table (CSV)
        </Button>
        <Key />
      </div>
      {ledger.assignments.length === 0 ? (
        <Empty title="Nothing is set for this cohort yet">Set an exercise, and a column for it appears here.</Empty>
      ) : (
        <Table ledger={ledger} instructor={instructor} />
      )}
      {assigning && (
        <AssignDialog
          cohort={ledger.cohort}
          taken={ledger.assignments}
          onOpenChange={setAssigning}
          onDone={() => void again()}
        />
      )}
    </main>
  );
}

/** A shape for each state, so that a column can be read without colour. */
const SIGNS: Record<string, string> = {
  'handed in': '◔',
  'on the desk': '◑',
  'sent back': '↩',
  'signed off': '●',
  withdrawn: '×',
};

function Key() {
  return (
    <ul className="ml-auto flex gap-4 text-xs text-graphite">
      {Object.entries(SIGNS).map(([state, sign]) => (
        <li key={state}>
          <span className="mr-1 text-ink">{sign}</span>
          {state}
        </li>
      ))}
      <li>
        <span className="mr-1 text-ink">·</span>nothing yet
      </li>
    </ul>
  );
}

type Row = Ledger['rows'][number];
const column = createColumnHelper<Row>();

function Table({ ledger, instructor }: { ledger: Ledger; instructor: boolean }) {
  const columns = useMemo(
    () => [
      column.accessor((row) => row.student.name, {
        id: 'student',
        header: 'Student',
        cell: (info) => <span className="font-semibold">{info.getValue()}</span>,
      }),
      ...ledger.assignments.map((assignment) =>
        column.accessor((row) => row.cells.find((cell) => cell.assignment === assignment.id), {
          id: assignment.id,
          header: () => <Heading assignment={assignment} instructor={instructor} cohort={ledger.cohort.id} />,
          cell: (info) => <Cell cell={info.getValue()} />,
        }),
      ),
    ],
    [ledger, instructor],
  );
  const table = useReactTable({ data: ledger.rows, columns, getCoreRowModel: getCoreRowModel() });
  return (
    <div className="overflow-x-auto">
      <table className="border-collapse text-left">
        <thead>
          {table.getHeaderGroups().map((group) => (
            <tr key={group.id} className="border-b border-edge-strong align-bottom">
              {group.headers.map((header) => (
                <th key={header.id} scope="col" className="min-w-36 py-1 pr-4 font-normal">
                  {flexRender(header.column.columnDef.header, header.getContext())}
                </th>
              ))}
            </tr>
          ))}
        </thead>
        <tbody>
          {table.getRowModel().rows.map((row) => (
            <tr key={row.id} className="border-b border-edge hover:bg-wash">
              {row.getVisibleCells().map((cell) => (
                <td key={cell.id} className="py-1 pr-4">
                  {flexRender(cell.column.columnDef.cell, cell.getContext())}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Heading({ assignment, instructor, cohort }: { assignment: Assignment; instructor: boolean; cohort: string }) {
  const toggle = (): Promise<boolean> =>
    attempt(async () => {
      await send('PATCH', `/api/assignments/${assignment.id}`, { closed: assignment.closed === null });
      await mutate(`/api/cohorts/${cohort}/ledger`);
    });
  return (
    <span className="block">
      <span className="block font-semibold">{assignment.brief.title}</span>
      <span className="block text-xs text-graphite">
        {assignment.brief.kind}, due {day(assignment.due)}
      </span>
      {instructor && (
        <button
          type="button"
          className="text-xs text-graphite underline underline-offset-2"
          onClick={() => void toggle()}
        >
          {assignment.closed ? 'closed: open again' : 'close'}
        </button>
      )}
    </span>
  );
}

function Cell({ cell }: { cell: LedgerCell | undefined }) {
  if (!cell?.revision || !cell.shot) {
    return <span className="text-graphite">· {cell?.late && <span className="text-xs">overdue</span>}</span>;
  }
  const { revision, openMarks, answeredMarks, late } = cell;
  return (
    <Link
      to={`/desk/${cell.shot}`}
      className="inline-flex flex-wrap items-baseline gap-x-2 whitespace-nowrap underline-offset-2 hover:underline"
      title={`${revision.stage}, ${day(revision.at)}`}
    >
      <span aria-hidden className="w-4 text-center">
        {SIGNS[revision.state]}
      </span>
      <span className="frame-number">R{revision.number}</span>
      <span>{revision.state}</span>
      {(openMarks > 0 || answeredMarks > 0) && revision.state !== 'signed off' && (
        <span className="text-xs text-graphite">
          {[openMarks > 0 && `${openMarks} open`, answeredMarks > 0 && `${answeredMarks} answered`]
            .filter(Boolean)
            .join(', ')}
        </span>
      )}
      {late && <span className="text-xs">late</span>}
    </Link>
  );
}
