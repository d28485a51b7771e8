import { useRef } from 'react';
import type { Mark } from '@ypsigraph/contract/marks';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { stacked } from '../lanes/lane.ts';
import type { Draft } from '../margin/draft.ts';
import { useWriting } from '../writing.ts';
import { kindSign, wantedFrames } from '../marks/kinds/registry.tsx';
import type { OnStrip } from './on-strip.ts';

const ROW = 17;

/** Rows that marks, and the one being written, take so that none hides another. */
export const marksHeight = (marks: readonly Mark[], draft: Draft | undefined): number =>
  ROW * Math.max(1, ...stacked(draft ? [...marks, draft] : marks).map(({ row }) => row + 1)) + 3;

interface Props extends OnStrip {
  readonly marks: readonly Mark[];
  /** Of the whole strip: a mark that is lit lights its frames on every lane. */
  readonly height: number;
}

/** Marks on the frame axis, in rows of their own; the one being written can be dragged by its ends. */
export function MarksLane({ marks, x, perFrame, width, top, height }: Props) {
  const { draft, setDraft } = useWriting();
  const lit = useDesk((state) => state.lit);
  const rows = stacked<Mark | Draft>(draft ? [...marks, draft] : marks);
  return (
    <svg
      width={width}
      height={height - top}
      className="pointer-events-none absolute left-0"
      style={{ top }}
      data-testid="marks-lane"
    >
      {rows.map(({ span, row }) =>
        'id' in span ? (
          <MarkSign
            key={span.id}
            mark={span}
            x={x}
            perFrame={perFrame}
            y={row * ROW}
            lit={lit === span.id}
            height={height - top}
          />
        ) : (
          <DraftSign key="draft" draft={span} setDraft={setDraft} x={x} perFrame={perFrame} y={row * ROW} />
        ),
      )}
    </svg>
  );
}

interface SignProps {
  readonly mark: Mark;
  readonly x: (label: number) => number;
  readonly perFrame: number;
  readonly y: number;
  readonly lit: boolean;
  readonly height: number;
}

function MarkSign({ mark, x, perFrame, y, lit, height }: SignProps) {
  const clock = useClock();
  const left = x(mark.from) - perFrame / 2;
  const width = Math.max(perFrame, x(mark.to) - x(mark.from) + perFrame);
  const done = mark.state === 'cleared' || mark.state === 'waived';
  const wanted = wantedFrames(mark.payload)?.now;
  return (
    <g
      opacity={done ? 0.45 : 1}
      onPointerEnter={() => useDesk.getState().set({ lit: mark.id })}
      onPointerLeave={() => useDesk.getState().set({ lit: null })}
      onClick={() => clock.seek(mark.from)}
      className="pointer-events-auto cursor-pointer"
      data-testid="strip-mark"
    >
      <title>{`${mark.kind}, ${mark.from === mark.to ? `frame ${mark.from}` : `frames ${mark.from} to ${mark.to}`}: ${mark.words}`}</title>
      {lit && (
        <rect
          x={left}
          width={width}
          height={height}
          fill="var(--instructor-line)"
          opacity={0.12}
          pointerEvents="none"
        />
      )}
      <rect x={left} y={y} width={Math.max(width, 14)} height={ROW} fill="transparent" />
      <rect
        x={left + 1}
        y={y + ROW - 4}
        width={Math.max(2, width - 2)}
        height={3}
        rx={1.5}
        fill="var(--instructor-line)"
      />
      {/* Both ends stand up, so that two marks end to end are two. */}
      <path
        d={`M${left + 1.5} ${y + ROW - 7}V${y + ROW - 1}M${left + width - 1.5} ${y + ROW - 7}V${y + ROW - 1}`}
        stroke="var(--instructor-line)"
        strokeWidth={1.5}
      />
      {wanted && (
        <rect
          x={x(wanted.from) - perFrame / 2 + 1}
          y={y + 2.5}
          width={Math.max(2, x(wanted.to) - x(wanted.from) + perFrame - 2)}
          height={4}
          fill="none"
          stroke="var(--instructor-line)"
          strokeDasharray="3 2"
        />
      )}
      <g transform={`translate(${Math.max(7, left + 8)} ${y + 6})`} color="var(--instructor-line)">
        {kindSign(mark.kind)}
      </g>
    </g>
  );
}

interface DraftProps {
  readonly draft: Draft;
  readonly setDraft: (draft: Draft) => void;
  readonly x: { (label: number): number; invert(px: number): number };
  readonly perFrame: number;
  readonly y: number;
}

/** The mark that is being written: its frames, and where its kind has any those that are wanted, dragged by their ends. */
function DraftSign({ draft, setDraft, x, perFrame, y }: DraftProps) {
  const left = x(draft.from) - perFrame / 2;
  const width = Math.max(perFrame, x(draft.to) - x(draft.from) + perFrame);
  const grip = wantedFrames(draft.payload);
  const wanted = grip?.now;
  const setWanted = (change: { from?: number; to?: number }): void => {
    if (!grip || !wanted) return;
    // Of an event both ends are one.
    const next =
      wanted.from === wanted.to && draft.from === draft.to
        ? { from: Object.values(change)[0]!, to: Object.values(change)[0]! }
        : { ...wanted, ...change };
    if (next.from <= next.to) setDraft({ ...draft, payload: grip.to(next) });
  };
  return (
    <g data-testid="strip-draft">
      <rect
        x={left}
        y={y + 1}
        width={width}
        height={ROW - 3}
        fill="var(--instructor-wash)"
        stroke="var(--instructor-line)"
        strokeDasharray="3 2"
      />
      <Grip
        at={left}
        y={y}
        x={x}
        onMove={(label) => label <= draft.to && setDraft({ ...draft, from: label, moved: true })}
      />
      <Grip
        at={left + width}
        y={y}
        x={x}
        onMove={(label) => label >= draft.from && setDraft({ ...draft, to: label, moved: true })}
      />
      {wanted && (
        <>
          <rect
            x={x(wanted.from) - perFrame / 2}
            y={y + ROW - 6}
            width={Math.max(2, x(wanted.to) - x(wanted.from) + perFrame)}
            height={4}
            fill="var(--instructor-line)"
          />
          <Grip at={x(wanted.from) - perFrame / 2} y={y + 4} x={x} onMove={(label) => setWanted({ from: label })} />
          <Grip at={x(wanted.to) + perFrame / 2} y={y + 4} x={x} onMove={(label) => setWanted({ to: label })} />
        </>
      )}
    </g>
  );
}

interface GripProps {
  readonly at: number;
  readonly y: number;
  readonly x: { invert(px: number): number };
  readonly onMove: (label: number) => void;
}

/** An end that can be dragged; the numbers in the margin do the same by keys. */
function Grip({ at, y, x, onMove }: GripProps) {
  const held = useRef(false);
  return (
    <rect
      x={at - 4}
      y={y}
      width={8}
      height={ROW - 1}
      fill="var(--instructor-line)"
      opacity={0.25}
      className="pointer-events-auto cursor-ew-resize"
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        held.current = true;
      }}
      onPointerMove={(event) => {
        if (!held.current) return;
        const left = event.currentTarget.ownerSVGElement!.getBoundingClientRect().left;
        onMove(Math.round(x.invert(event.clientX - left)));
      }}
      onPointerUp={() => (held.current = false)}
    />
  );
}
