import { max } from 'd3-array';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Mark } from '@ypsigraph/contract/shots';
import { jointIndex } from '@ypsigraph/core/motion/motion';
import { frameScale, rulerLabels } from '../../charts/frame-scale.ts';
import { stepTrace } from '../../charts/trace.ts';
import { useDesk } from '../desk-store.ts';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import type { MotionSource } from '../frames/motion-source.ts';
import { KIND_SIGNS } from '../margin/kinds.tsx';

const RULER = 22;
const MARKS = 20;
const TRACE = 64;
const GUTTER = 76;

interface Props {
  readonly source: MotionSource;
  /** The revision beside it, whose trace is drawn too. */
  readonly other?: MotionSource | undefined;
  readonly marks: readonly Mark[];
  readonly onRange: (from: number, to: number) => void;
}

/** The frame axis under the paper: ruler, marks, and how fast the chosen joint goes. Drag to scrub; shift-drag chooses a range. */
export function Strip({ source, other, marks, onRange }: Props) {
  const clock = useClock();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  const first = useClockValue((state) => state.first);
  const last = useClockValue((state) => state.last);
  const lastPlayed = useClockValue((state) => state.lastPlayed);
  const [range, setRange] = useState<[number, number]>();
  const joint = useDesk((state) => state.joint);
  const lit = useDesk((state) => state.lit);

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(Math.max(120, entry!.contentRect.width - GUTTER - 8)));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);

  const x = useMemo(() => frameScale(first, last, width), [first, last, width]);
  const perFrame = x(first + 1) - x(first);
  const height = RULER + MARKS + TRACE;

  const hand = useScrub(x.invert, (label) => clock.seek(label), setRange, onRange);

  return (
    <div ref={box} className="flex border-t border-edge bg-sheet select-none" data-testid="strip">
      <Gutter joint={joint} />
      <svg
        width={width}
        height={height}
        className="touch-none"
        role="slider"
        tabIndex={0}
        aria-label="Frame"
        aria-valuemin={first}
        aria-valuemax={last}
        aria-valuenow={useClockValue((state) => state.frame)}
        {...hand}
      >
        <rect width={width} height={height} fill="transparent" />
        {lastPlayed < last && (
          <g>
            <rect x={x(last) - perFrame / 2} width={perFrame} height={height} fill="var(--wash)" />
            <title>This frame repeats the first; it is not played.</title>
          </g>
        )}
        <Ruler
          labels={rulerLabels(first, last, width)}
          first={first}
          last={last}
          x={x}
          perFrame={perFrame}
          width={width}
        />
        {range && (
          <rect
            x={x(Math.min(...range)) - perFrame / 2}
            width={(Math.abs(range[1] - range[0]) + 1) * perFrame}
            height={height}
            fill="var(--ink)"
            opacity={0.1}
          />
        )}
        <g transform={`translate(0 ${RULER})`}>
          {marks.map((mark) => (
            <MarkSign
              key={mark.id}
              mark={mark}
              x={x}
              perFrame={perFrame}
              lit={lit === mark.id}
              height={TRACE + MARKS}
            />
          ))}
        </g>
        <g transform={`translate(0 ${RULER + MARKS})`}>
          <line x2={width} y1={0.5} y2={0.5} stroke="var(--edge)" />
          {joint !== null && <SpeedTraces source={source} other={other} joint={joint} x={x} />}
        </g>
        <Playhead x={x} perFrame={perFrame} width={width} height={height} />
      </svg>
    </div>
  );
}

function Gutter({ joint }: { joint: string | null }) {
  return (
    <div
      className="shrink-0 border-r border-edge pr-2 text-right text-2xs text-graphite"
      style={{ width: GUTTER }}
      aria-hidden
    >
      <div style={{ height: RULER, lineHeight: `${RULER}px` }}>frame</div>
      <div style={{ height: MARKS, lineHeight: `${MARKS}px` }}>marks</div>
      <div className="pt-1 leading-tight" style={{ height: TRACE }}>
        {joint === null ? 'no joint chosen' : <span className="break-words">speed of {joint}, %L a frame</span>}
      </div>
    </div>
  );
}

interface RulerProps {
  readonly labels: readonly number[];
  readonly first: number;
  readonly last: number;
  readonly x: (label: number) => number;
  readonly perFrame: number;
  readonly width: number;
}

function Ruler({ labels, first, last, x, perFrame, width }: RulerProps) {
  const every = perFrame >= 4 ? 1 : 0;
  return (
    <g className="frame-number" fontSize={10.5} fill="var(--graphite)" textAnchor="middle">
      <line x2={width} y1={RULER - 0.5} y2={RULER - 0.5} stroke="var(--edge-strong)" />
      {every > 0 &&
        Array.from({ length: last - first + 1 }, (_, k) => (
          <line key={k} x1={x(first + k)} x2={x(first + k)} y1={RULER - 4} y2={RULER} stroke="var(--edge-strong)" />
        ))}
      {labels.map((label) => (
        <text key={label} x={x(label)} y={RULER - 8}>
          {label}
        </text>
      ))}
    </g>
  );
}

interface PlayheadProps {
  readonly x: (label: number) => number;
  readonly perFrame: number;
  readonly width: number;
  readonly height: number;
}

function Playhead({ x, perFrame, width, height }: PlayheadProps) {
  const frame = useClockValue((state) => state.frame);
  const at = x(frame);
  // The label stays on the strip at its ends.
  const label = Math.min(width - 16, Math.max(16, at));
  return (
    <g pointerEvents="none">
      <rect x={at - perFrame / 2} width={perFrame} y={RULER} height={height - RULER} fill="var(--ink)" opacity={0.07} />
      <line x1={at} x2={at} y1={RULER - 5} y2={height} stroke="var(--ink)" strokeWidth={1.25} />
      <rect x={label - 16} width={32} height={16} rx={2} fill="var(--ink)" />
      <text
        x={label}
        y={12}
        textAnchor="middle"
        fontSize={11}
        className="frame-number"
        fontWeight={500}
        fill="var(--sheet)"
      >
        {frame}
      </text>
    </g>
  );
}

function MarkSign({
  mark,
  x,
  perFrame,
  lit,
  height,
}: {
  mark: Mark;
  x: (label: number) => number;
  perFrame: number;
  lit: boolean;
  height: number;
}) {
  const clock = useClock();
  const left = x(mark.from) - perFrame / 2;
  const width = Math.max(perFrame, x(mark.to) - x(mark.from) + perFrame);
  const done = mark.state === 'cleared' || mark.state === 'waived';
  return (
    <g
      opacity={done ? 0.45 : 1}
      onPointerEnter={() => useDesk.getState().set({ lit: mark.id })}
      onPointerLeave={() => useDesk.getState().set({ lit: null })}
      onClick={() => clock.seek(mark.from)}
      className="cursor-pointer"
    >
      <title>{`${mark.kind}, ${mark.from === mark.to ? `frame ${mark.from}` : `frames ${mark.from} to ${mark.to}`}`}</title>
      {lit && <rect x={left} width={width} height={height} fill="var(--instructor-line)" opacity={0.12} />}
      <rect x={left + 1} y={MARKS - 5} width={width - 2} height={3} rx={1.5} fill="var(--instructor-line)" />
      <g transform={`translate(${Math.min(left + width / 2, left + 8)} 7)`} color="var(--instructor-line)">
        {KIND_SIGNS[mark.kind]}
      </g>
    </g>
  );
}

interface TracesProps {
  readonly source: MotionSource;
  readonly other: MotionSource | undefined;
  readonly joint: string;
  readonly x: (label: number) => number;
}

/** Speeds of the chosen joint, of both revisions on one scale: the one on the desk drawn full, the one beside it dashed. */
function SpeedTraces({ source, other, joint, x }: TracesProps) {
  const traces = useMemo(() => {
    const speeds = [source, other].map((s) => {
      const index = s ? jointIndex(s.shot.motion, joint) : -1;
      return index < 0 ? undefined : s!.speeds(index);
    });
    const largest = Math.max(...speeds.map((values) => (values ? (max(values) ?? 0) : 0)));
    return speeds.map(
      (values, k) => values && stepTrace(values, (k === 0 ? source : other!).first, x, [8, TRACE - 3], largest),
    );
  }, [source, other, joint, x]);
  const [own, beside] = traces;
  return (
    <g fill="none" stroke="var(--ink)">
      {beside && <path data-testid="trace-beside" d={beside.line} strokeDasharray="3 3" opacity={0.75} />}
      {own && (
        <g data-testid="trace">
          <path d={own.area} fill="var(--ink)" stroke="none" opacity={0.07} />
          <path d={own.line} strokeWidth={1.25} />
          {own.y.ticks(2).map((value) => (
            <text
              key={value}
              x={3}
              y={own.y(value) - 2}
              fontSize={9.5}
              className="frame-number"
              fill="var(--graphite)"
              stroke="none"
            >
              {value}
            </text>
          ))}
        </g>
      )}
    </g>
  );
}

/** Scrubbing with the pointer: the frame under it is shown while it is pressed; with shift a range is chosen instead. */
function useScrub(
  toLabel: (x: number) => number,
  seek: (label: number) => void,
  setRange: (range: [number, number] | undefined) => void,
  onRange: (from: number, to: number) => void,
) {
  const pressed = useRef<{ from: number; range: boolean }>(undefined);
  useEffect(() => () => void (pressed.current = undefined), []);
  const labelOf = (event: React.PointerEvent<SVGSVGElement>): number =>
    Math.round(toLabel(event.clientX - event.currentTarget.getBoundingClientRect().left));
  return {
    onPointerDown: (event: React.PointerEvent<SVGSVGElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      const label = labelOf(event);
      pressed.current = { from: label, range: event.shiftKey };
      if (event.shiftKey) setRange([label, label]);
      else seek(label);
    },
    onPointerMove: (event: React.PointerEvent<SVGSVGElement>) => {
      if (!pressed.current) return;
      if (pressed.current.range) setRange([pressed.current.from, labelOf(event)]);
      else seek(labelOf(event));
    },
    onPointerUp: (event: React.PointerEvent<SVGSVGElement>) => {
      const at = pressed.current;
      pressed.current = undefined;
      if (!at?.range) return;
      const label = labelOf(event);
      setRange(undefined);
      onRange(Math.min(at.from, label), Math.max(at.from, label));
    },
  };
}
