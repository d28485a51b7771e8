import { ROUTES } from '@ypsigraph/contract/routes';
import { group } from 'd3-array';
import { Collapsible } from 'radix-ui';
import { ChevronRight } from 'lucide-react';
import { useMemo, useState } from 'react';
import { sayReading } from '@ypsigraph/core/measure/sentence';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { list } from '@ypsigraph/core/say/words';
import { bodyTopicOf } from '@ypsigraph/core/measure/body-topics';
import { BODY_TOPICS, type BodyTopic } from '@ypsigraph/core/trade/body-topics';
import { readingKind, readingName } from '@ypsigraph/core/measure/registry';
import { verdicts } from '@ypsigraph/core/gauge/gauge';
import { gaugesOf } from '@ypsigraph/contract/gauges-of';
import type { Revision, StoredReport } from '@ypsigraph/contract/shots';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { refreshShot, useReport } from '../../api/data.ts';
import { Button } from '../../kit/button.tsx';
import { WhereOnBody } from '../../kit/where-on-body.tsx';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { useReview } from '../review.ts';
import { showQuantity } from '../traced-signal.ts';
import { type Cell, isQuiet, readingRows, type Row, type RowBeside, rowsBeside, worstOf } from './readings-rows.ts';

/**
 * What was measured, folded away: first watch, then look.
 * @param others revisions seen with it, up to two: their values stand beside its own
 */
export function ReadingsFold({ others }: { others: readonly Revision[] }) {
  const { shot, revision } = useReview();
  const { reading } = revision;
  const { data: report, error } = useReport(revision);
  const { data: beside } = useReport(others[0]);
  const { data: third } = useReport(others[1]);
  const { brief } = shot;
  const topics = useMemo(() => {
    const gauges = gaugesOf(brief);
    const rowsOf = (own: StoredReport | undefined): Row[] =>
      own
        ? readingRows(
            own.readings.filter(({ id }) => !readingKind(id)?.isSize),
            verdicts(gauges, own, revision.stage),
          )
        : [];
    const then = others.flatMap(({ number }, k) => {
      const own = [beside, third][k];
      return own ? [{ number, rows: rowsOf(own) }] : [];
    });
    const rows = rowsBeside(rowsOf(report), then);
    const topicOf = ({ id, left, right, middle, part }: RowBeside) =>
      bodyTopicOf({ id, part: (left ?? right ?? middle)?.reading.part ?? part });
    return BODY_TOPICS.map((topic) => ({
      topic,
      rows: rows.filter((row) => topicOf(row) === topic).sort((a, b) => worstOf(b) - worstOf(a)),
    })).filter((own) => own.rows.length > 0);
  }, [report, beside, third, others, brief, revision.stage]);
  const again = (): Promise<boolean> =>
    attempt(async () => refreshShot(await call(ROUTES.readAgain, { id: revision.id })));
  if (revision.deleted) return null;
  if (reading.state === 'failed') {
    return (
      <div role="alert" className="border-b border-edge px-2.5 py-2 text-sm">
        <p>The file could not be measured: {reading.reason}</p>
        <Button className="mt-1 !min-h-6 text-xs" onClick={() => void again()}>
          Read the file again
        </Button>
      </div>
    );
  }
  if (error && !report) {
    return (
      <p className="border-b border-edge px-2.5 py-2 text-sm text-graphite">
        The readings could not be fetched: {error.message}
      </p>
    );
  }
  if (!report) {
    return (
      <p role="status" className="border-b border-edge px-2.5 py-2 text-sm text-graphite">
        {reading.state === 'read'
          ? 'Loading the readings …'
          : reading.state === 'reading'
            ? 'Measuring …'
            : 'Waiting to be measured …'}
      </p>
    );
  }
  const unmade = [...new Map(report.unmade.map(({ id, why }) => [`${id} ${why}`, { id, why }])).values()];
  return (
    <Collapsible.Root className="border-b border-edge text-xs">
      <Collapsible.Trigger className="group flex w-full items-center gap-1 px-2 py-1.5 hover:bg-wash">
        <ChevronRight size={13} className="transition-transform group-data-[state=open]:rotate-90" />
        Readings
        {others.length > 0 && (
          <span className="text-graphite">beside {list(others.map(({ number }) => `R${number}`))}</span>
        )}
        <span className="ml-auto text-graphite">{report.readings.length} made</span>
      </Collapsible.Trigger>
      <Collapsible.Content className="pb-2" data-testid="readings">
        <table className="w-full table-fixed border-collapse">
          <thead className="sr-only">
            <tr>
              <th>Reading</th>
              <th>Left</th>
              <th>Right</th>
            </tr>
          </thead>
          {topics.map(({ topic, rows }) => (
            <TopicRows key={topic} topic={topic} rows={rows} />
          ))}
        </table>
        {unmade.length > 0 && (
          <ul className="mt-1 text-graphite">
            {unmade.map(({ id, why }) => (
              <li key={`${id} ${why}`} className="px-2 py-0.5">
                {readingName(id)}: not made, {why}
              </li>
            ))}
          </ul>
        )}
        {report.warnings.map((warning) => (
          <p key={warning} className="px-2 py-0.5 text-graphite">
            {warning}
          </p>
        ))}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}

/** The readings of one part of a body: what is outside or near at once, all of them by a click. */
function TopicRows({ topic, rows }: { topic: BodyTopic; rows: readonly RowBeside[] }) {
  const [outside, near] = [2, 1].map((rank) => rows.filter((row) => worstOf(row) === rank).length);
  const [all, setAll] = useState(false);
  const shown = all ? rows : rows.filter((row) => worstOf(row) > 0);
  return (
    <tbody>
      <tr>
        <th colSpan={3} className="border-t border-edge bg-paper p-0 text-left">
          <button
            type="button"
            aria-expanded={all}
            className="flex min-h-6 w-full items-center gap-1.5 px-2 hover:bg-wash"
            onClick={() => setAll(!all)}
          >
            <WhereOnBody topic={topic} />
            <span className="font-display font-semibold">{topic}</span>
            <span className="ml-auto font-normal text-graphite">
              {[
                outside! > 0 && `${outside} outside`,
                near! > 0 && `${near} near`,
                rows.length > outside! + near! &&
                  `${rows.length - outside! - near!} ${outside! + near! > 0 ? 'more' : 'inside or without a band'}`,
              ]
                .filter(Boolean)
                .join(', ')}
            </span>
          </button>
        </th>
      </tr>
      {shown
        .filter((row) => !isQuiet(row))
        .map((row) => (
          <ReadingRow key={`${row.id} ${row.part}`} row={row} />
        ))}
      {[...group(shown.filter(isQuiet), ({ name }) => name)].map(([name, quiet]) => (
        <tr key={name} className="border-t border-edge/60 text-graphite">
          <td colSpan={3} className="px-2 py-0.5">
            {name}: none
            {quiet[0]!.part !== '' && `, on ${quiet.map(({ part }) => partLabel(part)).join(', ')}`}
          </td>
        </tr>
      ))}
    </tbody>
  );
}

/** Whether a row must say its part: not where its sides, or its name, say it. */
const saysPart = ({ part, name, left, right }: Row): boolean =>
  part !== '' && !left && !right && !name.includes(part === 'spine' ? 'trunk' : partLabel(part));

/** A part, or a role without its side, in plain words: “upper arm”. */
function ReadingRow({ row }: { row: RowBeside }) {
  const [open, setOpen] = useState(false);
  const { middle, then } = row;
  const cells = cellsOf(row);
  return (
    <>
      <tr className="border-t border-edge/60 align-top hover:bg-wash">
        <th scope="row" className="w-[42%] px-2 text-left font-normal">
          <button
            type="button"
            aria-expanded={open}
            className="min-h-6 min-w-6 text-left"
            onClick={() => setOpen(!open)}
          >
            {row.name}
            {saysPart(row) && <span className="text-graphite"> {partLabel(row.part)}</span>}
          </button>
        </th>
        {middle || then.some((own) => own.middle !== undefined) ? (
          <td colSpan={2} className="px-1 py-0.5">
            {middle ? <Value cell={middle} /> : <NotMade />}
            <ThenValues then={then} of="middle" />
          </td>
        ) : (
          (['left', 'right'] as const).map((side) => (
            <td key={side} className="px-1">
              {row[side] ? (
                <Value cell={row[side]} side={side === 'left' ? 'L' : 'R'} />
              ) : (
                cells.length === 0 && <NotMade />
              )}
              <ThenValues then={then} of={side} />
            </td>
          ))
        )}
      </tr>
      {open && (
        <tr>
          <td colSpan={3} className="px-2 pb-1 text-graphite">
            {cells.map((cell, k) => (
              <p key={k}>{sayReading(cell.reading, cell.told)}.</p>
            ))}
          </td>
        </tr>
      )}
    </>
  );
}

const cellsOf = ({ left, right, middle }: Row): Cell[] => [left, right, middle].filter((cell) => cell !== undefined);

/** What only the other revision has. */
const NotMade = () => <span className="block min-h-6 text-graphite">not made</span>;

/** What the other revisions have there. */
function ThenValues({ then, of }: { then: RowBeside['then']; of: 'left' | 'right' | 'middle' }) {
  const told = then.filter((own) => own[of] !== undefined);
  if (told.length === 0) return null;
  return (
    <ul className="pb-0.5 text-2xs text-graphite">
      {told.map((own) => (
        <li key={own.number} className="frame-number whitespace-nowrap">
          R{own.number} {own[of]}
        </li>
      ))}
    </ul>
  );
}

/** A value with where it lies against its band; a click goes to the frame of the worst, and puts the quantity it is of on the trace and the paper. */
function Value({ cell, side }: { cell: Cell; side?: 'L' | 'R' }) {
  const clock = useClock();
  const [frame] = cell.frames;
  const quantity = readingKind(cell.reading.id)?.quantity;
  const key = `${cell.reading.id} ${cell.reading.part ?? ''}`;
  return (
    <button
      type="button"
      disabled={frame === undefined && !quantity}
      onClick={() => {
        if (frame !== undefined) clock.seek(frame);
        if (quantity) showQuantity({ quantity: quantity.quantity, of: quantity.of(cell.reading.part) });
      }}
      onPointerEnter={() => useDesk.getState().set({ lit: key })}
      onPointerLeave={() => useDesk.getState().set({ lit: null })}
      className="min-h-6 w-full text-left disabled:cursor-default"
      title={cell.spread ? `${cell.times} times, ${cell.spread}` : undefined}
    >
      <span className="frame-number whitespace-nowrap">
        {side && <span className="text-graphite">{side} </span>}
        {cell.text}
        {cell.times > 1 && <span className="text-graphite"> ×{cell.times}</span>}
      </span>
      {cell.line && <NumberLine {...cell.line} judgement={cell.judgement} />}
    </button>
  );
}

interface LineProps {
  readonly at: number;
  readonly low: number;
  readonly high: number;
  readonly judgement: Cell['judgement'];
}

function NumberLine({ at, low, high, judgement }: LineProps) {
  const w = 58;
  return (
    <svg width={w + 8} height={9} viewBox={`-4 0 ${w + 8} 9`} className="block" role="img" aria-label={judgement ?? ''}>
      <line x2={w} y1={4.5} y2={4.5} stroke="var(--edge-strong)" />
      <line x1={low * w} x2={high * w} y1={4.5} y2={4.5} stroke="var(--graphite)" strokeWidth={3} />
      <circle
        cx={at * w}
        cy={4.5}
        r={3}
        stroke="var(--ink)"
        strokeWidth={1.4}
        fill={judgement === 'inside' ? 'var(--ink)' : 'var(--sheet)'}
      />
      {judgement === 'near' && <path d={`M${at * w} 1.5A3 3 0 0 1 ${at * w} 7.5Z`} fill="var(--ink)" />}
    </svg>
  );
}
