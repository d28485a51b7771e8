import { Link } from 'react-router';
import type { DocketEntry } from '@ypsigraph/contract/courses';
import { useDocket } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Empty, Failed, Waiting } from '../kit/states.tsx';
import { day, waits } from '../kit/when.ts';

/** What waits for a review: late shots first, then the longest-waiting. */
export function DocketPage() {
  const { data: pages, error, mutate, size, setSize } = useDocket();
  if (error && !pages) return <Failed error={error} again={() => void mutate()} />;
  if (!pages) return <Waiting />;
  const data = pages.flatMap(({ entries }) => entries);
  const { waiting, late } = pages[0] ?? { waiting: 0, late: 0 };
  if (data.length === 0) {
    return (
      <Empty title="Nothing waits for you">
        Shots come here when students hand them in. Set an exercise from the{' '}
        <Link className="underline" to="/ledger">
          ledger
        </Link>
        .
      </Empty>
    );
  }
  return (
    <main className="mx-auto max-w-5xl px-6 py-5">
      <h1 className="text-2xl">Docket</h1>
      <p className="mb-3 text-graphite">
        {waiting} {waiting === 1 ? 'shot waits' : 'shots wait'}
        {late > 0 && `, ${late} of them handed in late`}. Late ones first, then the longest-waiting.
      </p>
      <table className="w-full border-collapse text-left">
        <thead className="border-b border-edge-strong text-xs text-graphite">
          <tr>
            <th className="py-1 pr-3 font-semibold">Student</th>
            <th className="py-1 pr-3 font-semibold">Exercise</th>
            <th className="py-1 pr-3 font-semibold">Revision</th>
            <th className="py-1 pr-3 font-semibold">Stage</th>
            <th className="py-1 pr-3 font-semibold">Waiting</th>
            <th className="py-1 pr-3 font-semibold">Marks</th>
            <th className="py-1 font-semibold">State</th>
          </tr>
        </thead>
        <tbody>
          {data.map((entry) => (
            <Row key={entry.revision} entry={entry} />
          ))}
        </tbody>
      </table>
      {pages.at(-1)?.next && (
        <p className="py-3 text-center">
          <Button onClick={() => void setSize(size + 1)}>The next of {waiting - data.length} more</Button>
        </p>
      )}
    </main>
  );
}

function Row({ entry }: { entry: DocketEntry }) {
  const { answers, open } = entry;
  return (
    <tr className="group border-b border-edge align-baseline hover:bg-wash">
      <td className="py-1.5 pr-3">
        <Link to={`/desk/${entry.shot}`} className="font-semibold underline-offset-2 group-hover:underline">
          {entry.student.name}
        </Link>
        <span className="ml-2 text-xs text-graphite">{entry.cohort.name}</span>
      </td>
      <td className="py-1.5 pr-3">{entry.exercise}</td>
      <td className="frame-number py-1.5 pr-3">R{entry.number}</td>
      <td className="py-1.5 pr-3">{entry.stage}</td>
      <td className="py-1.5 pr-3" title={`handed in ${day(entry.handedIn)}, due ${day(entry.due)}`}>
        {waits(entry.handedIn)}
        {entry.late && <span className="ml-2 rounded-sm border border-ink px-1 text-2xs font-semibold">late</span>}
      </td>
      <td className="py-1.5 pr-3">
        {answers > 0 && <span className="mr-2 text-student">{answers} answered</span>}
        {open > 0 && <span className="text-instructor">{open} open</span>}
      </td>
      <td className="py-1.5">
        {entry.state}
        {entry.readings === 'failed' && <span className="ml-2 font-semibold">can’t be measured</span>}
        {(entry.readings === 'queued' || entry.readings === 'reading') && (
          <span className="ml-2 text-graphite">being measured</span>
        )}
      </td>
    </tr>
  );
}
