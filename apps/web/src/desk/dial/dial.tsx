import { SEAM } from '@ypsigraph/core/measure/cycle/cycle';
import { CONTACT } from '@ypsigraph/core/measure/gait/gait-timing';
import { arc } from 'd3-shape';
import { useEffect, useMemo, useRef } from 'react';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { figures } from '@ypsigraph/core/say/words';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { LaneSubject } from '../lanes/lane.ts';

const SIZE = 164;
const MOST_PIECES = 180;
const HALF = SIZE / 2;
/** Radii of the rings, from outside: frames, marks, left foot, right foot, activity. */
const RINGS = { frames: 76, marks: 67, left: 60, right: 53, activity: [24, 48] } as const;

/** Frames of a loop, from one time round to the next. */
const periodOf = ({ loop, frames }: FrameSource): number => (loop === 'repeat' ? frames - 1 : frames);

/** A piece of a ring from one label to another, both frames whole. */
function piece(source: FrameSource, from: number, to: number, inner: number, outer: number): string {
  const turn = (2 * Math.PI) / periodOf(source);
  const start = (from - source.first - 0.5) * turn;
  return (
    arc()({
      innerRadius: inner,
      outerRadius: outer,
      startAngle: start,
      endAngle: start + Math.min(periodOf(source), to - from + 1) * turn,
    }) ?? ''
  );
}

/** The frame axis bent into a ring: no seam to hide, and each frame faces the one half a cycle away. Drag on it to scrub. */
export function Dial({ subject }: { subject: LaneSubject }) {
  const { marks } = subject;
  const { source, report } = subject;
  const clock = useClock();
  const hand = useRef<SVGGElement>(null);
  const told = useRef<SVGTextElement>(null);
  const box = useRef<SVGSVGElement>(null);
  const pair = useDesk(({ lenses }) => lenses.has('mirror'));
  const lit = useDesk((state) => state.lit);
  const period = periodOf(source);
  const degrees = 360 / period;

  useEffect(() => {
    const move = (): void => {
      const { frame } = clock.get();
      const at = (((frame - source.first) % period) + period) % period;
      hand.current!.setAttribute('transform', `rotate(${at * degrees})`);
      told.current!.textContent = String(frame);
    };
    move();
    return clock.subscribe(move);
  }, [clock, source, period, degrees]);

  const readings = (report?.readings ?? []) as readonly Reading[];
  const stands = CONTACT.among(readings).map(({ part, detail }) => ({ part, ...detail }));
  const seam = SEAM.among(readings)[0]?.value;
  // A ring has room for so many pieces, however long the loop is.
  const every = Math.ceil(period / MOST_PIECES);
  const heat = useMemo(() => heatOf(source, period, every), [source, period, every]);
  const poses = source.keyPoses().filter(({ label }) => label < source.first + period);

  const scrub = (event: React.PointerEvent): void => {
    const bounds = box.current!.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left - bounds.width / 2, event.clientY - bounds.top - bounds.height / 2];
    const turn = (Math.atan2(x, -y) / (2 * Math.PI) + 1) % 1;
    clock.seek(source.first + (Math.round(turn * period) % period));
  };
  return (
    <figure className="absolute top-2 right-2 m-0 rounded-md bg-sheet/85 max-md:hidden" data-testid="dial">
      <svg
        ref={box}
        viewBox={`${-HALF} ${-HALF} ${SIZE} ${SIZE}`}
        // On a narrow paper it is small, and hides little of the figure.
        className="size-[164px] cursor-pointer touch-none @max-lg:size-[104px]"
        role="img"
        aria-label={`The cycle as a ring of ${period} frames`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          scrub(event);
        }}
        onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && scrub(event)}
      >
        {heat.map((value, k) => (
          <path
            key={k}
            d={piece(
              source,
              source.first + k * every,
              source.first + (k + 1) * every - 1,
              RINGS.activity[0],
              RINGS.activity[0] + value * (RINGS.activity[1] - RINGS.activity[0]),
            )}
            fill="var(--ink)"
            opacity={0.55}
          />
        ))}
        <circle r={RINGS.activity[0]} fill="none" stroke="var(--edge-strong)" />
        {stands.map(({ part, from, to }) => (
          <path
            key={`${part} ${from}`}
            d={piece(
              source,
              from,
              to,
              part === 'leg.L' ? RINGS.left - 5 : RINGS.right - 5,
              part === 'leg.L' ? RINGS.left : RINGS.right,
            )}
            fill={part === 'leg.L' ? 'var(--left)' : 'none'}
            stroke={part === 'leg.L' ? 'none' : 'var(--right)'}
            strokeDasharray={part === 'leg.L' ? undefined : '3 1.5'}
            strokeWidth={1.5}
          >
            <title>{`${part === 'leg.L' ? 'left' : 'right'} foot stands`}</title>
          </path>
        ))}
        {marks.map((mark) => (
          <path
            key={mark.id}
            d={piece(source, mark.from, mark.to, RINGS.marks - 3, RINGS.marks)}
            fill="var(--instructor-line)"
            opacity={lit === null || lit === mark.id ? 1 : 0.35}
          >
            <title>{mark.words}</title>
          </path>
        ))}
        <circle r={RINGS.frames - 5} fill="none" stroke="var(--edge-strong)" />
        {Array.from({ length: Math.ceil(period / every) }, (_, k) => k * every).map((k) => (
          <line
            key={k}
            y1={-RINGS.frames + 5}
            y2={-RINGS.frames + (poses.some(({ label }) => label === source.first + k) ? -1 : 2)}
            stroke="var(--ink)"
            strokeWidth={poses.some(({ label }) => label === source.first + k) ? 1.75 : 0.5}
            transform={`rotate(${k * degrees})`}
          />
        ))}
        {seam !== undefined && (
          <g transform={`rotate(${-degrees / 2})`}>
            <path d={`M-3 ${-RINGS.frames - 1}L3 ${-RINGS.frames - 1}L0 ${-RINGS.frames + 6}Z`} fill="var(--ink)" />
            <title>{`seam: over it the pose steps ${figures(Number(seam))} times as far as beside it`}</title>
          </g>
        )}
        <g ref={hand}>
          {/* Through the middle to the frame it faces. */}
          <line y1={-RINGS.frames + 2} y2={-14} stroke="var(--ink)" strokeWidth={1.75} />
          <line y1={14} y2={RINGS.frames - 2} stroke="var(--ink)" strokeWidth={1} strokeDasharray="2 3" />
          <circle cy={-RINGS.frames + 2} r={3.5} fill="var(--ink)" />
        </g>
        <text
          ref={told}
          textAnchor="middle"
          dominantBaseline="central"
          className="frame-number"
          fontSize={13}
          fill="var(--ink)"
        />
      </svg>
      <figcaption className="flex @max-lg:hidden items-center justify-between gap-3 px-1 whitespace-nowrap pb-1 text-2xs text-graphite">
        <span title="How far the pose steps over the seam, against the steps beside it: 1 is clean">
          seam {seam === undefined ? '–' : figures(Number(seam), 2)}
        </span>
        <button
          type="button"
          aria-pressed={pair}
          className={`rounded-sm border px-1 ${pair ? 'border-ink bg-wash text-ink' : 'border-edge-strong hover:bg-wash'}`}
          onClick={() => useDesk.getState().toggleLens('mirror')}
        >
          hold the mirrored pair
        </button>
      </figcaption>
    </figure>
  );
}

/** How much everything moves from each frame to the next, as a share of the most; the most of several frames where they share a piece. */
function heatOf(source: FrameSource, period: number, every: number): number[] {
  const rows = source.parts.map((part) => source.activity(part));
  const sums = Array.from({ length: Math.ceil(period / every) }, (_, piece) => {
    let most = 0;
    for (let k = piece * every; k < Math.min(period, (piece + 1) * every); k++)
      most = Math.max(
        most,
        Math.sqrt(rows.reduce((sum, row) => sum + (row[Math.min(row.length - 1, k)] ?? 0) ** 2, 0)),
      );
    return most;
  });
  const most = Math.max(...sums, 1e-9);
  return sums.map((value) => value / most);
}
