import { ROUTES } from '@ypsigraph/contract/routes';
import { createColumnHelper, flexRender, getCoreRowModel, useReactTable } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { Link, useLocation } from 'react-router';
import type { AssignmentHead, Ledger, LedgerCell } from '@ypsigraph/contract/courses';
import type { Person } from '@ypsigraph/contract/people';
import { attempt } from '../api/attempt.ts';
import { call } from '../api/client.ts';
import { SmallShot, useLooking } from './small-shot.tsx';
import { useLedger, again } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Failed, Waiting } from '../kit/states.tsx';
import { day } from '../kit/when.ts';
import { saveText } from '../kit/save-text.ts';
import { STATE_SIGNS } from '../kit/signs.ts';
import { useGridKeys } from '../kit/use-grid-keys.ts';
import { AssignDialog } from './assign-dialog.tsx';
import { DatesDialog } from './dates-dialog.tsx';
import { FirstSteps } from './first-steps.tsx';
import { saveGrades } from './grades-table.ts';
import { ledgerTable } from './ledger-table.ts';
import { CohortChoice, useChosenCohort } from './chosen-cohort.tsx';
import { OfCohort } from './of-cohort.tsx';

/** Saves the ledger as a table; that it was taken away is written down. */
const saveLedger = (ledger: Ledger): Promise<boolean> =>
  attempt(async () => {
    await call(ROUTES.noteLedgerExport, { id: ledger.cohort.id });
    saveText(ledgerTable(ledger), `ledger ${ledger.cohort.name}.csv`);
  });

/** Cohort × exercises: where everybody stands. */
export function LedgerPage({ person }: { person: Person }) {
  const { cohorts, id, error: cohortError } = useChosenCohort();
  const { data: ledger, error, mutate: again } = useLedger(id);
  const { state } = useLocation() as { state: { set?: boolean } | null };
  // Whoever comes here to set an exercise is asked which.
  const [assigning, setAssigning] = useState(state?.set ?? false);
  const failure = cohortError ?? error;
  if (failure && (!ledger || ledger.cohort.id !== id)) return <Failed error={failure} again={() => void again()} />;
  if (cohorts?.length === 0)
    return (
      <main className="px-6 py-5">
        <h1 className="text-2xl">Ledger</h1>
        <FirstSteps person={person} />
      </main>
    );
  if (!cohorts || !id || !ledger) return <Waiting />;
  const instructor = person.role === 'instructor';
  return (
    <main className="px-6 py-5">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Ledger</h1>
        <CohortChoice page="/ledger" cohorts={cohorts} value={id} />
        <OfCohort chosen={id} shown={ledger.cohort.id} className="flex flex-wrap items-center gap-3">
          {instructor && <Button onClick={() => setAssigning(true)}>Set an exercise</Button>}
          <Button look="quiet" onClick={() => void saveLedger(ledger)}>
            As a table (CSV)
          </Button>
          <Button look="quiet" onClick={() => void saveGrades(ledger.cohort)}>
            Grades (CSV)
          </Button>
        </OfCohort>
        <Key />
      </div>
      <OfCohort chosen={id} shown={ledger.cohort.id}>
        {ledger.assignments.length === 0 ? (
          <FirstSteps person={person} cohort={id} />
        ) : (
          <Table ledger={ledger} instructor={instructor} />
        )}
      </OfCohort>
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

function Key() {
  return (
    <ul className="ml-auto flex gap-4 text-xs text-graphite">
      {Object.entries(STATE_SIGNS).map(([state, sign]) => (
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
/** Height of a row, pixels. */
const ROW = 54;

/** Every student's line; only those in sight are drawn, and the arrow keys go from cell to cell. */
function Table({ ledger, instructor }: { ledger: Ledger; instructor: boolean }) {
  // Headings are made anew whenever the ledger is: what is open belongs to none of them.
  const [dates, setDates] = useState<string>();
  const columns = useMemo(
    () => [
      column.accessor((row) => row.student.name, {
        id: 'student',
        header: 'Student',
        cell: ({ row }) => (
          <Link
            tabIndex={-1}
            className="font-semibold underline-offset-2 hover:underline"
            to={`/folio/${row.original.student.id}?cohort=${ledger.cohort.id}`}
          >
            {row.original.student.name}
          </Link>
        ),
      }),
      ...ledger.assignments.map((assignment) =>
        column.accessor((row) => row.cells.find((cell) => cell.assignment === assignment.id), {
          id: assignment.id,
          header: () => (
            <Heading assignment={assignment} instructor={instructor} onDates={() => setDates(assignment.id)} />
          ),
          cell: (info) => <Cell cell={info.getValue()} />,
        }),
      ),
    ],
    [ledger, instructor],
  );
  const table = useReactTable({ data: ledger.rows, columns, getCoreRowModel: getCoreRowModel() });
  const scroller = useRef<HTMLDivElement>(null);
  const { rows } = table.getRowModel();
  // The table's own state is read anew with every scroll: nothing of it may be kept by a compiler.
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const seen = virtual.getVirtualItems();
  const before = seen[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (seen.at(-1)?.end ?? 0);
  const keys = useGridKeys(rows.length, columns.length, (row) => virtual.scrollToIndex(row));
  return (
    <>
      <div ref={scroller} className="max-h-[calc(100vh-9rem)] overflow-auto" data-testid="ledger">
        <table
          role="grid"
          aria-rowcount={rows.length + 1}
          className="border-collapse text-left"
          onKeyDown={keys.onKeyDown}
        >
          <thead className="sticky top-0 z-10 bg-paper">
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id} className="border-b border-edge-strong align-bottom">
                {group.headers.map((header) => (
                  <th
                    key={header.id}
                    scope="col"
                    className="min-w-36 py-1 pr-4 font-normal first:sticky first:left-0 first:bg-paper"
                  >
                    {flexRender(header.column.columnDef.header, header.getContext())}
                  </th>
                ))}
              </tr>
            ))}
          </thead>
          <tbody>
            {before > 0 && <tr aria-hidden style={{ height: before }} />}
            {seen.map(({ index }) => (
              <tr
                key={rows[index]!.id}
                aria-rowindex={index + 2}
                style={{ height: ROW }}
                className="group border-b border-edge hover:bg-wash"
              >
                {rows[index]!.getVisibleCells().map((cell, at) => (
                  <td
                    key={cell.id}
                    role="gridcell"
                    {...keys.cell(index, at)}
                    className={`py-1 pr-4 whitespace-nowrap ${at === 0 ? 'sticky left-0 bg-paper group-hover:bg-wash' : ''}`}
                  >
                    {flexRender(cell.column.columnDef.cell, cell.getContext())}
                  </td>
                ))}
              </tr>
            ))}
            {after > 0 && <tr aria-hidden style={{ height: after }} />}
          </tbody>
        </table>
      </div>
      {dates && <DatesDialog id={dates} onOpenChange={() => setDates(undefined)} />}
    </>
  );
}

interface HeadingProps {
  readonly assignment: AssignmentHead;
  readonly instructor: boolean;
  readonly onDates: () => void;
}

function Heading({ assignment, instructor, onDates }: HeadingProps) {
  const toggle = (): Promise<boolean> =>
    attempt(async () => {
      await call(ROUTES.changeAssignment, { id: assignment.id }, { closed: assignment.closed === null });
      await again(ROUTES.ledger);
    });
  return (
    <span className="block">
      <Link className="block font-semibold underline-offset-2 hover:underline" to={`/exercise/${assignment.id}`}>
        {assignment.brief.title}
      </Link>
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
      {instructor && (
        <button type="button" className="ml-3 text-xs text-graphite underline underline-offset-2" onClick={onDates}>
          dates
        </button>
      )}
    </span>
  );
}

function Cell({ cell }: { cell: LedgerCell | undefined }) {
  if (!cell?.revision || !cell.shot) {
    return <span className="text-graphite">· {cell?.late && <span className="text-xs">overdue</span>}</span>;
  }
  return <Standing cell={cell} revision={cell.revision} />;
}

function Standing({ cell, revision }: { cell: LedgerCell; revision: NonNullable<LedgerCell['revision']> }) {
  const { openMarks, answeredMarks, late } = cell;
  const [looking, look] = useLooking();
  return (
    <Link
      tabIndex={-1}
      to={`/desk/${cell.shot}`}
      className="inline-flex items-center gap-x-2 whitespace-nowrap underline-offset-2 hover:underline"
      title={`${revision.stage}, ${day(revision.at)}`}
      {...look}
    >
      <SmallShot revision={revision.id} moving={looking} />
      <span aria-hidden className="w-4 text-center">
        {STATE_SIGNS[revision.state]}
      </span>
      <span className="frame-number">R{revision.number}</span>
      <span>{revision.state}</span>
      {revision.state !== 'signed off' && <span className="text-xs text-graphite">{revision.stage}</span>}
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
