import { scaleLinear } from 'd3-scale';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { Tally, TallyEntry } from '@ypsigraph/contract/folios';
import { SmallShot, useLooking } from '../small-shot.tsx';
import type { Person } from '@ypsigraph/contract/people';
import { readingKind, readingName } from '@ypsigraph/core/measure/registry';
import { useTally } from '../../api/data.ts';
import { Empty, Failed, Waiting } from '../../kit/states.tsx';
import { cellText, type TallyCell, tallyRows, type TallyRow } from './tally-facts.ts';
import { CohortChoice, useChosenCohort } from '../chosen-cohort.tsx';
import { FirstSteps } from '../first-steps.tsx';
import { OfCohort } from '../of-cohort.tsx';

/** The faults a cohort shares, by exercise and over the term, with the shots behind each: what the next lesson is about. */
export function TallyPage({ person }: { person: Person }) {
  const { cohorts, id, error: cohortError } = useChosenCohort();
  const { data: tally, error, mutate } = useTally(id);
  const [open, setOpen] = useState<{ reading: string; assignment: string | null }>();
  const rows = useMemo(() => (tally ? tallyRows(tally) : []), [tally]);
  const failure = cohortError ?? error;
  if (failure && (!tally || tally.cohort.id !== id)) return <Failed error={failure} again={() => void mutate()} />;
  if (cohorts?.length === 0)
    return (
      <main className="px-6 py-5">
        <h1 className="text-2xl">Tally</h1>
        <FirstSteps person={person} />
      </main>
    );
  if (!cohorts || !id || !tally) return <Waiting />;
  const shown = rows.find(({ reading }) => reading === open?.reading) ?? rows[0];
  return (
    <main className="px-6 py-5">
      <div className="mb-1 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Tally</h1>
        <CohortChoice page="/tally" cohorts={cohorts} value={id} />
        <OfCohort chosen={id} shown={tally.cohort.id}>
          <Lead tally={tally} rows={rows} />
        </OfCohort>
      </div>
      {!shown ? (
        <Empty title="Nothing to tally yet">
          When shots of this cohort have been measured, the faults they share stand here.
        </Empty>
      ) : (
        <OfCohort chosen={id} shown={tally.cohort.id} className="grid grid-cols-[minmax(0,1fr)_24rem] gap-8">
          <div className="overflow-x-auto">
            <Table
              tally={tally}
              rows={rows}
              open={{ reading: shown.reading, assignment: open?.assignment ?? null }}
              onOpen={setOpen}
            />
            <Kinds tally={tally} />
          </div>
          <Behind row={shown} tally={tally} assignment={open?.assignment ?? null} />
        </OfCohort>
      )}
    </main>
  );
}

/** What stands out, in a sentence. */
function Lead({ tally, rows: [first] }: { tally: Tally; rows: readonly TallyRow[] }) {
  if (!first || first.students === 0) return null;
  return (
    <p className="text-graphite" data-testid="lead">
      <span className="font-semibold text-ink">{readingName(first.reading)}</span>: {first.students} of {tally.students}{' '}
      students show it on a newest revision.
    </p>
  );
}

interface TableProps {
  readonly tally: Tally;
  readonly rows: readonly TallyRow[];
  readonly open: { readonly reading: string; readonly assignment: string | null };
  readonly onOpen: (open: { reading: string; assignment: string | null }) => void;
}

function Table({ tally, rows, open, onOpen }: TableProps) {
  return (
    <table className="w-full border-collapse text-left text-sm">
      <thead>
        <tr className="border-b border-edge-strong align-bottom text-xs">
          <th scope="col" className="py-1 pr-3 font-semibold text-graphite">
            Fault
          </th>
          <th scope="col" className="py-1 pr-3 font-semibold text-graphite">
            Students
          </th>
          {tally.assignments.map(({ id, brief, shots, measured, signedOff }) => (
            <th
              key={id}
              scope="col"
              className="max-w-24 py-1 pr-3 font-semibold"
              title={`${shots} shots, ${measured} measured, ${signedOff} signed off`}
            >
              {brief.title}
              <span className="block font-normal text-graphite">
                {signedOff} of {shots} signed off
              </span>
            </th>
          ))}
          <th scope="col" className="py-1 font-semibold text-graphite">
            Marks
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr
            key={row.reading}
            className={`border-b border-edge hover:bg-wash ${row.reading === open.reading ? 'bg-wash' : ''}`}
          >
            <th scope="row" className="py-1 pr-3 font-normal whitespace-nowrap">
              <button
                type="button"
                aria-pressed={row.reading === open.reading && open.assignment === null}
                className="min-h-6 text-left underline-offset-2 hover:underline"
                onClick={() => onOpen({ reading: row.reading, assignment: null })}
              >
                {readingName(row.reading)}
              </button>
            </th>
            <td className="frame-number py-1 pr-3">{row.students}</td>
            {row.cells.map((cell, k) => {
              const { id, brief } = tally.assignments[k]!;
              return (
                <td key={id} className="py-0.5 pr-3">
                  {cell.entry && (
                    <button
                      type="button"
                      className="block min-h-6 w-full rounded-sm"
                      title={cellText(cell)}
                      aria-label={`${readingName(row.reading)}, ${brief.title}: ${cellText(cell)}`}
                      aria-pressed={row.reading === open.reading && open.assignment === id}
                      onClick={() => onOpen({ reading: row.reading, assignment: id })}
                    >
                      <Share cell={cell} />
                    </button>
                  )}
                </td>
              );
            })}
            <td className="frame-number py-1">{row.marks || ''}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const WIDTH = 44;

/** The share of measured shots on which it lies outside, and, paler behind it, near. */
function Share({ cell: { outside, near, of } }: { cell: TallyCell }) {
  const x = scaleLinear([0, Math.max(of, 1)], [0, WIDTH]);
  return (
    <svg aria-hidden width={WIDTH + 40} height={14} className="block">
      <rect x={0} y={6} width={WIDTH} height={1} fill="var(--edge-strong)" />
      <rect x={0} y={3} width={x(outside + near)} height={8} fill="var(--edge-strong)" />
      <rect x={0} y={1} width={x(outside)} height={12} fill="var(--ink)" opacity={0.8} />
      <text x={WIDTH + 5} y={11} className="frame-number fill-graphite text-[11px]">
        {outside}/{of}
      </text>
    </svg>
  );
}

/** The shots behind a fault. */
function Behind({ row, tally, assignment }: { row: TallyRow; tally: Tally; assignment: string | null }) {
  const groups = row.cells.flatMap((cell, k) => {
    const own = tally.assignments[k]!;
    return cell.entry && (assignment === null || own.id === assignment) ? [{ own, cell, entry: cell.entry }] : [];
  });
  return (
    <section aria-label="Shots behind it" className="border-l border-edge-strong pl-5 text-sm">
      <h2 className="text-lg">{readingName(row.reading)}</h2>
      <p className="text-xs text-graphite">{readingKind(row.reading)?.needs}</p>
      {groups.map(({ own, cell, entry }) => (
        <div key={own.id} className="mt-3">
          <h3 className="font-semibold">
            {own.brief.title} <span className="font-normal text-graphite">{cellText(cell)}</span>
          </h3>
          <ul>
            {entry.shots.map((own) => (
              <Shown key={own.shot} shot={own} />
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

/** A shot that shows a fault. */
function Shown({ shot: { shot, student, revision, say, judgement } }: { shot: TallyEntry['shots'][number] }) {
  const [looking, look] = useLooking();
  return (
    <li className="mt-1.5 flex gap-2" {...look}>
      <SmallShot revision={revision.id} moving={looking} />
      <span>
        <Link to={`/desk/${shot}`} className="font-semibold underline-offset-2 hover:underline">
          {student.name}
        </Link>{' '}
        <span className="frame-number">R{revision.number}</span>{' '}
        <span role="img" aria-label={judgement}>
          {judgement === 'near' ? '◐' : '○'}
        </span>{' '}
        <span className="text-graphite">{say}</span>
      </span>
    </li>
  );
}

/** Marks of each kind, raised and cleared. */
function Kinds({ tally }: { tally: Tally }) {
  const kinds = [...new Set(tally.kinds.map(({ kind }) => kind))];
  if (kinds.length === 0) return null;
  const sum = (kind: string, key: 'raised' | 'cleared'): number =>
    tally.kinds.filter((own) => own.kind === kind).reduce((total, own) => total + own[key], 0);
  return (
    <section aria-label="Marks by kind" className="mt-6 text-sm">
      <h2 className="text-lg">Marks by kind</h2>
      <ul className="flex flex-wrap gap-x-6 gap-y-1">
        {kinds
          .toSorted((a, b) => sum(b, 'raised') - sum(a, 'raised'))
          .map((kind) => (
            <li key={kind}>
              {kind}: <span className="frame-number">{sum(kind, 'raised')}</span> raised, {sum(kind, 'cleared')} cleared
            </li>
          ))}
      </ul>
    </section>
  );
}
