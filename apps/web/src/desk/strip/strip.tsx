import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { frameScale, rulerLabels } from '../../charts/frame-scale.ts';
import { useTheme } from '../../kit/theme.ts';
import { useDesk } from '../desk-store.ts';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import { LANES } from '../lanes/registry.ts';
import { hasWhat } from '../lenses/lens.ts';
import { readInks } from '../paper/overlay.ts';
import { useWriting } from '../writing.ts';
import { cureHeight, CureSpans, useCureSpans } from './cure-spans.tsx';
import { MarksLane, marksHeight } from './marks-lane.tsx';
import type { LaneSpot, LaneSubject } from '../lanes/lane.ts';
import { withEvent } from '../marks/delay-events.ts';
import { Names, type PlacedLane } from './names.tsx';
import { Overview } from './overview.tsx';
import { Playhead } from './playhead.tsx';
import { Ruler, RULER } from './ruler.tsx';
import { useScrub } from './use-scrub.ts';
import { useZoom } from './use-zoom.ts';

const GUTTER = 92;

interface Props {
  readonly subject: LaneSubject;
  /** Kind of exercise: folded lanes are remembered by it. */
  readonly kind: string;
  readonly onRange: (from: number, to: number) => void;
}

const FOLDED = 6;

/** The frame axis under the paper, with its lanes. Drag to scrub, shift-drag for a range, the wheel brings frames nearer. */
export function Strip({ subject, kind, onRange }: Props) {
  const clock = useClock();
  const { marks } = subject;
  const { draft, setDraft } = useWriting();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  const first = useClockValue((state) => state.first);
  const last = useClockValue((state) => state.last);
  const lastPlayed = useClockValue((state) => state.lastPlayed);
  const window = useDesk((state) => state.window);
  const [from, to] = window ?? [first, last];
  const [range, setRange] = useState<[number, number]>();

  useLayoutEffect(() => {
    const fit = (pixels: number): void => setWidth(Math.max(120, pixels));
    // Known before anything is painted, so that nothing is seen at another width first.
    fit(box.current!.clientWidth);
    const observer = new ResizeObserver(([entry]) => fit(entry!.contentRect.width));
    observer.observe(box.current!);
    return () => observer.disconnect();
  }, []);

  const x = useMemo(() => frameScale(from, to, width), [from, to, width]);
  const perFrame = x(from + 1) - x(from);
  const lanes = useLanes(subject, kind);
  const cures = useCureSpans();
  const markRows = marksHeight(marks, draft);
  const cureRows = cureHeight(cures);
  const lanesTop = RULER + markRows + cureRows;
  const height = lanesTop + (lanes.length > 0 ? lanes.at(-1)!.top + lanes.at(-1)!.height : 0);

  const hand = useScrub(
    (px) => x.invert(px),
    (label) => clock.seek(label),
    setRange,
    onRange,
  );
  const zoom = useZoom({ box, first, last, from, to, x });
  const [spot, setSpot] = useState<LaneSpot>();
  const spotAt = (event: React.PointerEvent): LaneSpot | undefined => {
    const bounds = box.current!.getBoundingClientRect();
    const y = event.clientY - bounds.top + box.current!.scrollTop - lanesTop;
    const placed = lanes.find((own) => !own.folded && y >= own.top && y < own.top + own.height);
    return placed?.lane.spot?.(placed.prepared, Math.round(x.invert(event.clientX - bounds.left)), y - placed.top);
  };

  return (
    <div
      className="flex max-h-[38vh] overflow-x-hidden overflow-y-auto border-t border-edge bg-sheet select-none"
      data-testid="strip"
    >
      <Names lanes={lanes} source={subject.source} kind={kind} markRows={markRows} cureRows={cureRows} width={GUTTER} />
      <div className="relative min-w-0 flex-1" ref={box} style={{ height }}>
        <div
          role="slider"
          tabIndex={0}
          aria-label="Frame"
          aria-valuemin={first}
          aria-valuemax={last}
          aria-valuenow={first}
          title={spot?.text ?? ''}
          className="absolute inset-0 touch-none"
          {...hand}
          onPointerMove={(event) => {
            hand.onPointerMove(event);
            if (event.buttons === 0) setSpot(spotAt(event));
          }}
          onClick={(event) => {
            const at = draft?.kind === 'delay' ? spotAt(event as unknown as React.PointerEvent)?.event : undefined;
            if (draft && at) setDraft(withEvent(draft, at));
          }}
          onDoubleClick={(event) => {
            const at = spotAt(event as unknown as React.PointerEvent);
            if (at?.part) useDesk.getState().set({ solo: useDesk.getState().solo === at.part ? null : at.part });
          }}
        >
          {lastPlayed < last && (
            <span
              className="absolute top-0 bottom-0 bg-wash"
              style={{ left: x(last) - perFrame / 2, width: perFrame }}
              title="This frame repeats the first; it is not played."
            />
          )}
          <Ruler
            labels={rulerLabels(Math.ceil(from), Math.floor(to), width)}
            from={from}
            to={to}
            x={x}
            perFrame={perFrame}
            width={width}
          />
          <LaneCanvas
            lanes={lanes}
            top={lanesTop}
            x={x}
            perFrame={perFrame}
            from={from}
            to={to}
            width={width}
            box={box}
          />
          {range && (
            <span
              className="pointer-events-none absolute top-0 bottom-0 bg-ink/10"
              style={{
                left: x(Math.min(...range)) - perFrame / 2,
                width: (Math.abs(range[1] - range[0]) + 1) * perFrame,
              }}
            />
          )}
          <Playhead box={box} x={x} perFrame={perFrame} width={width} />
        </div>
        <CureSpans {...{ spans: cures, x, perFrame, width, first, last }} top={RULER + markRows} />
        <MarksLane marks={marks} x={x} perFrame={perFrame} width={width} top={RULER} height={height} />
        {window && <Overview first={first} last={last} from={from} to={to} onWindow={zoom.show} />}
      </div>
    </div>
  );
}

/** The lanes that the shot has something for, laid under one another. */
function useLanes(subject: LaneSubject, kind: string): readonly PlacedLane[] {
  const point = useDesk((state) => state.point);
  const chosen = useDesk((state) => state.chosen);
  const placing = useDesk((state) => state.placing);
  const placesPoints = useDesk((state) => state.placesPoints) && subject.source.pictures !== undefined;
  const folded = useDesk((state) => state.folded);
  return useMemo(() => {
    const desk = { ...useDesk.getState(), point, chosen, placing, placesPoints };
    const shown = LANES.flatMap((lane) => {
      if (!hasWhat(subject.source, lane.needs) || (placesPoints && !lane.whilePlacing)) return [];
      const prepared: unknown = lane.prepare(subject, desk);
      if (prepared === undefined) return [];
      const isFolded = folded[kind]?.includes(lane.id) ?? false;
      return [{ lane, prepared, height: isFolded ? FOLDED : lane.height(prepared), folded: isFolded }];
    });
    return shown.map((own, k): PlacedLane => {
      const top = shown.slice(0, k).reduce((sum, { height }) => sum + height + 1, 0);
      return { ...own, top };
    });
  }, [subject, kind, point, chosen, placing, placesPoints, folded]);
}

interface CanvasProps {
  readonly lanes: readonly PlacedLane[];
  readonly top: number;
  readonly x: (label: number) => number;
  readonly perFrame: number;
  readonly from: number;
  readonly to: number;
  readonly width: number;
  readonly box: React.RefObject<HTMLDivElement | null>;
}

/** All lanes on one canvas: drawn when what they show changes, never because a frame goes by. */
function LaneCanvas({ lanes, top, x, perFrame, from, to, width, box }: CanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme();
  const solo = useDesk((state) => state.solo);
  const lit = useDesk((state) => state.lit);
  const picked = useDesk((state) => state.picked);
  const height = lanes.length > 0 ? lanes.at(-1)!.top + lanes.at(-1)!.height : 0;
  useEffect(() => {
    const ratio = Math.min(2, devicePixelRatio);
    const own = canvas.current!;
    own.width = Math.round(width * ratio);
    own.height = Math.round(height * ratio);
    const inks = readInks(box.current!);
    const context = own.getContext('2d');
    if (!context) return;
    const draw = (): void => {
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.clearRect(0, 0, width, height);
      const desk = useDesk.getState();
      for (const placed of lanes) {
        context.save();
        context.translate(0, placed.top);
        context.strokeStyle = inks.wash;
        context.lineWidth = 1;
        context.beginPath();
        context.moveTo(0, 0.5);
        context.lineTo(width, 0.5);
        context.stroke();
        context.beginPath();
        context.rect(0, 0, width, placed.height);
        context.clip();
        if (placed.folded) {
          context.fillStyle = inks.wash;
          context.fillRect(0, 2, width, placed.height - 3);
        } else
          placed.lane.draw(
            { context, x, perFrame, from, to, width, height: placed.height, inks, desk },
            placed.prepared,
          );
        context.restore();
      }
    };
    draw();
    void document.fonts.ready.then(draw);
  }, [lanes, height, width, x, perFrame, from, to, theme, solo, lit, picked, box]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`Lanes: ${lanes.map(({ lane }) => lane.name).join(', ')}`}
      data-testid="lanes"
      data-lanes={lanes.map(({ lane }) => lane.id).join(' ')}
      className="pointer-events-none absolute left-0"
      style={{ top, width, height }}
    />
  );
}
