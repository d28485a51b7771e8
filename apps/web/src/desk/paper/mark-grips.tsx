import { useLayoutEffect, useRef } from 'react';
import type { Listeners } from '../../kit/listeners.ts';
import { useDesk } from '../desk-store.ts';
import { useClockValue } from '../frames/frame-clock.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { Draft } from '../margin/draft.ts';
import { lineGrips, pulledLine, wayOfLines } from '../marks/line-grips.ts';
import type { Grip } from '../marks/kinds/mark-kind-view.ts';
import { gripsOf } from '../marks/kinds/registry.tsx';
import { useWriting } from '../writing.ts';
import type { Payload } from '@ypsigraph/contract/marks';
import type { PaperScene } from './paper-scene.ts';

interface Props {
  readonly scene: React.RefObject<PaperScene | undefined>;
  readonly source: FrameSource;
  /** Told whenever the paper was drawn: the grips stay where they belong. */
  readonly drawn: Listeners;
}

/** Pixels, or steps, an arrow key moves a grip by, and with shift. */
const [STEP, FAR] = [2, 10];
const [TURN, TURN_FAR] = [1, 5];

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** What a mark wants, pulled. */
const gripsOfPayload = (draft: Draft, source: FrameSource, sample: number): Grip<Draft>[] =>
  gripsOf(draft.payload, { source, sample, from: draft.from, to: draft.to }).map(({ pull, turn, ...grip }) => {
    const withPayload = (payload: Payload | undefined): Draft | undefined => payload && { ...draft, payload };
    return {
      ...grip,
      pull: (place) => withPayload(pull(place)),
      ...(turn && { turn: (steps: number) => withPayload(turn(steps)) }),
    };
  });

/** Its pencil lines, by their ends and their middle. */
const gripsOfLines = (draft: Draft, source: FrameSource, sample: number): Grip<Draft>[] =>
  lineGrips(draft.lines).map(({ line, end, at }) => {
    const by = draft.lines[line]!.sticks === 'point' ? wayOfLines(source, draft, sample) : [0, 0, 0];
    return {
      id: `line ${line} ${end}`,
      label: `The ${end} of line ${line + 1}`,
      place: [at[0] + by[0], at[1] + by[1], at[2] + by[2]],
      small: true,
      pull: (to) => {
        const gone = [0, 1, 2].map((c) => to[c]! - at[c]! - by[c]!) as [number, number, number];
        return { ...draft, lines: draft.lines.with(line, pulledLine(draft.lines[line]!, end, gone)) };
      },
    };
  });

/** The places by which what a mark wants, and what was drawn for it, is pulled: dragged in the plane of the paper, or moved by the arrow keys. */
export function MarkGrips({ scene, source, drawn }: Props) {
  const { draft, setDraft } = useWriting();
  const label = useClockValue(({ frame }) => Math.round(frame));
  const box = useRef<HTMLDivElement>(null);
  const pencil = useDesk((state) => state.pencil);
  const sample = source.sampleAt(label);
  // With the pencil in the hand a line is begun where a grip would lie.
  const grips = draft
    ? [...gripsOfPayload(draft, source, sample), ...(pencil ? [] : gripsOfLines(draft, source, sample))]
    : [];

  useLayoutEffect(() => {
    const at = { x: 0, y: 0, depth: 0 };
    const place = (): void => {
      const paper = scene.current;
      if (!paper || !box.current) return;
      [...box.current.children].forEach((own, k) => {
        const grip = grips[k];
        if (!grip) return;
        paper.projectWorld(paper.shown, ...grip.place, at);
        (own as HTMLElement).style.transform = `translate(${at.x}px, ${at.y}px) translate(-50%, -50%)`;
      });
    };
    place();
    return drawn.subscribe(place);
  });

  if (!draft || grips.length === 0) return null;
  const want = (next: Draft | undefined): void => {
    if (next) setDraft(next);
  };
  /** Moves a grip to where a place of the paper lies, as deep as it is. */
  const pull = (grip: Grip<Draft>, to: (at: { x: number; y: number }) => readonly [number, number]): void => {
    const paper = scene.current;
    if (!paper) return;
    const at = paper.projectWorld(paper.shown, ...grip.place, { x: 0, y: 0, depth: 0 });
    want(grip.pull(paper.placeUnder(...to(at), at.depth)));
  };
  return (
    <div ref={box} data-testid="grips" className="pointer-events-none absolute inset-0 overflow-hidden">
      {grips.map((grip) => (
        <button
          key={grip.id}
          type="button"
          aria-label={grip.label}
          title={grip.label}
          className="pointer-events-auto absolute top-0 left-0 grid size-6 cursor-move touch-none place-items-center rounded-full"
          onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
          onPointerMove={(event) => {
            if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
            const { left, top } = box.current!.getBoundingClientRect();
            pull(grip, () => [event.clientX - left, event.clientY - top]);
          }}
          onKeyDown={(event) => {
            const by = ARROWS[event.key];
            if (!by) return;
            event.preventDefault();
            event.stopPropagation();
            if (grip.turn) return want(grip.turn((by[0] - by[1]) * (event.shiftKey ? TURN_FAR : TURN)));
            const step = event.shiftKey ? FAR : STEP;
            pull(grip, ({ x, y }) => [x + step * by[0], y + step * by[1]]);
          }}
        >
          <span
            className={`rounded-full border-2 border-instructor-line bg-sheet ${grip.small ? 'size-2' : 'size-3.5'}`}
          />
        </button>
      ))}
    </div>
  );
}
