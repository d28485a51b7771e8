import { useMemo, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import type { Mark } from '@ypsigraph/contract/marks';
import { useShot } from '../../api/data.ts';
import { TimingChart } from '../../charts/timing-chart.tsx';
import type { FrameSource } from '../../desk/frames/frame-source.ts';
import { KindSign } from '../../desk/marks/kinds/registry.tsx';
import { useSource } from '../../desk/use-source.ts';
import { Button } from '../../kit/button.tsx';
import { saveBlob } from '../../kit/save-text.ts';
import { Failed, Waiting } from '../../kit/states.tsx';
import { day } from '../../kit/when.ts';
import { type Drawing, markDrawing, type StrokeOf } from './drawing.ts';
import { sheetOf, type SheetMark } from './sheet-facts.ts';

/** A revision's marks on paper: for printing, and as a PDF. */
export function SheetPage() {
  const { id } = useParams();
  const [search] = useSearchParams();
  const { data: shot, error } = useShot(id);
  const standing = shot?.revisions.filter(({ state }) => state !== 'withdrawn') ?? [];
  const revision = standing.find(({ number }) => String(number) === search.get('r')) ?? standing.at(-1);
  const { source, error: unread } = useSource(shot, revision);
  const [busy, setBusy] = useState(false);
  const sheet = useMemo(
    () => (shot && revision ? sheetOf(shot, revision, (mark) => (source ? seenIn(source, mark) : {}), day) : undefined),
    [shot, revision, source],
  );
  if (error && !shot) return <Failed error={error} />;
  if (!shot || !revision || !sheet) return <Waiting />;
  const name = `${sheet.title} ${sheet.student} R${revision.number}`.toLowerCase().replaceAll(' ', '-');
  const save = async (): Promise<void> => {
    setBusy(true);
    try {
      const { sheetPdf } = await import('./sheet-pdf.ts');
      const { loadFonts } = await import('./sheet-fonts.ts');
      saveBlob(new Blob([await sheetPdf(sheet, await loadFonts(sheet))], { type: 'application/pdf' }), `${name}.pdf`);
    } catch (caught) {
      toast.error(`The PDF could not be made: ${caught instanceof Error ? caught.message : String(caught)}`);
    } finally {
      setBusy(false);
    }
  };
  const ready = source !== undefined || unread !== undefined;
  return (
    <main className="mx-auto max-w-3xl px-6 py-5 print:max-w-none print:p-0" data-testid="sheet" data-ready={ready}>
      <div className="mb-4 flex items-center gap-3 print:hidden">
        <Link to={`/desk/${shot.id}`} className="text-sm underline underline-offset-2">
          The shot
        </Link>
        <Button className="ml-auto" onClick={() => window.print()}>
          Print
        </Button>
        <Button look="strong" disabled={busy || !ready} onClick={() => void save()}>
          As a PDF
        </Button>
      </div>
      <header className="border-b-2 border-ink pb-2">
        <h1 className="text-2xl">
          {sheet.title}: {sheet.student}
        </h1>
        <p className="text-graphite">
          {sheet.about}; {sheet.from}
        </p>
      </header>
      {sheet.words && <p className="mt-3 whitespace-pre-wrap">{sheet.words}</p>}
      {sheet.asked && <p className="mt-2 font-semibold">Next: {sheet.asked}</p>}
      {unread && <p className="mt-2 text-sm text-graphite">Its frames can’t be drawn: {unread}</p>}
      {sheet.marks.length === 0 ? (
        <p className="mt-4 text-graphite">There are no marks on it.</p>
      ) : (
        <ol className="mt-3">
          {sheet.marks.map((mark) => (
            <Entry key={mark.id} mark={mark} />
          ))}
        </ol>
      )}
    </main>
  );
}

/** What a mark's frame looks like: drawn anew from a motion, or the picture itself. */
function seenIn(source: FrameSource, mark: Mark): { drawing?: Drawing | undefined; picture?: string | undefined } {
  if (source.figure) return { drawing: markDrawing(source.figure.shown, mark) };
  const canvas = document.createElement('canvas');
  source.drawSmall(canvas, mark.from, { width: 340, height: 300 });
  return { picture: canvas.toDataURL('image/png') };
}

function Entry({ mark }: { mark: SheetMark }) {
  return (
    <li className="grid break-inside-avoid grid-cols-[4rem_1fr_11rem] gap-x-4 border-b border-edge-strong py-3 text-sm">
      <span className="frame-number text-right text-lg font-medium">{mark.frames}</span>
      <div>
        <p className="flex items-center gap-2 text-xs text-graphite">
          <span className="text-instructor">
            <KindSign kind={mark.kind as Mark['kind']} />
          </span>
          {mark.kind}, {mark.about}; {mark.state}
        </p>
        <p className="mt-0.5 whitespace-pre-wrap">{mark.words}</p>
        {mark.now && (
          <dl className="mt-1 grid grid-cols-[4rem_1fr] text-xs">
            <dt className="text-graphite">now</dt>
            <dd>{mark.now}</dd>
            {mark.wanted && (
              <>
                <dt className="text-graphite">wanted</dt>
                <dd className="text-instructor">{mark.wanted}</dd>
              </>
            )}
          </dl>
        )}
        {mark.chart && (
          <div className="mt-1 max-w-72">
            <TimingChart {...mark.chart} />
          </div>
        )}
        {mark.replies.map((reply) => (
          <p key={reply} className="mt-1 border-l-2 border-student pl-2 text-xs">
            {reply}
          </p>
        ))}
      </div>
      {mark.drawing ? (
        <Figure drawing={mark.drawing} />
      ) : mark.picture ? (
        <img src={mark.picture} alt={`Frame ${mark.frames}`} />
      ) : (
        <span />
      )}
    </li>
  );
}

const INKS: Readonly<Record<StrokeOf, string>> = {
  left: 'var(--left)',
  right: 'var(--right)',
  centre: 'var(--ink)',
  ghost: 'var(--edge-strong)',
  path: 'var(--graphite)',
  wanted: 'var(--instructor-line)',
};

function Figure({ drawing: { width, height, strokes, dots, frame } }: { drawing: Drawing }) {
  const line = (points: readonly number[]): string =>
    points.reduce((path, value, k) => path + (k === 0 ? 'M' : k % 2 === 0 ? ' L' : ',') + value.toFixed(1), '');
  return (
    <svg
      role="img"
      aria-label={`Frame ${frame}`}
      viewBox={`0 0 ${width} ${height}`}
      className="w-full"
      fill="none"
      strokeLinecap="round"
      strokeLinejoin="round"
    >
      {strokes.map(({ of, points }, k) => (
        <path
          key={k}
          d={line(points)}
          stroke={INKS[of]}
          strokeWidth={of === 'path' ? 0.8 : of === 'wanted' ? 1.6 : 2.4}
          strokeDasharray={of === 'right' ? '4 2.5' : of === 'wanted' ? '5 3' : undefined}
        />
      ))}
      {dots.map(({ of, x, y, r }, k) => (
        <circle key={k} cx={x} cy={y} r={r} fill={INKS[of]} />
      ))}
    </svg>
  );
}
